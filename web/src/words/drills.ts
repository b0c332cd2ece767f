import type { Schemas } from '../api/client';

/** How a drill is played. */
export const DRILL_LEVELS: Record<Schemas['DrillLevel'], string> = {
  rests: 'With rests',
  joined: 'Without rests',
  bowed: 'With the bow',
};
