import { describe, expect, it } from 'vitest';
import type { SeatPlan } from '../../api/client';
import { evenRows, moveTo, sitterOf, toggleLock, withRows } from './seating';

const plan: SeatPlan = {
  room: { widthMm: 9000, depthMm: 9000, rows: [2, 3] },
  seats: [
    { child: 'ada', row: 1, seat: 1, locked: false },
    { child: 'ben', row: 2, seat: 3, locked: false },
    { child: 'cy', row: 1, seat: 2, locked: true },
  ],
};
const positionOf = (one: SeatPlan, child: string) => {
  const seat = one.seats.find((sitter) => sitter.child === child);
  return seat && [seat.row, seat.seat];
};

describe('a move', () => {
  it('onto an empty chair leaves the old one free', () => {
    const moved = moveTo(plan, 'ada', { row: 2, seat: 1 });
    expect(positionOf(moved, 'ada')).toEqual([2, 1]);
    expect(sitterOf(moved, { row: 1, seat: 1 })).toBeUndefined();
  });

  it('onto a taken chair swaps the two', () => {
    const moved = moveTo(plan, 'ada', { row: 2, seat: 3 });
    expect([positionOf(moved, 'ada'), positionOf(moved, 'ben')]).toEqual([
      [2, 3],
      [1, 1],
    ]);
  });

  it('of somebody without a chair sends who sat there to the waiting list', () => {
    const moved = moveTo(plan, 'dan', { row: 2, seat: 3 });
    expect([positionOf(moved, 'dan'), positionOf(moved, 'ben')]).toEqual([[2, 3], undefined]);
  });

  it('neither takes a locked child away nor moves it', () => {
    expect(moveTo(plan, 'ada', { row: 1, seat: 2 })).toBe(plan);
    expect(moveTo(plan, 'cy', { row: 2, seat: 1 })).toBe(plan);
    const open = toggleLock(plan, 'cy');
    expect(positionOf(moveTo(open, 'cy', { row: 2, seat: 1 }), 'cy')).toEqual([2, 1]);
  });
});

describe('rows', () => {
  it('that are taken away leave their children without a chair', () => {
    expect(withRows(plan, [2, 2]).seats.map(({ child }) => child)).toEqual(['ada', 'cy']);
  });

  it('are shared out evenly, the fuller ones at the back', () => {
    expect(evenRows(36, 5)).toEqual([7, 7, 7, 7, 8]);
    expect(evenRows(2, 4)).toEqual([1, 1, 1, 1]);
  });
});
