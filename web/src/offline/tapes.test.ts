import { describe, expect, it } from 'vitest';
import type { NewTapeEntry, TapeSpot } from '../api/client';
import { overlaySpots } from './tapes';

const at = '2026-11-24T10:00:00Z';

function spot(id: TapeSpot['spot'], change: Partial<TapeSpot> = {}): TapeSpot {
  return { spot: id, wanted: true, presence: 'on', proved: true, verdict: 'true', ...change };
}

function after(spots: TapeSpot[], ...entries: Partial<NewTapeEntry>[]): TapeSpot[] {
  const pending = entries.map((entry, index) => ({
    classId: 'c',
    label: '',
    state: 'waiting' as const,
    item: { id: String(index), asset: 'a', at, kind: 'held' as const, ...entry },
  }));
  return overlaySpots('a', spots, pending);
}

describe('work on its way to the log', () => {
  it('shows at once what was laid, lost, taken away and laid again', () => {
    const never = spot('1', { presence: 'never', proved: false });
    expect(after([never], { kind: 'placed', spots: ['1'] })[0]).toMatchObject({
      presence: 'on',
      proved: false,
    });
    expect(
      after([spot('1'), spot('2')], { kind: 'missing', spots: ['2'] }).map(({ presence }) => presence),
    ).toEqual(['on', 'missing']);
    expect(after([spot('1')], { kind: 'thinned', spots: ['1'] })[0]?.presence).toBe('taken');
    expect(
      after([spot('1')], { kind: 'thinned', spots: ['1'] }, { kind: 'back', spots: ['1'] })[0],
    ).toMatchObject({ presence: 'on', proved: false });
  });

  it('shows what was heard, and that nothing unheard is proved by a glance', () => {
    expect(after([spot('1')], { kind: 'heard', finger: '1', heard: 'high' })[0]).toMatchObject({
      proved: false,
      verdict: 'move',
    });
    expect(after([spot('1', { verdict: 'move', proved: false })], { kind: 'held' })[0]?.proved).toBe(true);
    const { verdict, ...unheard } = spot('1', { proved: false });
    expect(verdict).toBe('true');
    expect(after([unheard], { kind: 'held' })[0]?.proved).toBe(false);
  });

  it('says nothing of other instruments', () => {
    const spots = [spot('1')];
    expect(overlaySpots('b', spots, [])).toBe(spots);
    expect(after(spots, { asset: 'b', kind: 'missing', spots: ['1'] })).toEqual(spots);
  });
});
