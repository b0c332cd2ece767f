import { describe, expect, it } from 'vitest';
import type { RoomChild } from '../../api/client';
import { forward, isShown, neighbour, rowsOf } from './rows';

function child(name: string, row: number, seat: number, more: Partial<RoomChild> = {}): RoomChild {
  return {
    id: name,
    name,
    instrument: 'violin',
    brightness: 0.5,
    visited: true,
    meetingsUnseen: 0,
    seat: { row, seat },
    strings: [],
    ...more,
  };
}

const class_ = [
  child('a1', 1, 1, { brightness: 0 }),
  child('a2', 1, 2, { brightness: 1 }),
  child('b1', 2, 1),
  child('b2', 2, 2),
  child('b3', 2, 3),
  child('b4', 2, 4),
];

describe('the rows', () => {
  it('stand as the podium sees them: the nearest at the bottom', () => {
    const rows = rowsOf([...class_].reverse());
    expect(rows.map((row) => row.children.map(({ id }) => id))).toEqual([
      ['b1', 'b2', 'b3', 'b4'],
      ['a1', 'a2'],
    ]);
    expect(rows[1]?.brightness).toBe(0.5);
  });

  it('have those without a seat behind them, a row for each section', () => {
    const without = (name: string, instrument: RoomChild['instrument']): RoomChild => {
      const one = child(name, 1, 1, { instrument });
      delete one.seat;
      return one;
    };
    const rows = rowsOf([without('b', 'bass'), without('v2', 'violin'), without('v1', 'violin'), ...class_]);
    expect(rows.map((row) => [row.key, row.section, row.children.map(({ id }) => id).join(' ')])).toEqual([
      ['2', undefined, 'b1 b2 b3 b4'],
      ['1', undefined, 'a1 a2'],
      ['violin', 'violin', 'v1 v2'],
      ['bass', 'bass', 'b'],
    ]);
  });

  it('come forward at their ends', () => {
    expect([0, 1, 2, 3, 4].map((index) => forward(index, 5))).toEqual([1, 0.25, 0, 0.25, 1]);
    expect(forward(0, 2)).toBe(0);
  });

  it('are walked chair by chair, and across to the same place of the next row', () => {
    const rows = rowsOf(class_);
    const go = (from: string, way: Parameters<typeof neighbour>[2]) => neighbour(rows, from, way)?.id;
    expect(go('a1', 'ArrowRight')).toBe('a2');
    expect(go('a2', 'ArrowRight')).toBeUndefined();
    expect(go('a1', 'ArrowUp')).toBe('b2');
    expect(go('b4', 'ArrowDown')).toBe('a2');
    expect(go('b1', 'ArrowUp')).toBeUndefined();
  });
});

describe('what the room shows', () => {
  const due = { state: 'due', meetings: 0 } as const;
  const strings = (['hold', 'bow', 'frame', 'tape'] as const).map((strand) => ({
    strand,
    glow: 0.5,
    seen: true,
    inWork: true,
    flags: [],
    ...(strand === 'bow' ? { recheck: due, flags: ['slip' as const] } : {}),
  }));
  const ada = child('Ada K.', 1, 1, { strings });

  it.each([
    [{ name: '' }, true],
    [{ name: 'ada' }, true],
    [{ name: 'ben' }, false],
    [{ name: '', instrument: 'cello' as const }, false],
    [{ name: '', only: 'due' as const }, true],
    [{ name: '', only: 'due' as const, strand: 'hold' as const }, false],
    [{ name: '', only: 'flagged' as const, strand: 'bow' as const }, true],
  ])('%o: %s', (show, shown) => {
    expect(isShown(ada, show)).toBe(shown);
  });
});
