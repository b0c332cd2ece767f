// First: what it waits for is on its way while the rest is read.
import { opened } from './opened';
import { StrictMode } from 'react';
import { createRoot } from 'react-dom/client';
import { queryClient } from '../api/queries';
import { keepAnswers } from '../offline/cachedAnswers';
// Read before the first page changes the address.
import '../parts/useSimulatedMicrophone';
import { App } from './App';
import { followNewerBuild } from './newerBuild';
import { loadsAhead } from './soon';

const root = document.getElementById('root');
if (import.meta.env.PROD) followNewerBuild(loadsAhead);
await opened;
keepAnswers(queryClient);
if (root) {
  createRoot(root).render(
    <StrictMode>
      <App />
    </StrictMode>,
  );
}
