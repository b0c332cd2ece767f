import type { Schemas } from '../api/client';

type Block = Schemas['HomeBlock'];

const BLOCKS: Record<Block['kind'], string> = {
  'bow-shape': 'Bow hand',
  'finger-strength': 'Finger taps',
  'open-strings': 'Open strings',
  'left-hand-notes': 'Notes of the week',
  sing: 'Sing and clap',
  tune: 'Tune',
};

/** A block of a day: `Finger taps 2 min, 20 each`. */
export function blockWords({ kind, minutes, count }: Block): string {
  return `${BLOCKS[kind]} ${minutes} min${count === undefined ? '' : `, ${count} each`}`;
}
