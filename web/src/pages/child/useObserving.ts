import { useState } from 'react';
import { v7 as uuid } from 'uuid';
import type {
  Cause,
  Checkpoint,
  ChildPage,
  ObservationView,
  NewObservation,
  Says,
  Stage,
} from '../../api/client';
import { outbox, useOutbox } from '../../offline/useOutbox';
import { LEVELS } from '../../words/looks';

/** What goes with the next observation of a checkpoint. */
export interface Draft {
  slips: string[];
  note: string;
  /** What the child says when asked. */
  says?: Says | undefined;
}

const EMPTY: Draft = { slips: [], note: '' };

/** `Rest position: Alone`; tapes are there or not. */
export function observationWords(target: string, name: string, level: number): string {
  if (target.startsWith('tape.')) return `${name}: ${level >= 3 ? 'there' : 'not there'}`;
  return `${name}: ${LEVELS[level] ?? ''}`;
}

/** Observations of one child: made at once, kept until the server has them, taken back by another observation. */
export function useObserving(classId: string, { child }: ChildPage) {
  // What was typed for a checkpoint is kept while the child is open, whatever else is recorded meanwhile.
  const [drafts, setDrafts] = useState<Record<string, Draft>>({});
  const { made } = useOutbox();

  const add = (observation: Omit<NewObservation, 'id' | 'child' | 'observedAt' | 'via'>, label: string) => {
    const full: NewObservation = {
      ...observation,
      id: uuid(),
      child: child.id,
      via: 'visit',
      observedAt: new Date().toISOString(),
    };
    outbox.add(classId, full, `${child.name}, ${label}`);
  };

  return {
    draftOf: (checkpoint: string) => drafts[checkpoint] ?? EMPTY,
    setDraft: (checkpoint: string, draft: Draft) => setDrafts((all) => ({ ...all, [checkpoint]: draft })),
    /** The last observation made on this page in this class, whoever it was of. */
    last: made.findLast((observation) => observation.classId === classId),
    observation: (checkpoint: Checkpoint, level: number) => {
      const { slips, note, says } = drafts[checkpoint.id] ?? EMPTY;
      const text = note.trim();
      add(
        { target: checkpoint.id, level, slips, ...(text && { note: text }), ...(says && { says }) },
        observationWords(checkpoint.id, checkpoint.name, level),
      );
      setDrafts((all) => ({ ...all, [checkpoint.id]: EMPTY }));
    },
    /** A look at a whole stage; the excepted checkpoints want an observation of their own. */
    holds: (stage: Stage, except: string[] = []) =>
      add(
        { target: stage.id, except },
        `${stage.name}: still there${except.length > 0 ? ` but ${except.length}` : ''}`,
      ),
    /** Ticks the slip that a cause is, at the level the child stands at; `note` says what speaks for it. */
    tick: ({ checkpoint, slip, name }: Cause, note?: string) => {
      if (!checkpoint || !slip) return;
      const level = checkpoint.level ?? 0;
      add(
        { target: checkpoint.id, level, slips: [slip], ...(note && { note }) },
        `${observationWords(checkpoint.id, checkpoint.name, level)}, ${name.toLowerCase()}`,
      );
    },
    undoLast: () => {
      const last = made.findLast((observation) => observation.classId === classId);
      if (last) outbox.undo(classId, last.item, `Undo of ${last.label}`);
    },
    takeBack: (observation: ObservationView) =>
      outbox.undo(
        classId,
        { ...observation, child: child.id },
        `${child.name}, undo of ${observation.targetName}`,
      ),
  };
}

export type Observing = ReturnType<typeof useObserving>;
