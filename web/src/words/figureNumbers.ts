import type { Question } from '../core/door';
import { capital } from './text';

/* The views and numbers of a drawing, as whoever sets them reads them. */

type View = Question<'viewNumbers'>['view'];

export const VIEWS: Record<View, string> = {
  body: 'Body and instrument',
  support: 'Support under the jaw, or the pin',
  'neck-section': 'Along the neck, cut at finger 1',
  'left-arm': 'Left arm, elbow to knuckles',
  'left-hand': 'Left hand from above',
  'thumb-back': 'Thumb behind the neck',
  'bow-hand': 'Hand on the bow',
  'bow-path': 'Bow between bridge and fingerboard',
  'bow-arm': 'Bow arm',
  pluck: 'Plucking hand',
  'bow-care': 'Care of the bow',
  peg: 'Pegs',
};

export const viewsInOrder = Object.keys(VIEWS) as View[];

export const UNITS: Record<string, string> = {
  degrees: '°',
  mm: 'mm',
  percent: '%',
  count: '',
  semitones: 'semitones',
};

/** `thumb_bend` as it is read: `Thumb bend`. */
export function parameterWords(name: string): string {
  return capital(name.replaceAll('_', ' '));
}
