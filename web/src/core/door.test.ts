import { describe, expect, it } from 'vitest';
import { ask, CoreFault, type Question } from './door';

const plan = { room: { widthMm: 9000, depthMm: 9000, rows: [4, 4] }, seats: [] };
const rows = (children: number, rows: number) =>
  ask('seatPlan', { plan, change: { evenRows: { rows, children } } }).room.rows;

describe('the core in the page', () => {
  it('answers with its rules', () => {
    expect(rows(36, 5)).toEqual([7, 7, 7, 7, 8]);
    expect(rows(2, 4)).toEqual([1, 1]);
  });

  it('says what it cannot read, and answers the next question', () => {
    const nonsense = { plan, change: { evenRows: 'many' } } as unknown as Question<'seatPlan'>;
    expect(() => ask('seatPlan', nonsense)).toThrow(CoreFault);
    expect(() => ask('seatPlan', nonsense)).toThrow(/seatPlan: the question cannot be read/);
    expect(() => ask('noSuchCall' as 'seatPlan', nonsense)).toThrow(/no call noSuchCall/);
    expect(rows(4, 2)).toEqual([2, 2]);
  });

  it('takes a class far larger than any, in any script', () => {
    const known = Array.from({ length: 20_000 }, (_, index) => ({
      id: `00000000-0000-7000-8000-${String(index).padStart(12, '0')}`,
      round: '00000000-0000-7000-8000-000000000001',
      child: '00000000-0000-7000-8000-000000000002',
      target: 'hold.tall',
      slips: [],
      note: 'Schöne Grüße, 弦楽, نغمة 🎻',
      observedAt: '2026-11-24T10:00:00Z',
    }));
    const round = known[0]?.round ?? '';
    const { observations } = ask('roundObservations', { round, known, onTheirWay: [] });
    expect(observations).toHaveLength(20_000);
    expect(observations.at(-1)?.note).toBe(known[0]?.note);
  });
});
