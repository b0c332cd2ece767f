import type { NextItem, Schemas } from '../api/client';
import { STRANDS } from './looks';
import { capital, count, listed, small } from './text';

/* What a child works on next, and where something that is heard may come from. */

const PUT_RIGHT: Record<Schemas['TapeTrouble'], string> = {
  drifted: 'Prove each marker by ear, then lay it again where it belongs.',
  looseOrMissing: 'Lay the markers again that came off.',
  wrongInstrument: 'Measure this instrument, then lay its own markers.',
};

/** What the item is about: `Curved thumb`. */
export function nextName({ kind, name }: NextItem): string {
  return kind === 'tapes' ? STRANDS.tape : (name ?? '');
}

/** What to do. */
export function nextWords(item: NextItem): string {
  switch (item.kind) {
    case 'pain':
      return 'Stop here, ask where it hurts, and write down what was done.';
    case 'tapes':
      return item.trouble ? PUT_RIGHT[item.trouble] : '';
    case 'stage':
      return 'Look at the whole stage again.';
    case 'checkpoint':
      return item.help ?? '';
  }
}

/** Why it comes now, in a sentence. */
export function nextWhy(item: NextItem): string {
  switch (item.why) {
    case 'hurts':
      return 'The child said that it hurts.';
    case 'tapeTrouble':
      return 'Until the markers are right, fingers cannot be judged.';
    case 'leadsTo':
      return `Comes first: it leads to ${listed(item.slips.map(small))}.`;
    case 'nextIn':
      return `Next in ${item.stage}.`;
    case 'overdue':
      return item.meetings === 1
        ? 'Was due one meeting ago.'
        : `Was due ${count(item.meetings, 'meeting')} ago.`;
    case 'slipped':
      return 'Ticked at the last look.';
  }
}

/** What speaks for a cause beside the symptoms. */
const BECAUSE: Record<Schemas['Because'], string> = {
  'ticked-lately': 'ticked lately',
  'says-tight': 'the child says tight',
  'recheck-due': 'markers due for a recheck',
  drifted: 'markers drifted',
  missing: 'a marker came off',
  'wrong-instrument': 'markers of another instrument',
  'too-big': 'larger than the measures propose',
  'needs-repair': 'the inventory says: look after it',
  'bridge-moved': 'the bridge leans or has moved',
  'strings-high': 'strings far from the board',
};

/** What speaks for a cause, the symptoms first: `Scroll sinks, the child says tight`. */
export function speaksWords({
  symptoms,
  because,
}: Pick<Schemas['CauseView'], 'symptoms' | 'because'>): string {
  return capital([...symptoms.map(small), ...because.map((sign) => BECAUSE[sign])].join(', '));
}
