import { useEffect, useMemo, useState } from 'react';
import { v7 as uuid } from 'uuid';
import type { NewObservation, RoundEvent, RoundKit } from '../../api/client';
import { useCore } from '../../core/door';
import { outbox, roundBox, useOutbox, useRoundBox } from '../../offline/useOutbox';
import { bare, foldRound, observationsInForce, type RoundState, type Stop, type Wish } from './walk';

const DEVICE = 'bright-row.device';

/** This device, for as long as its browser remembers: two may walk one round. */
function thisDevice(): string {
  const known = localStorage.getItem(DEVICE);
  if (known) return known;
  const made = uuid();
  localStorage.setItem(DEVICE, made);
  return made;
}

/** The time, once a second. */
export function useNow(): number {
  const [now, setNow] = useState(() => Date.now());
  useEffect(() => {
    const timer = window.setInterval(() => setNow(Date.now()), 1000);
    return () => window.clearInterval(timer);
  }, []);
  return now;
}

/** Keeps the screen awake while something is walked, where the browser allows it. */
export function useWakeLock(): void {
  useEffect(() => {
    let lock: WakeLockSentinel | undefined;
    let over = false;
    const ask = async () => {
      if (document.visibilityState !== 'visible' || !('wakeLock' in navigator)) return;
      lock = await navigator.wakeLock.request('screen').catch(() => undefined);
      if (over) await lock?.release();
    };
    const again = () => void ask();
    again();
    // A lock ends when the page is hidden.
    document.addEventListener('visibilitychange', again);
    return () => {
      over = true;
      document.removeEventListener('visibilitychange', again);
      void lock?.release();
    };
  }, []);
}

/** The round of a class: how it stands, with what is still on its way, and what can be done in it. */
export function useRound(classId: string, kit: RoundKit) {
  const events = useRoundBox();
  const observations = useOutbox();
  const [device] = useState(thisDevice);
  useCore();
  const { pending } = events;
  const sent = useMemo(
    () => pending.filter((one) => one.classId === classId).map(({ item }) => item),
    [pending, classId],
  );
  const state = useMemo(() => foldRound([...kit.events, ...sent], device), [kit.events, sent, device]);
  const made = observations.pending;
  const onTheirWay = useMemo(
    () => made.filter((one) => one.classId === classId).map(({ item }) => item),
    [made, classId],
  );
  const id = state?.id;
  const counting = useMemo(
    () => (id === undefined ? [] : observationsInForce(kit.observations, onTheirWay, id)),
    [kit.observations, onTheirWay, id],
  );

  const record = (
    round: string,
    kind: RoundEvent['kind'],
    about: Partial<Pick<RoundEvent, 'children' | 'detail'>>,
    label: string,
  ) =>
    roundBox.add(
      classId,
      { id: uuid(), round, kind, device, at: new Date().toISOString(), children: [], detail: {}, ...about },
      label,
    );

  return {
    device,
    state,
    observations: counting,
    waiting: [...sent, ...onTheirWay].length,
    begin: (wish: Wish, stops: Stop[], absent: Iterable<string>) => {
      const round = uuid();
      const gone = [...absent].map((child) => ({ child, checks: [] }));
      record(round, 'start', { children: bare(stops), detail: detailOf(wish) }, 'Round begun');
      if (gone.length > 0) record(round, 'absent', { children: gone }, 'Absent');
    },
    about: (round: RoundState, kind: RoundEvent['kind'], children: string[], label: string, detail = {}) =>
      record(round.id, kind, { children: children.map((child) => ({ child, checks: [] })), detail }, label),
    replan: (round: RoundState, stops: Stop[]) =>
      record(round.id, 'plan', { children: bare(stops), detail: detailOf(round) }, 'Planned anew'),
    observe: (
      round: RoundState,
      observation: Omit<NewObservation, 'id' | 'observedAt' | 'round'>,
      label: string,
    ) => {
      const full: NewObservation = {
        ...observation,
        id: uuid(),
        round: round.id,
        observedAt: new Date().toISOString(),
      };
      outbox.add(classId, full, label);
    },
    takeBack: (
      round: RoundState,
      observation: Pick<NewObservation, 'id' | 'child' | 'target'>,
      label: string,
    ) => {
      const observedAt = new Date().toISOString();
      const { child, target } = observation;
      outbox.add(
        classId,
        { id: uuid(), child, target, retracts: observation.id, observedAt, round: round.id },
        label,
      );
    },
  };
}

export type Round = ReturnType<typeof useRound>;

function detailOf({ minutes, part, strand, scans }: Wish) {
  return { minutes, scans, ...(part && { part }), ...(strand && { strand }) };
}
