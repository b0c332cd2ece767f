import type { EarState, Moment, Over, RunSoFar, Turn, Verdict } from '../core/hearing';
import type { Schemas } from '../api/client';
import { capital } from './text';
import type { Instrument } from '../api/client';

/* What is heard, in words. */

/** What went wrong with the microphone, and what to do. */
export const EAR_WORDS: Partial<Record<EarState, string>> = {
  quiet: 'Nothing was played for a minute: it stopped listening.',
  muted: 'The microphone is muted: turn it on at the device or in the system’s settings.',
  refused:
    'This device does not let the page use its microphone. Allow it in the settings of the browser, then try again; the tones stay.',
  none: 'No microphone was found on this device. Plug one in, or tune by the tones.',
  taken: 'Another program has the microphone. Close that one, then try again.',
  unplugged: 'The microphone is gone. Plug it in again, then try again.',
  unable: 'This browser cannot listen. Take a newer one, or tune by the tones.',
};

/** With this much sound and no pitch the room is too loud, in decibels below full scale. */
const LOUD_DB = -40;

const TURN_WORDS: Record<Turn, [pegs: string, machine: string]> = {
  stay: ['in tune', 'in tune'],
  'fine-up': ['fine tuner a little clockwise', 'machine a little, until it is higher'],
  'fine-down': ['fine tuner a little the other way', 'machine a little, until it is lower'],
  'peg-up': ['peg, its top towards the scroll', 'machine, until it is higher'],
  'peg-down': ['peg, its top away from the scroll', 'machine, until it is lower'],
};

/** `12 cents low`, `2 semitones high`. */
export function offWords(cents: number): string {
  const way = cents < 0 ? 'low' : 'high';
  const size = Math.abs(cents);
  if (size < 95) return `${Math.round(size)} ${Math.round(size) === 1 ? 'cent' : 'cents'} ${way}`;
  const semitones = Math.round(size / 50) / 2;
  return `${semitones} ${semitones === 1 ? 'semitone' : 'semitones'} ${way}`;
}

/** `D: 12 cents low, fine tuner a little clockwise`. */
export function heardWords(moment: Moment | undefined, letters: string[], instrument: Instrument): string {
  const letter = moment && letters[moment.place];
  if (!moment || !letter)
    return moment && moment.levelDb > LOUD_DB
      ? 'Not sure: one string alone, and quiet around it.'
      : 'Listening: play one open string.';
  const [pegs, machine] = TURN_WORDS[moment.turn];
  const turn = instrument === 'bass' ? machine : pegs;
  return moment.turn === 'stay' ? `${letter}: ${turn}` : `${letter}: ${offWords(moment.cents)}, ${turn}`;
}

/** What is said beside a number that the microphone heard. */
export const BY_MICROPHONE = 'by ear of the microphone';

/** A run that is under way: what to play, and how far off what is played is. */
export function playWords(
  moment: Moment | undefined,
  run: RunSoFar | undefined,
  notes: readonly { words: string }[],
): string {
  const at = run?.cents.length ?? 0;
  const words = notes[at]?.words ?? '';
  if (!moment || moment.place !== at)
    return moment && moment.place < 0 && moment.hz > 0 && moment.levelDb > LOUD_DB
      ? `Now ${words}: what sounds is another note.`
      : `Now ${words}.`;
  return `${capital(words)}: ${nearWords(moment.cents)}, hold it.`;
}

/** `in tune`, `14 cents high`. */
export function nearWords(cents: number): string {
  return Math.round(cents) === 0 ? 'in tune' : offWords(cents);
}

/** What the notes of a hand say together, in words. */
export function handWords({ pattern, finger, off }: RunSoFar): string {
  switch (pattern) {
    case 'in-tune':
      return 'The hand is in tune.';
    case 'all-low':
      return `All fingers are ${offWords(off)} alike.`;
    case 'all-high':
      return `All fingers are ${offWords(off)} alike.`;
    case 'one-off':
      return `Finger ${finger} is ${offWords(off)}, the others are right with each other.`;
    case 'spread':
      return 'The fingers differ from each other: one after the other, slowly, once more.';
    default:
      return '';
  }
}

/** What the notes of a hand speak for. */
export function handSpeaksFor({ pattern, finger, off }: RunSoFar): Schemas['ByEar'][] {
  if (pattern === 'all-low' || pattern === 'all-high') return [pattern];
  if (pattern !== 'one-off') return [];
  return finger === 2 && off < 0 ? ['second-low', 'one-off'] : ['one-off'];
}

const VERDICT_WORDS: Record<Verdict, string> = {
  rings: 'It rings',
  short: 'A short ring',
  thud: 'A thud',
  buzz: 'A buzz',
  full: 'A full tone',
  scratch: 'A scratch',
  whisper: 'A whisper',
  wavers: 'The tone wavers',
  glass: 'A glassy tone',
  jump: 'A jump at the turn',
  'two-strings': 'Two strings at once',
};

/** What a sound speaks for. */
export function soundSpeaksFor({ verdict }: Over): Schemas['ByEar'][] {
  return verdict && verdict !== 'rings' && verdict !== 'full' ? [verdict] : [];
}

/** `A thud: 0.08 s; the open string rings 0.62 s.` */
export function overWords({ kind, verdict, ringSeconds, openRingSeconds, open }: Over): string {
  if (!verdict) return 'Nobody can say: once more, one string alone.';
  const words = VERDICT_WORDS[verdict];
  if (kind !== 'pluck') return `${words}.`;
  const beside =
    openRingSeconds > 0 && open < 0 ? `; the open string rings ${openRingSeconds.toFixed(2)} s` : '';
  return `${words}: ${ringSeconds.toFixed(2)} s${beside}.`;
}

/** What to take care of while one tunes. */
export const TUNING_CAUTION: Record<Instrument, string> = (() => {
  const pegs =
    'Eyes away from the string. Within a semitone the fine tuner; further off the peg, a little lower first, pushed in while it turns.';
  return {
    violin: pegs,
    viola: pegs,
    cello: pegs,
    bass: 'Eyes away from the string; two hold a heavy bass. Turn the machine a little, never push it.',
  };
})();
