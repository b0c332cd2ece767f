import type { Recheck, RoomChild, Schemas, StringView } from '../api/client';
import { STRANDS } from './looks';
import { count } from './text';

/* The room: four strings, what is due, when a child was visited. */

export function isDue(recheck: Recheck | undefined): boolean {
  return recheck !== undefined && recheck.state !== 'fresh';
}

export function isLate(recheck: Recheck | undefined): boolean {
  return recheck?.state === 'overdue';
}

/** `due now`, `due for 2 meetings`, `due in 3 meetings`. */
export function recheckWords(recheck: Recheck): string {
  if (recheck.state === 'due') return 'due now';
  if (recheck.state === 'overdue') return `due for ${count(recheck.meetings, 'meeting')}`;
  return `again in ${count(recheck.meetings, 'meeting')}`;
}

/** How far a string rings, in a word. */
function glowWords({ glow, seen }: StringView): string {
  if (!seen) return 'nothing seen yet';
  if (glow >= 0.995) return 'fully lit';
  if (glow >= 0.7) return 'mostly lit';
  if (glow >= 0.4) return 'about half lit';
  if (glow > 0) return 'a little lit';
  return 'looked at, not lit yet';
}

const FLAGS: Record<Schemas['Flag'], string> = {
  pain: 'it hurts',
  slip: 'a slip being worked on',
  tape: 'tapes to put right',
};

/** One string as words: `Bow grip about half lit, due now, a slip being worked on`. */
export function stringWords(string: StringView): string {
  const due = string.recheck && isDue(string.recheck) ? [recheckWords(string.recheck)] : [];
  const flags = string.flags.map((flag) => FLAGS[flag]);
  return [`${STRANDS[string.strand]} ${glowWords(string)}`, ...due, ...flags].join(', ');
}

export function glyphWords(strings: StringView[]): string {
  return `${strings.map(stringWords).join('; ')}.`;
}

/** When somebody was last at this child's chair. */
export function visitWords({
  visited,
  meetingsUnseen,
}: Pick<RoomChild, 'visited' | 'meetingsUnseen'>): string {
  if (!visited)
    return meetingsUnseen === 0 ? 'not visited yet' : `not visited yet, ${count(meetingsUnseen, 'meeting')}`;
  if (meetingsUnseen === 0) return 'visited at this meeting';
  return meetingsUnseen === 1 ? 'visited at the last meeting' : `visited ${meetingsUnseen} meetings ago`;
}
