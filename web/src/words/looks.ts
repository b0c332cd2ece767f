import type { Instrument, Schemas, Strand } from '../api/client';

/* What is looked at and how far it has come. */

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

type Says = Schemas['Says'];

export const SAYS: Record<Says, string> = {
  easy: 'Easy',
  tight: 'Tight',
  soreTips: 'Sore tips',
  hurts: 'Hurts',
};

/** What a child says when asked, from comfortable to painful. */
export const ALL_SAYS: readonly Says[] = ['easy', 'tight', 'soreTips', 'hurts'];

/** Shown as soon as sore tips are ticked. */
export const SORE_TIPS_NOW =
  'Usual at first: lines on the tips, sore for some days, then the skin hardens. Light taps and short spells, a rest between; skin that is open rests until it is whole.';

export const PAIN_CAUTION =
  'Said that it hurts. Stop, tell the family, follow the school’s procedure; a health professional judges.';

/** Shown as soon as pain is ticked, before anything is sent. */
export const PAIN_NOW =
  'Stop for today. Sore fingertips are normal in the first days; pain in wrist, arm, shoulder, neck or jaw, numbness or tingling is not. Tell the family and follow the school’s procedure; a health professional judges.';

export const SECTIONS: Record<Instrument, string> = {
  violin: 'Violins',
  viola: 'Violas',
  cello: 'Cellos',
  bass: 'Basses',
};

/** `Row 2`, `Cellos`. */
export function partWords(part: Schemas['PartView'] | undefined): string {
  if (part === undefined) return '';
  return 'row' in part ? `Row ${part.row}` : SECTIONS[part.section];
}
