import { StrictMode } from 'react';
import { createRoot } from 'react-dom/client';
import { queryClient } from '../api/queries';
import { App } from './App';
import { keepAnswers, restoreAnswers } from '../offline/cachedAnswers';
import { registerWorker } from '../offline/worker';

const root = document.getElementById('root');
registerWorker();
await restoreAnswers(queryClient);
keepAnswers(queryClient);
if (root) {
  createRoot(root).render(
    <StrictMode>
      <App />
    </StrictMode>,
  );
}
