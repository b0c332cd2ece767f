import type { Schemas } from '../api/client';

export const ALL_FOUR = ['violin', 'viola', 'cello', 'bass'] as const;

export function stepOf(
  beats: number,
  text: string,
  more: Partial<Schemas['DrillStep']> = {},
): Schemas['DrillStep'] {
  return { beats, text: Object.fromEntries(ALL_FOUR.map((on) => [on, text])), ...more };
}

/** A drill of two steps for all four instruments. */
export function drillOf(
  id: string,
  name: string,
  aim: string,
  more: Partial<Schemas['Drill']> = {},
): Schemas['Drill'] {
  return {
    id,
    name,
    aim,
    strand: 'hold',
    on: [...ALL_FOUR],
    tempo: 60,
    rounds: 1,
    steps: [stepOf(2, 'Up', { load: true }), stepOf(2, 'Back to rest')],
    ...more,
  };
}
