import { describe, expect, it } from 'vitest';
import type { StringView } from '../api/client';
import { dayWords, weekdayWords } from './dates';
import { centsWords, fingerWords, letterOf, noteWords, offWords, troubleWords } from './markers';
import { partWords } from './looks';
import { glyphWords, isDue, recheckWords, stringWords, visitWords } from './room';
import { capital, count, listed, small } from './text';

const string = (change: Partial<StringView>): StringView => ({
  strand: 'bow',
  glow: 0,
  seen: true,
  inWork: true,
  flags: [],
  ...change,
});

describe('one and many', () => {
  it.each([
    [0, '0 children'],
    [1, '1 child'],
    [2, '2 children'],
  ])('%i', (number, words) => {
    expect(count(number, 'child', 'children')).toBe(words);
  });

  it('takes an s where nothing else is said', () => {
    expect(count(3, 'meeting')).toBe('3 meetings');
    expect(count(1, 'meeting')).toBe('1 meeting');
  });

  it('begins a sentence in any script', () => {
    expect(capital('é')).toBe('É');
    expect(capital('')).toBe('');
    expect(capital('音')).toBe('音');
  });
});

describe('names in a sentence', () => {
  it.each([
    [[], ''],
    [['one'], 'one'],
    [['one', 'two'], 'one and two'],
    [['one', 'two', 'three'], 'one, two and three'],
  ])('%o', (names, words) => {
    expect(listed(names)).toBe(words);
  });

  it('begins small in the middle of one', () => {
    expect(small('Thumb clamped')).toBe('thumb clamped');
  });
});

describe('a part of the class', () => {
  it('is a row or a section', () => {
    expect(partWords({ key: 'row-2', row: 2, children: [] })).toBe('Row 2');
    expect(partWords({ key: 'bass', section: 'bass', children: [] })).toBe('Basses');
    expect(partWords(undefined)).toBe('');
  });
});

describe('a string of the glyph', () => {
  it.each([
    [{ seen: false }, 'Bow grip nothing seen yet'],
    [{ glow: 0 }, 'Bow grip looked at, not lit yet'],
    [{ glow: 0.01 }, 'Bow grip a little lit'],
    [{ glow: 0.4 }, 'Bow grip about half lit'],
    [{ glow: 0.7 }, 'Bow grip mostly lit'],
    [{ glow: 0.995 }, 'Bow grip fully lit'],
  ])('%o', (change, words) => {
    expect(stringWords(string(change))).toBe(words);
  });

  it('names what is due and every flag', () => {
    const due = string({
      strand: 'tape',
      glow: 1,
      recheck: { state: 'overdue', meetings: 2 },
      flags: ['pain', 'slip', 'tape'],
    });
    expect(stringWords(due)).toBe(
      'Tapes fully lit, due for 2 meetings, it hurts, a slip being worked on, tapes to put right',
    );
  });

  it('says nothing of what is fresh', () => {
    expect(stringWords(string({ recheck: { state: 'fresh', meetings: 3 } }))).not.toContain('meeting');
  });

  it('stands with the others in one sentence', () => {
    expect(glyphWords([string({ strand: 'hold', glow: 1 }), string({})])).toBe(
      'Hold fully lit; Bow grip looked at, not lit yet.',
    );
  });
});

describe('what is due', () => {
  it('is due from its meeting on', () => {
    expect(isDue(undefined)).toBe(false);
    expect(isDue({ state: 'fresh', meetings: 1 })).toBe(false);
    expect(isDue({ state: 'due' })).toBe(true);
    expect(isDue({ state: 'overdue', meetings: 1 })).toBe(true);
  });

  it('is counted in meetings', () => {
    expect(recheckWords({ state: 'due' })).toBe('due now');
    expect(recheckWords({ state: 'overdue', meetings: 1 })).toBe('due for 1 meeting');
    expect(recheckWords({ state: 'fresh', meetings: 4 })).toBe('again in 4 meetings');
  });
});

describe('the last visit', () => {
  it.each([
    [false, 0, 'not visited yet'],
    [false, 2, 'not visited yet, 2 meetings'],
    [true, 0, 'visited at this meeting'],
    [true, 1, 'visited at the last meeting'],
    [true, 5, 'visited 5 meetings ago'],
  ])('visited: %s, unseen for %i', (visited, meetingsUnseen, words) => {
    expect(visitWords({ visited, meetingsUnseen })).toBe(words);
  });
});

describe('a marker', () => {
  it('is off by whole cents, high or low', () => {
    expect(offWords(-13.6)).toBe('14 cents low');
    expect(offWords(1.2)).toBe('1 cent high');
  });

  it('is shown with the sign that a tuner shows', () => {
    expect([6.4, -14.2, 0.2, -0.2].map(centsWords)).toEqual(['+6 cents', '−14 cents', '0 cents', '0 cents']);
  });

  it.each([
    ['low1', 'low 1'],
    ['x4', 'stretched 4'],
    ['3', '3'],
  ])('of finger %s', (finger, words) => {
    expect(fingerWords(finger)).toBe(words);
  });

  it.each([
    ['F#4', 'F sharp', 'F'],
    ['Bb3', 'B flat', 'B'],
    ['D4', 'D', 'D'],
  ])('of the note %s', (note, words, letter) => {
    expect(noteWords(note)).toBe(words);
    expect(letterOf(note)).toBe(letter);
  });

  const spot = (change: object) => ({ spot: '2', presence: 'on', verdict: 'fine', ...change }) as never;

  it('in trouble is named, with as much as is known', () => {
    const spots = [
      spot({ verdict: 'move', cents: 17 }),
      spot({ spot: '3', presence: 'missing' }),
      spot({ spot: '4', presence: 'loose' }),
      spot({ spot: '1' }),
    ];
    expect(troubleWords({ spots, trouble: 'drifted' })).toBe(
      'marker 2 is 17 cents high, marker 3 is gone, marker 4 comes off',
    );
    expect(troubleWords({ spots: [spot({ verdict: 'move' })], trouble: 'drifted' })).toBe('marker 2 is off');
  });

  it('of another instrument is looked at before anything is said of it', () => {
    const spots = [spot({ verdict: 'move', cents: 17 })];
    expect(troubleWords({ spots, trouble: 'wrongInstrument' })).toBe(
      'another instrument than before: look at it',
    );
    expect(troubleWords({ spots: [] })).toBe('');
  });
});

describe('a day', () => {
  it('stays that day in every time zone', () => {
    expect(dayWords('2026-11-24')).toBe('24 Nov');
    expect(weekdayWords('2026-11-24')).toBe('Tue 24 Nov');
  });
});
