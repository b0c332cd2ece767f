import { describe, expect, it } from 'vitest';
import type { Schemas } from '../api/client';
import { sizeReason } from './measures';

const mm = (value: number) => `${value} mm`;

describe('why a size is proposed', () => {
  const arm = { measure: 'armMm', valueMm: 545, between: false } as const;
  const cases: [Schemas['SizeProposal'], string][] = [
    [{ ...arm, reason: 'fromOn', proposed: '3/4', fromMm: 545 }, 'Arm of 545 mm: 3/4 is from 545 mm on.'],
    [
      {
        ...arm,
        reason: 'between',
        proposed: '1/2',
        fromMm: 510,
        between: true,
        larger: '3/4',
        largerFromMm: 550,
      },
      'Arm of 545 mm: 1/2 is from 510 mm on, 3/4 from 550 mm. Between two sizes take the smaller.',
    ],
    [
      {
        ...arm,
        measure: 'heightMm',
        valueMm: 1290,
        reason: 'spanReaches',
        proposed: '1/2',
        fromMm: 1300,
        spanMm: 130,
        spanFromMm: 125,
      },
      'Height of 1290 mm is just below 1/2 (from 1300 mm), and the span of 130 mm reaches it (from 125 mm).',
    ],
    [
      { ...arm, valueMm: 300, reason: 'tooSmall', smallest: '1/16', fromMm: 350 },
      'Arm of 300 mm is below the smallest size (1/16, from 350 mm): too small to fit, ask the shop.',
    ],
    [{ ...arm, valueMm: 300, reason: 'tooSmall' }, 'Arm of 300 mm: too small to fit, ask the shop.'],
  ];
  it.each(cases)('%o', (proposal, words) => {
    expect(sizeReason(proposal, mm)).toBe(words);
  });

  it('in the unit of the device', () => {
    const inches = (value: number) => `${(value / 25.4).toFixed(1)} in`;
    expect(sizeReason({ ...arm, valueMm: 508, reason: 'fromOn', proposed: '1/2', fromMm: 508 }, inches)).toBe(
      'Arm of 20.0 in: 1/2 is from 20.0 in on.',
    );
  });
});
