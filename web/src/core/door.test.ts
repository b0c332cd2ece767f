import { describe, expect, it } from 'vitest';
import { ask, CoreFault, type Question } from './door';

describe('the core in the page', () => {
  it('answers with its rules', () => {
    expect(ask('evenRows', { count: 36, rows: 5 }).rows).toEqual([7, 7, 7, 7, 8]);
    expect(ask('evenRows', { count: 2, rows: 4 }).rows).toEqual([1, 1]);
  });

  it('says what it cannot read, and answers the next question', () => {
    const nonsense = { count: 'many', rows: 5 } as unknown as Question<'evenRows'>;
    expect(() => ask('evenRows', nonsense)).toThrow(CoreFault);
    expect(() => ask('evenRows', nonsense)).toThrow(/evenRows: the question cannot be read/);
    expect(() => ask('noSuchCall' as 'evenRows', { count: 1, rows: 1 })).toThrow(/no call noSuchCall/);
    expect(ask('evenRows', { count: 4, rows: 2 }).rows).toEqual([2, 2]);
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
