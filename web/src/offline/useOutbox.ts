import { useSyncExternalStore } from 'react';
import type { FamilyAnswer, NewObservation, RoundEvent, NewTapeEntry } from '../api/client';
import { askWhoIsSignedIn, refreshClass } from '../api/queries';
import { ObservationOutbox, Outbox, type OutboxState } from './outbox';
import { sendAnswers, sendEvents, sendObservations, sendTapes } from './sending';
import { adopt, keepingOf } from './store';

/** The one outbox of observations of this page. */
export const outbox = new ObservationOutbox({
  send: sendObservations,
  readBack: (classId) => refreshClass(classId, 'observations'),
  onSignedOut: askWhoIsSignedIn,
  keeping: keepingOf<NewObservation>('observations'),
});

/** And that of what happens in rounds. */
export const roundBox = new Outbox<RoundEvent>({
  send: sendEvents,
  readBack: (classId) => refreshClass(classId, 'rounds'),
  onSignedOut: askWhoIsSignedIn,
  keeping: keepingOf<RoundEvent>('events'),
});

/** And that of work on instruments' markers. */
export const tapeBox = new Outbox<NewTapeEntry>({
  send: sendTapes,
  readBack: (classId) => refreshClass(classId, 'tapes'),
  onSignedOut: askWhoIsSignedIn,
  keeping: keepingOf<NewTapeEntry>('tapes'),
});

/** And that of what families answered; where it hurts, the server's notice has everything else read again. */
export const answerBox = new Outbox<FamilyAnswer>({
  send: sendAnswers,
  readBack: (classId) => refreshClass(classId, 'home'),
  onSignedOut: askWhoIsSignedIn,
  keeping: keepingOf<FamilyAnswer>('answers'),
});

/** All go on at once instead of waiting for the next try. */
export function retryNow(): void {
  outbox.retryNow();
  roundBox.retryNow();
  tapeBox.retryNow();
  answerBox.retryNow();
}

/** All belong to whoever is signed in; `address` is by what an earlier build knew them. */
export async function outboxesOf(owner: string | undefined, address = ''): Promise<void> {
  if (owner !== undefined) await adopt(address, owner).catch(() => undefined);
  await Promise.all([outbox, roundBox, tapeBox, answerBox].map((box) => box.signedInAs(owner)));
}

window.addEventListener('online', retryNow);
window.addEventListener('beforeunload', (event) => {
  // What is kept on the device is sent another time.
  const lost = [outbox.snapshot(), tapeBox.snapshot(), answerBox.snapshot()].some(
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

export function useTapeBox(): OutboxState<NewTapeEntry> {
  return useSyncExternalStore(tapeBox.subscribe, tapeBox.snapshot);
}

export function useAnswerBox(): OutboxState<FamilyAnswer> {
  return useSyncExternalStore(answerBox.subscribe, answerBox.snapshot);
}
