import type { Answer } from '../core/door';
import { listed, sentence } from './text';

/* What a drawing shows, in words: from the same numbers. */

export type Drawn = Answer<'figure'>;
type Touch = Drawn['touches'][number];
export type Part = Touch['part'];

const PARTS: Record<Part, string> = {
  thumb: 'thumb',
  index: 'index',
  middle: 'middle finger',
  ring: 'ring finger',
  little: 'little finger',
  palm: 'palm',
  knuckles: 'base knuckle',
  wrist: 'wrist',
  elbow: 'elbow',
  shoulder: 'shoulder',
  jaw: 'jaw',
  head: 'head',
  back: 'back',
  knees: 'knees',
  feet: 'feet',
  scroll: 'scroll',
  support: 'support',
  pin: 'pin',
  stand: 'stand',
  bow: 'bow',
  hair: 'hair of the bow',
  peg: 'hand',
  string: 'string',
  helper: 'helping hand',
  instrument: 'instrument',
};

const PLACES: Record<Touch['place'], string> = {
  string: 'the string',
  'board-edge': 'the edge of the fingerboard',
  'neck-side': 'the side of the neck',
  'neck-back': 'the back of the neck',
  'frog-front': 'the front of the frog',
  wrapping: 'the wrapping',
  ferrule: 'the ferrule',
  'frog-eye': "the frog's eye",
  'frog-under': 'the frog from below',
  stick: 'the stick',
  'stick-top': 'the top of the stick',
  pencil: 'the pencil',
  thumb: 'the thumb',
  'next-string': 'the next string',
  'chin-rest': 'the chin rest',
  collarbone: 'the collarbone',
  breastbone: 'the breastbone',
  shoulder: 'the shoulder',
  hip: 'the hip',
  bouts: 'the sides of the instrument',
  floor: 'the floor',
  chair: 'the chair',
  table: 'the table',
  'other-palm': 'the other palm',
  neck: 'the neck',
  body: 'the body of the instrument',
  hair: 'the hair',
  'peg-head': 'the peg',
  screw: 'the screw',
};

/** Labels that keep a drawing from being mistaken. */
export const LABELS: Record<Drawn['labels'][number]['word'], string> = {
  'left-hand': 'left hand',
  'right-hand': 'right hand',
  bridge: 'bridge',
  board: 'board',
  nut: 'nut',
  '1': '1',
  '2': '2',
  '3': '3',
  '4': '4',
};

/** What touches what: `thumb on the back of the neck, index on the string`. */
export function touchWords(touches: Touch[]): string {
  const said = touches.map(({ part, place }) => `${PARTS[part]} on ${PLACES[place]}`);
  return [...new Set(said)].join(', ');
}

/** What a drawing shows: what is to be looked for, then what touches what. */
export function figureWords(what: string, touches: Touch[]): string {
  const touching = touchWords(touches);
  return touching ? `${sentence(what)} Drawn: ${touching}.` : sentence(what);
}

/** What is stressed: `wrist and thumb`. */
export function stressWords(parts: Part[]): string {
  return listed(parts.map((part) => PARTS[part]));
}
