import { expect, it } from 'vitest';
import type { FamilyAnswer } from '../api/client';
import { answersOf, backWith } from './familyAnswers';

const answer = (id: string, rest: Partial<FamilyAnswer>): FamilyAnswer => ({
  id,
  child: 'ada',
  at: '2026-11-30T10:00:00Z',
  ...rest,
});

it('lays the last of each over what the server said, and takes back what was taken back', () => {
  const back = { days: 2, daysBy: 'a', says: 'easy', saysBy: 'b' } as const;
  expect(backWith(back, [])).toEqual(back);
  const more = [answer('c', { days: 5 }), answer('d', { says: 'tight' })];
  expect(backWith(back, more)).toEqual({ days: 5, daysBy: 'c', says: 'tight', saysBy: 'd' });
  expect(backWith(back, [answer('e', { retracts: 'a' })])).toEqual({ says: 'easy', saysBy: 'b' });
  expect(backWith(undefined, [answer('c', { days: 0 })])).toEqual({ days: 0, daysBy: 'c' });
});

it('takes back with a second tap, and takes the flag down where it does not hurt after all', () => {
  expect(answersOf({}, { days: 3 })).toEqual([{ days: 3 }]);
  expect(answersOf({ days: 3, daysBy: 'a' }, { days: 3 })).toEqual([{ retracts: 'a' }]);
  expect(answersOf({ days: 3, daysBy: 'a' }, { days: 4 })).toEqual([{ days: 4 }]);
  const sore = { says: 'hurts', saysBy: 'b' } as const;
  expect(answersOf(sore, { says: 'easy' })).toEqual([{ retracts: 'b' }, { says: 'easy' }]);
  expect(answersOf(sore, { says: 'hurts', hurtsAt: 'bow' })).toEqual([{ retracts: 'b' }]);
});
