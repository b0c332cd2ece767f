import { describe, expect, it } from 'vitest';
import type { RoundPlan, RoundQuestion } from '../api/client';
import cases from './planner.cases.json';
import { planRound } from './planner';

describe('the planner without a server', () => {
  const all = cases as unknown as { question: RoundQuestion; plan: RoundPlan }[];

  it('has cases of every kind to be held to', () => {
    const reasons = new Set(all.flatMap(({ plan }) => plan.notReached.map(({ reason }) => reason)));
    expect([...reasons].sort()).toEqual(['absent', 'longerThanTheRound', 'noTime', 'nothingToLookAt']);
    expect(all.length).toBeGreaterThanOrEqual(60);
  });

  it.each(all.map((one, number) => [number, one] as const))('plans case %i as the server does', (_, one) => {
    expect(planRound(one.question)).toEqual(one.plan);
  });
});
