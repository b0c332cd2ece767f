import type { Schemas } from '../api/client';
import { count } from './text';

/* Markers on a fingerboard, what they need, and notes on strings. */

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

/** Why an instrument is not on the sheets. */
export const NO_TEMPLATE: Record<Schemas['NoTemplate'], string> = {
  noMarkers: 'The class has no markers, by choice.',
  notMeasured: 'Not measured yet: from the nut to the bridge.',
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
  const words = tapes.spots.flatMap(({ spot, presence, cents, verdict }) => {
    const name = markerName(spot);
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

/** `low 1` of `low1`, `high 3` of `high3`, `stretched 4` of `x4`. */
export function fingerWords(finger: string): string {
  return finger.replace('low', 'low ').replace('high', 'high ').replace('x', 'stretched ');
}

/** The colour of a finger's marker, of those of fingers 1 to 4. */
export function colourOf(colours: readonly Schemas['ColourView'][], finger: string): Schemas['ColourView'] {
  const number = Number(/[1-4]/.exec(finger)?.[0] ?? 1);
  const found = colours[number - 1];
  if (!found) throw new Error(`no colour of finger ${finger}`);
  return found;
}

/** A marker as it is said, with its colour where each finger has its own: `2 (yellow)`. */
export function colouredName(spot: string, markers: Schemas['MarkerSetView']): string {
  const coloured = markers.colours && spot !== 'thumb' && spot !== 'line';
  return coloured ? `${markerName(spot)} (${colourOf(markers.fingerColours, spot).name})` : markerName(spot);
}

/** A marker as it is said: `low 1`, `thumb pad`. */
export function markerName(spot: string): string {
  if (spot === 'thumb') return 'thumb pad';
  return spot === 'line' ? 'line on finger 1' : fingerWords(spot);
}

/** `F sharp` of `F#4`. */
export function noteWords(note: string): string {
  return note
    .replace(/\d+$/, '')
    .replace(/#$/, ' sharp')
    .replace(/^([A-G])b$/, '$1 flat');
}
