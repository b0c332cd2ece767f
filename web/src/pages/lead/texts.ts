import type { Instrument } from '../../api/client';
import { INSTRUMENTS } from '../../words/looks';
import { capital } from '../../words/text';
import type { Drill, Segment } from './program';

export const REST = 'Everything down, shake out both hands';

/** Fingers and syllables, `1-2-3` and `ap-ple`, stay on one line. */
function unbroken(text: string): string {
  return text.replace(/(?<=\w)-(?=\w)/g, '\u2060-\u2060');
}

/** What an instrument does in a part; while others play a drill that is not for it, it listens. */
export function textFor(drill: Drill, segment: Segment | undefined, instrument: Instrument): string {
  if (!segment || segment.kind === 'ready') return 'Ready';
  if (segment.step === undefined) return REST;
  return unbroken(drill.steps[segment.step]?.text[instrument] ?? 'Rest and listen');
}

/** What everybody does in a part, instruments with the same words together: `Violin, viola`. */
export function groupedTexts(drill: Drill, segment: Segment | undefined): [who: string, text: string][] {
  const groups = new Map<string, Instrument[]>();
  for (const instrument of INSTRUMENTS) {
    const text = textFor(drill, segment, instrument);
    groups.set(text, [...(groups.get(text) ?? []), instrument]);
  }
  const who = (instruments: Instrument[]) =>
    instruments.length === INSTRUMENTS.length ? 'Everybody' : capital(instruments.join(', '));
  return [...groups].map(([text, instruments]) => [who(instruments), text]);
}

/** `Round 2 of 3`. */
export function roundWords(drill: Drill, segment: Segment | undefined): string {
  return `Round ${segment?.round ?? 1} of ${drill.rounds}`;
}
