import { expect, it } from 'vitest';
import type { Schemas } from '../api/client';
import { weekWords } from './home';

it('says once what is the same on days that follow each other', () => {
  const bow: Schemas['HomeBlock'] = { kind: 'bow-shape', minutes: 3, presses: false };
  const taps: Schemas['HomeBlock'] = { kind: 'finger-strength', minutes: 2, count: 15, presses: true };
  const day = (date: string, ...blocks: Schemas['HomeBlock'][]) => ({ date, blocks });
  expect(
    weekWords([
      day('2026-11-30', bow),
      day('2026-12-01', bow),
      day('2026-12-03', bow, taps),
      day('2026-12-05', bow, taps),
    ]),
  ).toEqual([
    { when: 'Mon 30 Nov to Tue 1 Dec', what: 'Bow hand 3 min' },
    { when: 'Thu 3 Dec', what: 'Bow hand 3 min · Finger taps 2 min, 15 each' },
    { when: 'Sat 5 Dec', what: 'Bow hand 3 min · Finger taps 2 min, 15 each' },
  ]);
  expect(weekWords([])).toEqual([]);
});
