import { useLocalStorage } from 'usehooks-ts';
import type { Ask } from '../../core/strings';

/** What one heard right so far, on this device only. */
export interface Score {
  asked: number;
  right: number;
  inARow: number;
  /** By how many cents two notes differ now. */
  cents: number;
}

type Scores = Record<Ask, Score>;

const NONE: Score = { asked: 0, right: 0, inARow: 0, cents: 50 };
const FIRST: Scores = { pluck: NONE, bow: NONE, pitch: NONE };

function read(stored: string): Scores {
  const number = (of: unknown, name: keyof Score) => {
    const value = typeof of === 'object' && of !== null ? (of as Record<string, unknown>)[name] : undefined;
    return typeof value === 'number' && Number.isFinite(value) && value >= 0 ? value : NONE[name];
  };
  const score = (of: unknown): Score => ({
    asked: number(of, 'asked'),
    right: number(of, 'right'),
    inARow: number(of, 'inARow'),
    cents: number(of, 'cents'),
  });
  try {
    const all = JSON.parse(stored) as Record<string, unknown> | null;
    return { pluck: score(all?.pluck), bow: score(all?.bow), pitch: score(all?.pitch) };
  } catch {
    // Whatever else stands there is as good as nothing.
    return FIRST;
  }
}

/** The trainer's score of this device; nobody else sees it. */
export function useScore() {
  return useLocalStorage<Scores>('bright-row.trainer', FIRST, {
    serializer: JSON.stringify,
    deserializer: read,
  });
}

/** The score with one more answer; `next` says by how many cents the next two notes differ. */
export function scored(
  before: Score,
  right: boolean,
  next: (cents: number, inARow: number) => number,
): Score {
  const inARow = right ? before.inARow + 1 : 0;
  return {
    asked: before.asked + 1,
    right: before.right + (right ? 1 : 0),
    inARow,
    cents: next(before.cents, inARow),
  };
}
export { NONE as NO_SCORE };
