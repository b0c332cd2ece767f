import { describe, expect, it } from 'vitest';
import type { Schemas } from '../api/client';
import { markerName } from './markers';
import { entryWords, lookWords, thinningWords, workWords } from './tapeLog';

const mm = (value: number) => `${value.toFixed(1)} mm`;
const inches = (value: number) => `${(value / 25.4).toFixed(2)} in`;

describe('an entry of the log', () => {
  const cases: [Schemas['TapeWork'], string][] = [
    [{ kind: 'measured', lengthMm: 328 }, 'String measured: 328.0 mm'],
    [{ kind: 'placed', spots: ['1', 'low2'] }, 'Laid: 1, low 2'],
    [
      { kind: 'placed', spots: ['thumb'], strips: { widthMm: 3, align: 'nutEdge' } },
      'Laid: thumb pad (3.0 mm strips, nut side on the line)',
    ],
    [{ kind: 'positions', edges: { '1': 35.8, x4: 100 } }, 'Measured: 1 at 35.8 mm, stretched 4 at 100.0 mm'],
    [
      { kind: 'heard', finger: '3', proof: 'openString', heard: 'true' },
      'Heard 3 true, against an open string',
    ],
    [
      { kind: 'heard', finger: 'low1', proof: 'tone', heard: 'high' },
      'Heard low 1 high, against a reference tone',
    ],
    [
      { kind: 'heard', finger: '2', proof: 'tuner', heard: { cents: -14.4 } },
      'Heard 2 −14 cents, with a tuner',
    ],
    [
      { kind: 'heard', finger: '2', proof: 'step', heard: { cents: 6 } },
      'Heard 2 +6 cents, by steps from a proved marker',
    ],
    [{ kind: 'heard', finger: '2', proof: 'tuner', heard: { cents: 0.2 } }, 'Heard 2 0 cents, with a tuner'],
    [{ kind: 'held' }, 'Still there, still true'],
    [{ kind: 'loose', spots: ['3'] }, 'Coming off: 3'],
    [{ kind: 'missing', spots: ['line'] }, 'Gone: line on finger 1'],
    [{ kind: 'bridge' }, 'Bridge moved'],
    [{ kind: 'bridge', movedMm: 2 }, 'Bridge moved by 2.0 mm, away from the nut'],
    [{ kind: 'bridge', movedMm: -1.5 }, 'Bridge moved by 1.5 mm, towards the nut'],
    [{ kind: 'strings' }, 'New strings'],
    [{ kind: 'thinned', spots: ['4'] }, 'Taken away: 4'],
    [{ kind: 'back', spots: ['4'] }, 'On again: 4'],
    [{ kind: 'bare' }, 'Every marker taken away'],
    [{ kind: 'undone', event: 'e' }, 'Taken back'],
  ];
  it.each(cases)('%o', (work, words) => {
    expect(workWords(work, mm)).toBe(words);
    expect(entryWords({ work }, mm)).toBe(words);
  });

  it('gives lengths in the unit of the device', () => {
    expect(workWords({ kind: 'measured', lengthMm: 254 }, inches)).toBe('String measured: 10.00 in');
  });

  it.each([
    ['tape.measured', true, 'string length on record'],
    ['tape.measured', false, 'not the instrument on record'],
    ['tape.placed', true, 'markers on'],
    ['tape.placed', false, 'markers loose or missing'],
    ['tape.heard', false, 'not true by ear'],
    ['tape.off', true, 'none left, in tune'],
    ['tape.4', true, 'still there, still true'],
    ['tape.4', false, 'no longer true'],
  ])('a look at %s, %s', (target, there, words) => {
    expect(lookWords({ target, there })).toBe(`Seen in class: ${words}`);
    expect(entryWords({ look: { target, there } }, mm)).toBe(`Seen in class: ${words}`);
  });
});

describe('whether a marker may go', () => {
  const looks = { child: 'Ada K.', landedLooks: 1, wantedLooks: 2 };
  it.each([
    [{ wanting: 'marker' }, 'No marker is on.'],
    [{ wanting: 'child' }, 'Nobody of the class has it.'],
    [
      { wanting: 'landing' },
      'A marker may go once Ada K. lands in tune with eyes away in 2 looks at different meetings; so far 1.',
    ],
    [{ wanting: 'ear' }, 'A marker may go once every marker that is on was heard true.'],
    [
      { next: 'x4', landedLooks: 2 },
      'Ada K. landed in tune with eyes away in the last 2 looks, and every marker was heard true: marker stretched 4 may go.',
    ],
  ] as [Partial<Schemas['ThinningView']>, string][])('%o', (change, words) => {
    expect(thinningWords({ ...looks, ...change })).toBe(words);
  });

  it('names every spot as it is said', () => {
    expect(['1', 'low1', 'x2', 'thumb', 'line'].map(markerName)).toEqual([
      '1',
      'low 1',
      'stretched 2',
      'thumb pad',
      'line on finger 1',
    ]);
  });
});
