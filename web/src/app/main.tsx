import { StrictMode } from 'react';
import { createRoot } from 'react-dom/client';
import { queryClient } from './api/queries';
import { App } from './app';
import { keepReadings, restoreReadings } from './offline/readings';
import { registerWorker } from './offline/worker';

const root = document.getElementById('root');
registerWorker();
await restoreReadings(queryClient);
keepReadings(queryClient);
if (root) {
  createRoot(root).render(
    <StrictMode>
      <App />
    </StrictMode>,
  );
}
