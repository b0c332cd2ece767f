import type { NextItem, Schemas } from '../api/client';
import { STRANDS } from './looks';
import { capital, count, listed, sentence, small } from './text';

/* What a child works on next, and where something that is heard may come from. */

const PUT_RIGHT: Record<Schemas['TapeTrouble'], string> = {
  drifted: 'Prove each marker by ear, then lay it again where it belongs.',
  looseOrMissing: 'Lay the markers again that came off.',
  wrongInstrument: 'Measure this instrument, then lay its own markers.',
};

/** What the item is about: `Curved thumb`. */
export function nextName({ kind, name }: NextItem): string {
  return kind === 'tapes' ? STRANDS.tape : name;
}

/** What to do. */
export function nextWords(item: NextItem): string {
  switch (item.kind) {
    case 'pain':
      return 'Stop here, ask where it hurts, and write down what was done.';
    case 'tapes':
      return item.why === 'tapes'
        ? PUT_RIGHT[item.trouble]
        : 'Look whether each marker is still there and true.';
    case 'stage':
      return 'Look whether what stood is still there.';
    case 'checkpoint':
      return item.help ? sentence(item.help) : '';
  }
}

type Why = Schemas['NextWhy'];

function reasonWords(why: Why): string {
  switch (why.why) {
    case 'hurts':
      return 'said that it hurts';
    case 'tapes':
      return 'until the markers are right, fingers cannot be judged';
    case 'root':
      return rootWords(why.slip, why.slips);
    case 'due':
      return `due again ${dueWords(why.meetings)}`;
    case 'soon':
      return 'due again at the next meeting, taken along';
    case 'inWork':
      return why.seen ? `in work in ${why.stage}${WAITS[why.how]}` : `not looked at yet${WAITS[why.how]}`;
    case 'mustSee':
      return 'nothing is due; a look after a while';
    case 'byHand':
      return 'neither in work nor due';
  }
}

function rootWords(slip: string | undefined, effects: string[]): string {
  const leads = listed(effects.map(small));
  if (slip === undefined)
    return effects.length === 0 ? 'comes first: more rests on it' : `comes first: it leads to ${leads}`;
  return effects.length === 0
    ? `seen last time: ${small(slip)}`
    : `comes first: ${small(slip)} leads to ${leads}`;
}

const WAITS: Record<Schemas['InWork'], string> = {
  opens: ', opens the next stage',
  required: '',
  optional: ', not required',
};

function dueWords(meetings: number): string {
  if (meetings === 0) return 'now';
  return meetings === 1 ? 'since the last meeting' : `for ${count(meetings, 'meeting')}`;
}

/** Why something comes now: `Due again for 2 meetings`; what does not rise is to be tried another way. */
export function whyWords({ stuck, ...why }: Why & { stuck: boolean }): string {
  const another = stuck ? '; seen again and again without rising: try it another way' : '';
  return capital(reasonWords(why) + another);
}
