import { describe, expect, it } from 'vitest';
import type { Schemas } from '../api/client';
import { groupWords, happenedAt, holidayWords, meetingWords, namesWords, percent, waitWords } from './term';

const CHILD = { id: 'a', name: 'Ada K.', instrument: 'violin' } as const;
const OTHER = { id: 'b', name: 'Ben O.', instrument: 'bass' } as const;

const MEETING: Schemas['MeetingThen'] = {
  meeting: 2,
  day: '2026-11-26',
  children: 2,
  strands: [0.5, 0.25, 0, 1],
  sections: { violin: 0.4 },
  visited: 1,
  minutes: 0.4,
  markers: { laid: 1, proved: 0, thinned: 0 },
};

function child(one: typeof CHILD | typeof OTHER): Schemas['ChildThen'] {
  return {
    child: one,
    joined: 1,
    strands: [0, 0, 0, 0],
    moved: false,
    strandsThen: [0, 0, 0, 0],
    waits: { looked: 0, longest: 2, now: 2 },
    reached: [{ stage: 'hold.1', meeting: 2 }],
    changes: one === OTHER ? [{ meeting: 2, from: 'bass 1/4', to: 'bass 1/2' }] : [],
  };
}

const TERM: Schemas['TermView'] = {
  meetings: [MEETING],
  holidays: [],
  stages: [{ id: 'hold.1', name: 'Hold 1, Fit', strand: 'hold', reached: [] }],
  strands: [],
  sections: [],
  slips: [
    {
      slip: 'x',
      name: 'Thumb locked',
      checkpointName: 'Bent thumb',
      children: 2,
      still: 1,
      times: [
        { child: 'a', from: 1, until: 2 },
        { child: 'b', from: 2 },
      ],
    },
  ],
  groups: [],
  children: [child(CHILD), child(OTHER)],
};

describe('what happened at a meeting', () => {
  it('is said in lines, and nothing of another meeting', () => {
    expect(happenedAt(TERM, 2)).toEqual([
      { what: 'From bass 1/4 to bass 1/2', who: 'Ben O.' },
      { what: 'Reached: Hold 1, Fit', who: 'Ada K. and Ben O.' },
      { what: 'Seen first: Thumb locked', who: 'Ben O.' },
      { what: 'Gone: Thumb locked', who: 'Ada K.' },
      { what: 'Markers laid', who: '1 instrument' },
    ]);
    expect(happenedAt(TERM, 7)).toEqual([]);
  });

  it('has its day, who was visited, and minutes with their unit', () => {
    expect(meetingWords(MEETING)).toBe('Thu 26 Nov: 1 of 2 children visited, 1 minute of looking');
    expect(meetingWords({ ...MEETING, minutes: 0, visited: 0 })).toContain('nobody looked');
  });

  it('names a few and counts the rest', () => {
    expect(namesWords(['A', 'B'])).toBe('A and B');
    expect(namesWords(['A', 'B', 'C', 'D', 'E', 'F', 'G', 'H'])).toBe('A, B, C, D, E, F and 2 more');
  });
});

describe('a small group', () => {
  const member = (looked: boolean, further: boolean) => ({
    child: CHILD,
    before: 1,
    after: 2,
    looked,
    further,
  });
  const group = (verdict: string, othersLooked: number): Schemas['KeptGroup'] => ({
    id: 'g',
    name: 'Bent thumb',
    checkpoint: 'bow.bent',
    checkpointName: 'Bent thumb',
    began: '2026-11-05',
    verdict,
    children: [member(true, true), member(true, false), member(false, false)],
    others: 4,
    othersLooked,
    othersFurther: 1,
  });

  it('says what its verdict rests on', () => {
    expect(groupWords(group('tooEarly', 0))).toBe('2 of 3 children looked at again since it began.');
    expect(groupWords(group('helped', 0))).toContain('nobody to compare with');
    expect(groupWords(group('helped', 4))).toBe(
      '1 of 2 came further since 5 Nov; of 4 others who stood there too, 1 did.',
    );
  });
});

it('shares, waits and holidays are words', () => {
  expect(percent(0.384)).toBe('38 %');
  expect(waitWords({ looked: 3, mean: 1.5, longest: 4, now: 1 })).toBe(
    '1.5 meetings on the mean, 4 at the longest',
  );
  expect(waitWords({ looked: 0, longest: 1, now: 1 })).toBe('nobody has looked yet, 1 meeting');
  expect(holidayWords({ first: '2026-11-02', last: '2026-11-06', reason: 'Autumn holiday' })).toBe(
    'Autumn holiday, 2 Nov to 6 Nov',
  );
  expect(holidayWords({ first: '2026-11-02', last: '2026-11-02', reason: '' })).toBe('No meeting, 2 Nov');
});
