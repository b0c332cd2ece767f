import { useSyncExternalStore } from 'react';
import type { NewMark, RoundEvent, TapeEntry } from '../api/client';
import { queryClient, refreshClass, sessionQuery } from '../api/queries';
import { MarkOutbox, Outbox, sendEvents, sendMarks, sendTapes, type OutboxState } from './outbox';
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

/** And that of work on instruments' marks. */
export const tapeBox = new Outbox<TapeEntry>({
  send: sendTapes,
  readBack: refreshClass,
  onSignedOut,
  keeping: keepingOf<TapeEntry>('tapes'),
});

/** All go on at once instead of waiting for the next try. */
export function retryNow(): void {
  outbox.retryNow();
  roundBox.retryNow();
  tapeBox.retryNow();
}

/** All belong to whoever is signed in. */
export async function outboxesOf(owner: string | undefined): Promise<void> {
  await Promise.all([outbox, roundBox, tapeBox].map((box) => box.signedInAs(owner)));
}

window.addEventListener('online', retryNow);
window.addEventListener('beforeunload', (event) => {
  // What is kept on the device is sent another time.
  const lost = [outbox.snapshot(), tapeBox.snapshot()].some(
    ({ kept, pending }) => !kept && pending.some(({ state }) => state !== 'stored'),
  );
  if (lost) event.preventDefault();
});

export function useOutbox(): OutboxState {
  return useSyncExternalStore(outbox.subscribe, outbox.snapshot);
}

export function useRoundBox(): OutboxState<RoundEvent> {
  return useSyncExternalStore(roundBox.subscribe, roundBox.snapshot);
}

export function useTapeBox(): OutboxState<TapeEntry> {
  return useSyncExternalStore(tapeBox.subscribe, tapeBox.snapshot);
}
