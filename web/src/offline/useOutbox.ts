import { useSyncExternalStore } from 'react';
import { queryClient, refreshClass, sessionQuery } from '../api/queries';
import { Outbox, sendMarks, type OutboxState } from './outbox';

/** The one outbox of this page. */
export const outbox = new Outbox({
  send: sendMarks,
  readBack: refreshClass,
  onSignedOut: () => queryClient.setQueryData(sessionQuery.queryKey, null),
});

window.addEventListener('online', outbox.retryNow);
window.addEventListener('beforeunload', (event) => {
  if (outbox.snapshot().pending.some((pending) => pending.state !== 'stored')) event.preventDefault();
});

export function useOutbox(): OutboxState {
  return useSyncExternalStore(outbox.subscribe, outbox.snapshot);
}
