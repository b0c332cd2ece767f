import type { Schemas } from '../api/client';
import { capital, listed, small } from './text';

type Answer = Schemas['Answer'];

/** How symptoms are noticed, in the order in which they are shown. */
export const SENSES: readonly (readonly [Schemas['Sense'], string])[] = [
  ['hear', 'Hear'],
  ['see', 'See'],
  ['hurts', 'Says it hurts'],
];

/** Each question with its two answers. */
export const SPLITS: Record<Schemas['Split'], readonly [Answer, Answer]> = {
  'open-or-stopped': ['open', 'stopped'],
  'plucked-or-bowed': ['plucked', 'bowed'],
  'one-or-all': ['one-string', 'all-strings'],
  'bow-or-finger': ['by-bow', 'by-finger'],
};

export const ANSWERS: Record<Answer, string> = {
  open: 'Open string',
  stopped: 'Stopped note',
  plucked: 'Plucked',
  bowed: 'Bowed',
  'one-string': 'One string',
  'all-strings': 'All strings',
  'by-bow': 'By the bow',
  'by-finger': 'By a finger',
};

/** What the director may have seen on the instrument; the rest is known from markers, measures and inventory. */
export const FACTS_SEEN: readonly (readonly [Schemas['Fact'], string])[] = [
  ['bridge-moved', 'Bridge leans or has moved'],
  ['bridge-as-recorded', 'Measured: as long as recorded'],
  ['strings-high', 'Strings far from the board'],
];

const FACTS: Record<Schemas['Fact'], string> = {
  'recheck-due': 'markers due for a recheck',
  drifted: 'markers drifted',
  missing: 'a marker came off',
  'wrong-instrument': 'markers of another instrument',
  'too-big': 'larger than the measures propose',
  'needs-repair': 'the inventory says: out for repair',
  'bridge-moved': 'the bridge leans or has moved',
  'strings-high': 'strings far from the board',
  'tapes-proved': 'markers proved by ear',
  'no-markers': 'no marker is on',
  'size-fits': 'the size that the measures propose',
  'bridge-as-recorded': 'the string is as long as recorded',
  'bow-cared-for': 'bow looked at lately, in order',
};

/** What speaks for a cause beside the symptoms. */
const BECAUSE: Record<Schemas['Because'], string> = {
  ...FACTS,
  'ticked-lately': 'ticked lately',
  'says-tight': 'the child said that it is tight or hurts',
  open: 'the open string',
  stopped: 'a stopped note',
  plucked: 'plucked',
  bowed: 'bowed',
  'one-string': 'one string',
  'all-strings': 'all strings',
  'by-bow': 'by the bow',
  'by-finger': 'by a finger',
};

/** What speaks for a cause, the symptoms first: `Scroll sinks, the child said that it is tight or hurts`. */
export function speaksWords({
  symptoms,
  because,
}: Pick<Schemas['CauseView'], 'symptoms' | 'because'>): string {
  return capital([...symptoms.map(small), ...because.map((sign) => BECAUSE[sign])].join(', '));
}

/** What speaks against it: `Against it: markers proved by ear`. */
export function againstWords(against: readonly Schemas['Fact'][]): string {
  return `Against it: ${listed(against.map((fact) => FACTS[fact]))}`;
}

/** Why it is named before what spoke louder: `Often leads to bow away from midway`. */
export function leadsWords(names: readonly string[]): string {
  return `Often leads to: ${listed(names.map(small))}`;
}
