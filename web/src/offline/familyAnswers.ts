import { useMemo } from 'react';
import { v7 as uuid } from 'uuid';
import type { BackAgain, FamilyAnswer, Strand } from '../api/client';
import { answerBox, useAnswerBox } from './useOutbox';

/** What came back in a week: on how many days, how it was, and which answers say so. */
export type Back = Pick<BackAgain, 'days' | 'daysBy' | 'says' | 'saysBy'>;

function without(back: Back, ...keys: (keyof Back)[]): Back {
  return Object.fromEntries(Object.entries(back).filter(([key]) => !keys.includes(key as keyof Back)));
}

/** What came back with answers laid over it, the latest last, as the server will say. */
export function backWith(back: Back | undefined, answers: readonly FamilyAnswer[]): Back {
  let now: Back = { ...back };
  for (const { id, days, says, retracts } of answers) {
    if (days !== undefined) now = { ...now, days, daysBy: id };
    if (says !== undefined) now = { ...now, says, saysBy: id };
    if (retracts === undefined) continue;
    if (retracts === now.daysBy) now = without(now, 'days', 'daysBy');
    if (retracts === now.saysBy) now = without(now, 'says', 'saysBy');
  }
  return now;
}

/** What a tap says: days, or how it was and, where it hurts, at what. */
export type Tapped = { days: number } | { says: NonNullable<Back['says']>; hurtsAt?: Strand };

/**
 * The answers that a tap makes: the same again takes it back; something else counts instead, and where it hurt that is taken back, so
 * that its flag goes.
 */
export function answersOf(now: Back, tapped: Tapped): Omit<FamilyAnswer, 'id' | 'child' | 'at'>[] {
  const [same, by] =
    'days' in tapped ? [now.days === tapped.days, now.daysBy] : [now.says === tapped.says, now.saysBy];
  if (same && by !== undefined) return [{ retracts: by }];
  const hurt = 'says' in tapped && now.says === 'hurts' && by !== undefined;
  return [...(hurt ? [{ retracts: by }] : []), tapped];
}

interface Answering {
  /** What came back, with what is on its way. */
  now: Back;
  /** Somebody tapped: it is kept and sent. */
  tap: (tapped: Tapped) => void;
}

/** What came back of a child, and a way to say more; `back` is what the server has said. */
export function useFamilyAnswers(
  classId: string,
  child: { id: string; name: string },
  back: Back | undefined,
): Answering {
  const { pending, made } = useAnswerBox();
  const { id, name } = child;
  // Where the server was not asked, what was tapped on this page is what is known.
  const over = back === undefined ? made : pending;
  const now = useMemo(() => {
    const mine = over.filter(({ item }) => item.child === id).map(({ item }) => item);
    return backWith(back, mine);
  }, [over, back, id]);
  const tap = (tapped: Tapped) => {
    for (const answer of answersOf(now, tapped)) {
      const item = { ...answer, id: uuid(), child: id, at: new Date().toISOString() };
      answerBox.add(classId, item, `${name}, from home`);
    }
  };
  return { now, tap };
}
