/* The term ahead in words. */

import type { Schemas } from '../api/client';
import { dayWords } from './dates';

export type Milestone = Schemas['MilestoneView'];

/** `Tapes can go on`, `Most begin Hold 3, Raise`. */
export function goalWords({ goal, name = '' }: Milestone): string {
  if (goal === 'markers') return 'Tapes can go on';
  return goal === 'begun' ? `Most begin ${name}` : `Most have reached ${name}`;
}

/** The same as short as a row of a table wants it. */
export function goalName({ goal, name = '' }: Milestone): string {
  if (goal === 'markers') return 'Tapes can go on';
  return goal === 'begun' ? `${name}: begun` : `${name}: reached`;
}

/** `about 14 Jan`. */
export function aboutWords({ middle }: Milestone): string {
  return middle ? `about ${dayWords(middle)}` : 'perhaps not before the last meeting';
}

/** `7 Jan to 25 Jan`. */
export function betweenWords({ low, high }: Milestone): string {
  if (!high) return `not before ${dayWords(low)}`;
  return low === high ? dayWords(low) : `${dayWords(low)} to ${dayWords(high)}`;
}

/** What comes next, in a sentence: where tapes can go on, that. */
export function nextWords(milestones: readonly Milestone[]): string | undefined {
  const ofClass = milestones.filter(({ section }) => section === undefined);
  const begun = ofClass.filter(({ goal, middle }) => goal !== 'reached' && middle !== undefined);
  const first = begun.toSorted((one, other) => (one.middle ?? '').localeCompare(other.middle ?? ''))[0];
  const next = ofClass.find(({ goal }) => goal === 'markers') ?? first;
  if (!next) return undefined;
  const on = next.goal === 'markers' && next.middle ? `from ${aboutWords(next)}` : aboutWords(next);
  return `${goalWords(next)} ${on} (${betweenWords(next)}).`;
}
