import { useSyncExternalStore } from 'react';
import type { NewMark, RoundEvent } from '../api/client';
import { queryClient, refreshClass, sessionQuery } from '../api/queries';
import { MarkOutbox, Outbox, sendEvents, sendMarks, type OutboxState } from './outbox';
import { keepingOf } from './shelf';

const onSignedOut = () => queryClient.setQueryData(sessionQuery.queryKey, null);

/** The one outbox of marks of this page. */
export const outbox = new MarkOutbox({
  send: sendMarks,
  readBack: refreshClass,
  onSignedOut,
  keeping: keepingOf<NewMark>('marks'),
});

/** And that of what happens in rounds. */
export const roundBox = new Outbox<RoundEvent>({
  send: sendEvents,
  readBack: refreshClass,
  onSignedOut,
  keeping: keepingOf<RoundEvent>('events'),
});

/** Both go on at once instead of waiting for the next try. */
export function retryNow(): void {
  outbox.retryNow();
  roundBox.retryNow();
}

/** Both belong to whoever is signed in. */
export async function outboxesOf(owner: string | undefined): Promise<void> {
  await Promise.all([outbox.signedInAs(owner), roundBox.signedInAs(owner)]);
}

window.addEventListener('online', retryNow);
window.addEventListener('beforeunload', (event) => {
  const state = outbox.snapshot();
  // What is kept on the device is sent another time.
  if (!state.kept && state.pending.some((pending) => pending.state !== 'stored')) event.preventDefault();
});

export function useOutbox(): OutboxState {
  return useSyncExternalStore(outbox.subscribe, outbox.snapshot);
}

export function useRoundBox(): OutboxState<RoundEvent> {
  return useSyncExternalStore(roundBox.subscribe, roundBox.snapshot);
}
