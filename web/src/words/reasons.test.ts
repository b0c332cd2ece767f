import { describe, expect, it } from 'vitest';
import type { Schemas } from '../api/client';
import { askedWords, changesWords, pairWords, withoutWords } from './reasons';

describe('why a child gets an instrument', () => {
  const pair = (change: Partial<Schemas['PairView']>): Schemas['PairView'] => ({
    child: 'c',
    name: 'C',
    instrument: 'viola',
    asset: 'a',
    tag: 'A-1',
    size: '13',
    fits: '14',
    gap: { kind: 'exact' },
    present: false,
    fair: false,
    locked: false,
    ...change,
  });
  it.each([
    [{}, '14 fits'],
    [{ gap: { kind: 'smaller', sizes: 1 } }, 'one size smaller than 14'],
    [{ gap: { kind: 'smaller', sizes: 2 } }, '2 sizes smaller than 14: for the time being'],
    [{ gap: { kind: 'larger' } }, 'one size larger than 14: just below it'],
    [
      { gap: { kind: 'unknown' }, present: true, fair: true, locked: true },
      'not measured yet: kept, has it already, in fair condition, kept by you',
    ],
  ] as [Partial<Schemas['PairView']>, string][])('%o', (change, words) => {
    expect(pairWords(pair(change))).toBe(words);
  });

  it('or none', () => {
    const one = { child: 'd', name: 'D', instrument: 'viola' } as const;
    expect(withoutWords(one)).toBe('Measure first: without a measure no size can be proposed.');
    expect(withoutWords({ ...one, fits: '14' })).toBe(
      'No viola of 14 or just below is free: on the order list.',
    );
  });
});

describe('what changes', () => {
  it('of a child, field by field', () => {
    const words = changesWords([
      { field: 'name', from: 'Ada K.', to: 'Ada Q.' },
      { field: 'instrument', from: 'violin', to: 'viola' },
      { field: 'grade', from: '', to: '5' },
      { field: 'number', from: '12', to: '' },
      { field: 'nearFront', from: false, to: true },
      { field: 'nearAisle', from: true, to: false },
    ]);
    expect(words).toBe(
      'name Ada K. to Ada Q., violin to viola, grade none to 5, number 12 to none, near the front: yes, near an aisle: no',
    );
    expect(changesWords([])).toBe('');
  });

  it.each([
    [{ kind: 'not' }, ''],
    [{ kind: 'words', text: 'Thumb bent' }, 'Thumb bent'],
    [{ kind: 'opensAfter', names: [] }, 'Open from the first day'],
    [{ kind: 'opensAfter', names: ['Hold 2, Rest'] }, 'Opens after Hold 2, Rest'],
    [
      { kind: 'opensAfter', names: ['Hold 2, Rest', 'Bent thumb'] },
      'Opens after Hold 2, Rest and Bent thumb',
    ],
  ] as [Schemas['Asked'], string][])('of what is asked: %o', (asked, words) => {
    expect(askedWords(asked)).toBe(words);
  });
});
