import type { Instrument } from '../api/client';
import { INSTRUMENTS } from '../words/looks';

interface Playing {
  name: string;
  instrument: Instrument;
}

/**
 * Children without a seat as rows: section by section, by name, each section in one row or shared out evenly over as few rows of at
 * most `most` as it fits in.
 */
export function rowsWithoutSeat<C extends Playing>(
  children: readonly C[],
  most = Infinity,
): { section: Instrument; children: C[] }[] {
  return INSTRUMENTS.flatMap((section) => {
    const all = children.filter((child) => child.instrument === section);
    all.sort((a, b) => a.name.localeCompare(b.name));
    const rows = Math.min(all.length, Math.max(1, Math.ceil(all.length / most)));
    const from = (row: number) => Math.round((row * all.length) / rows);
    return Array.from({ length: rows }, (_, row) => ({
      section,
      children: all.slice(from(row), from(row + 1)),
    }));
  });
}
