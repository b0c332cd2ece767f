import { afterEach, beforeEach, expect, it, vi } from 'vitest';
import { ApiProblem } from './client';
import { whenLessBusy } from './whenLessBusy';

beforeEach(() => void vi.useFakeTimers());
afterEach(() => void vi.useRealTimers());

const problem = (status: number, kind: string) =>
  new ApiProblem({ type: `/problems/${kind}`, title: '', status, detail: kind });

it('asks again where the server was too busy, and takes what comes then', async () => {
  const ask = vi.fn().mockRejectedValueOnce(problem(503, 'too-busy')).mockResolvedValue('in');
  const answer = whenLessBusy(ask);
  await vi.advanceTimersByTimeAsync(1_900);
  expect(ask).toHaveBeenCalledTimes(1);
  await vi.advanceTimersByTimeAsync(200);
  await expect(answer).resolves.toBe('in');
  expect(ask).toHaveBeenCalledTimes(2);
});

it('gives up after two more, and asks nothing again that was answered', async () => {
  const busy = vi.fn().mockRejectedValue(problem(503, 'too-busy'));
  const answer = expect(whenLessBusy(busy)).rejects.toThrow('too-busy');
  await vi.advanceTimersByTimeAsync(10_000);
  await answer;
  expect(busy).toHaveBeenCalledTimes(3);
  const refused = vi.fn().mockRejectedValue(problem(403, 'not-allowed'));
  await expect(whenLessBusy(refused)).rejects.toThrow('not-allowed');
  expect(refused).toHaveBeenCalledTimes(1);
});
