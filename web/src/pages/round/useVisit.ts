import { useState } from 'react';
import type { Check, NewObservation, RoundChild, RoundObservation, Says } from '../../api/client';
import { LEVELS } from '../../words/looks';
import type { Round } from './useRound';
import { lookIn, type RoundState } from './walk';

/** What was tapped before there is an observation to carry it. */
interface Draft {
  slips: Record<string, string[]>;
  says?: Says | undefined;
  note: string;
}

/** `Rest position: Alone`, `Tapes on: there`. */
export function recordedWords(name: string, level: number, tapes: boolean): string {
  if (tapes) return `${name}: ${level >= 3 ? 'there' : 'not there'}`;
  return `${name}: ${LEVELS[level] ?? ''}`;
}

/**
 * The observations of one visit. A tap observations at once; what is tapped later on the same thing (a slip, what the child says) takes
 * that observation back and makes it anew, so that one look is one observation.
 */
export function useVisit(round: Round, state: RoundState, child: RoundChild) {
  const [draft, setDraft] = useState<Draft>({ slips: {}, note: '' });
  const observations = round.observations.filter((observation) => observation.child === child.id);
  const latest = observations.at(-1);
  const of = (target: string) => observations.findLast((observation) => observation.target === target);

  const put = (target: string, seen: Partial<NewObservation>, words: string, before?: RoundObservation) => {
    const label = `${child.name}, ${words}`;
    if (before) round.takeBack(state, before, `${label}, first version`);
    const says = seen.says ?? before?.says ?? draft.says;
    const note = draft.note.trim() || before?.note;
    round.observe(
      state,
      { child: child.id, target, via: 'visit', ...seen, ...(says && { says }), ...(note && { note }) },
      label,
    );
    setDraft((now) => ({ ...now, says: undefined, note: '' }));
  };

  /** The exceptions of a stage: those of its checkpoints that have an observation of their own in this visit. */
  const exceptions = (check: Check) => check.items.map(({ id }) => id).filter((id) => of(id));

  return {
    of,
    says: draft.says ?? latest?.says,
    note: draft.note,
    setNote: (note: string) => setDraft((now) => ({ ...now, note })),
    slipsOf: (target: string) => of(target)?.slips ?? draft.slips[target] ?? [],
    /** Whether everything that was to be looked at has been. */
    looked: (checks: readonly Check[]) => checks.every((check) => of(check.target)),
    anything: observations.length > 0,

    level: (check: Check, item: { id: string; name: string }, level: number) => {
      const slips = of(item.id)?.slips ?? draft.slips[item.id] ?? [];
      put(item.id, { level, slips }, recordedWords(item.name, level, check.kind === 'tapes'), of(item.id));
      const stage = check.kind === 'stage' ? of(check.target) : undefined;
      if (stage) {
        const except = [...new Set([...exceptions(check), item.id])];
        put(check.target, { except }, `${check.name}: still there but ${except.length}`, stage);
      }
    },
    holds: (check: Check) => {
      const except = exceptions(check);
      const but = except.length > 0 ? ` but ${except.length}` : '';
      put(check.target, { except }, `${check.name}: still there${but}`, of(check.target));
    },
    slip: (item: { id: string; name: string }, slip: string) => {
      const observation = of(item.id);
      const now = observation?.slips ?? draft.slips[item.id] ?? [];
      const slips = now.includes(slip) ? now.filter((other) => other !== slip) : [...now, slip];
      if (observation?.level === undefined) {
        setDraft((all) => ({ ...all, slips: { ...all.slips, [item.id]: slips } }));
        return;
      }
      put(
        item.id,
        { level: observation.level, slips },
        recordedWords(item.name, observation.level, false),
        observation,
      );
    },
    say: (says: Says) => {
      // A look at a stage carries what the child says as well as one at a checkpoint.
      if (!latest) {
        setDraft((now) => ({ ...now, says: now.says === says ? undefined : says }));
        return;
      }
      const { target, level, slips } = latest;
      const check = lookIn(child, target);
      const seen = level === undefined ? { except: check ? exceptions(check) : [] } : { level, slips };
      put(target, { ...seen, says }, `says ${says}`, latest);
    },
    /** The last observation of the visit, taken back. */
    undo: () => {
      if (latest) round.takeBack(state, latest, `${child.name}, undo`);
    },
  };
}

export type Visit = ReturnType<typeof useVisit>;
