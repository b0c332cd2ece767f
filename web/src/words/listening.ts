import type { EarState, Moment, Turn } from '../core/hearing';
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
