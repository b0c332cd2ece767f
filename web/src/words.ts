import type { Instrument, Recheck, RoomChild, Schemas, Strand, StringView } from './api/client';

/** Every sentence that more than one page says, or that stands for a picture. */

export const LEVELS = ['Not yet', 'Placed', 'Prompted', 'Alone', 'Lasting'] as const;

export const LEVEL_MEANING = [
  'tried, not there yet',
  'your hands or step-by-step help put it there',
  'found after a word or a sign',
  'found without help, at rest',
  'kept while playing, or still there unannounced',
] as const;

export const STRANDS: Record<Strand, string> = {
  hold: 'Hold',
  bow: 'Bow grip',
  frame: 'Left-hand frame',
  tape: 'Tapes',
};

export const INSTRUMENTS: Instrument[] = ['violin', 'viola', 'cello', 'bass'];

export const TAPE_STATES: Record<Schemas['TapeState'], string> = {
  notMeasured: 'not measured',
  readyToPlace: 'measured, ready to place',
  placed: 'placed',
  heard: 'heard',
  holding: 'holding',
  thinning: 'thinning',
  bare: 'bare',
  noneByChoice: 'none, by choice',
};

export const TAPE_TROUBLES: Record<Schemas['TapeTrouble'], string> = {
  drifted: 'a marker has drifted',
  looseOrMissing: 'a marker is loose or missing',
  wrongInstrument: 'another instrument than before: look at it',
};

/** What an instrument's markers need next. */
export const NEEDS: Record<Schemas['MarkerNeed'], string> = {
  lookAtIt: 'look at it: it came in the place of another',
  layAgain: 'lay markers again',
  moveMarkers: 'move markers',
  recheck: 'look again',
  hear: 'prove by ear',
  place: 'lay the set',
  measure: 'measure the string',
  thin: 'a marker may go',
  nothing: 'nothing now',
};

/** What the class's markers are called. */
export const MARKER_KINDS: Record<Schemas['MarkerKind'], string> = {
  tapes: 'tape',
  dots: 'dot',
  overlay: 'overlay',
  pencil: 'pencil line',
  none: 'marker',
};

/** `17 cents high`. */
export function offWords(cents: number): string {
  return `${count(Math.abs(Math.round(cents)), 'cent')} ${cents < 0 ? 'low' : 'high'}`;
}

/** `+6 cents`, `−14 cents`, with the sign that a tuner shows. */
export function centsWords(cents: number): string {
  const whole = Math.round(cents);
  return `${whole > 0 ? '+' : whole < 0 ? '−' : ''}${count(Math.abs(whole), 'cent')}`;
}

/** What is known of the markers in trouble: `marker 2 is 17 cents high`, `marker 3 is gone`. */
export function troubleWords(tapes: Pick<Schemas['TapesView'], 'spots' | 'trouble'>): string {
  const words = tapes.spots.flatMap(({ name, presence, cents, verdict }) => {
    if (presence === 'missing') return [`marker ${name} is gone`];
    if (presence === 'loose') return [`marker ${name} comes off`];
    if (presence !== 'on' || verdict !== 'move') return [];
    return [`marker ${name} is ${cents === undefined ? 'off' : offWords(cents)}`];
  });
  if (words.length > 0 && tapes.trouble !== 'wrongInstrument') return words.join(', ');
  return tapes.trouble ? TAPE_TROUBLES[tapes.trouble] : '';
}

/** Low to high: `D` of `D4`. */
export function letterOf(note: string): string {
  return note.slice(0, 1);
}

/** `low 1` of `low1`, `stretched 4` of `x4`. */
export function fingerWords(finger: string): string {
  return finger.replace('low', 'low ').replace('x', 'stretched ');
}

/** `F sharp` of `F#4`. */
export function noteWords(note: string): string {
  return note
    .replace(/\d+$/, '')
    .replace(/#$/, ' sharp')
    .replace(/^([A-G])b$/, '$1 flat');
}

export const SAYS: Record<Schemas['Says'], string> = { easy: 'Easy', tight: 'Tight', hurts: 'Hurts' };

export const PAIN_CAUTION =
  'Said that it hurts. Stop, tell the family, follow the school’s procedure; a health professional judges.';

/** Shown as soon as pain is ticked, before anything is sent. */
export const PAIN_NOW =
  'Stop for today. Sore fingertips are normal in the first days; pain in wrist, arm, shoulder, neck or jaw, numbness or tingling is not. Tell the family and follow the school’s procedure; a health professional judges.';

export function capital(text: string): string {
  return text.charAt(0).toUpperCase() + text.slice(1);
}

export function count(number: number, one: string, many = `${one}s`): string {
  return `${number} ${number === 1 ? one : many}`;
}

export function isDue(recheck: Recheck | undefined): boolean {
  return recheck !== undefined && recheck.state !== 'fresh';
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
export function visitWords({ visited, meetingsUnseen }: RoomChild): string {
  if (!visited)
    return meetingsUnseen === 0 ? 'not visited yet' : `not visited yet, ${count(meetingsUnseen, 'meeting')}`;
  if (meetingsUnseen === 0) return 'visited at this meeting';
  return meetingsUnseen === 1 ? 'visited at the last meeting' : `visited ${meetingsUnseen} meetings ago`;
}

const DAY = new Intl.DateTimeFormat('en-GB', { day: 'numeric', month: 'short' });
const WEEKDAY = new Intl.DateTimeFormat('en-GB', { weekday: 'short' });

function moment(date: string): Date {
  return date.length === 10 ? new Date(`${date}T12:00:00`) : new Date(date);
}

/** `24 Nov`, of a day or a moment. */
export function dayWords(date: string): string {
  return DAY.format(moment(date));
}

/** `Tue 24 Nov`. */
export function weekdayWords(date: string): string {
  return `${WEEKDAY.format(moment(date))} ${dayWords(date)}`;
}
