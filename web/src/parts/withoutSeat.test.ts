import { describe, expect, it } from 'vitest';
import type { Instrument } from '../api/client';
import { rowsWithoutSeat } from './withoutSeat';

const child = (name: string, instrument: Instrument) => ({ name, instrument });

describe('children without a seat', () => {
  const violins = Array.from({ length: 13 }, (_, index) =>
    child(`v${String(index).padStart(2, '0')}`, 'violin'),
  );
  const all = [child('b', 'bass'), ...violins.toReversed()];

  it('stand section by section, by name', () => {
    const rows = rowsWithoutSeat(all);
    expect(rows.map(({ section, children }) => [section, children.length])).toEqual([
      ['violin', 13],
      ['bass', 1],
    ]);
    expect(rows[0]?.children[0]?.name).toBe('v00');
  });

  it('are shared out evenly where a row has room for so many', () => {
    const rows = rowsWithoutSeat(all, 6);
    expect(rows.map(({ children }) => children.length)).toEqual([4, 5, 4, 1]);
    expect(rows.flatMap(({ children }) => children.map(({ name }) => name))).toEqual([
      ...violins.map(({ name }) => name),
      'b',
    ]);
  });

  it('are no rows where there is nobody', () => {
    expect(rowsWithoutSeat([])).toEqual([]);
  });
});
