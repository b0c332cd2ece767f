import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import { ApiProblem, NoAnswer, type NewObservation } from '../api/client';
import { ObservationOutbox, type OutboxWiring } from './outbox';

let number = 0;

function observation(target = 'hold.rest'): NewObservation {
  number += 1;
  return {
    id: `observation-${number}`,
    child: 'ada',
    target,
    level: 3,
    via: 'visit',
    observedAt: '2026-11-24T10:00:00Z',
  };
}

function problem(status: number, detail = 'No.'): ApiProblem {
  return new ApiProblem({ type: '/problems/x', title: 'x', status, detail });
}

const stored: OutboxWiring['send'] = (_, observations) =>
  Promise.resolve(observations.map(({ id }) => ({ id, outcome: 'stored' })));

function outboxThat(send: OutboxWiring['send']) {
  const wiring = { send: vi.fn(send), readBack: vi.fn(() => Promise.resolve()), onSignedOut: vi.fn() };
  return { outbox: new ObservationOutbox(wiring), ...wiring };
}

describe('the outbox', () => {
  beforeEach(() => {
    vi.useFakeTimers();
  });
  afterEach(() => {
    vi.useRealTimers();
  });

  it('keeps an observation over the page until what follows from it has been read back', async () => {
    const { outbox, readBack } = outboxThat(stored);
    let read: () => void = () => undefined;
    readBack.mockImplementation(() => new Promise<void>((resolve) => (read = resolve)));
    outbox.add('class', observation(), 'Ada');
    await vi.advanceTimersByTimeAsync(0);
    expect(outbox.snapshot().pending).toMatchObject([{ state: 'stored' }]);
    read();
    await vi.advanceTimersByTimeAsync(0);
    expect(outbox.snapshot().pending).toEqual([]);
  });

  it('has nothing drawn again where nothing was left', async () => {
    const { outbox } = outboxThat(stored);
    const drawn = vi.fn();
    outbox.subscribe(drawn);
    const before = outbox.snapshot();
    await outbox.signedInAs('ada@one.example');
    expect(drawn).not.toHaveBeenCalled();
    expect(outbox.snapshot()).toBe(before);
  });

  it('tries again until the server answers, with the same ids and in order', async () => {
    let down = 2;
    const { outbox, send } = outboxThat((classId, observations) => {
      down -= 1;
      return down >= 0 ? Promise.reject(new NoAnswer()) : stored(classId, observations);
    });
    const observations = [observation(), observation('hold.raise')];
    observations.forEach((one) => {
      outbox.add('class', one, 'Ada');
    });
    await vi.advanceTimersByTimeAsync(10);
    expect(outbox.snapshot().line).toBe('held');
    expect(outbox.snapshot().pending).toHaveLength(2);
    await vi.advanceTimersByTimeAsync(60_000);
    expect(outbox.snapshot()).toMatchObject({ pending: [], line: 'open', refused: [] });
    expect(send.mock.lastCall?.[1].map(({ id }) => id)).toEqual(observations.map(({ id }) => id));
  });

  it('says when one that is named elsewhere has arrived, and at once that the server does not answer', async () => {
    let arrive: () => void = () => undefined;
    let down = false;
    const { outbox } = outboxThat(async (classId, observations) => {
      if (down) throw new NoAnswer();
      await new Promise<void>((resolve) => (arrive = resolve));
      return stored(classId, observations);
    });
    await outbox.answered('of another day');
    const one = observation();
    outbox.add('class', one, 'Ada');
    const order: string[] = [];
    const answered = outbox.answered(one.id).then(() => order.push('answered'));
    await vi.advanceTimersByTimeAsync(10);
    order.push('arrives');
    arrive();
    await answered;
    expect(order).toEqual(['arrives', 'answered']);
    down = true;
    const other = observation();
    outbox.add('class', other, 'Ada');
    await expect(outbox.answered(other.id)).rejects.toThrow(NoAnswer);
    expect(outbox.snapshot().pending).toHaveLength(1);
  });

  it('goes on at once when the network is back', async () => {
    let down = true;
    const { outbox } = outboxThat((classId, observations) =>
      down ? Promise.reject(new NoAnswer()) : stored(classId, observations),
    );
    outbox.add('class', observation(), 'Ada');
    await vi.advanceTimersByTimeAsync(0);
    down = false;
    outbox.retryNow();
    await vi.advanceTimersByTimeAsync(0);
    expect(outbox.snapshot().pending).toEqual([]);
  });

  it('takes a refused observation back with its reason and keeps the others', async () => {
    const { outbox } = outboxThat((_, observations) =>
      Promise.resolve(
        observations.map(({ id, target }) =>
          target === 'hold.rest' ? { id, outcome: 'refused', reason: 'Why.' } : { id, outcome: 'stored' },
        ),
      ),
    );
    outbox.add('class', observation('hold.rest'), 'Ada, rest');
    outbox.add('class', observation('hold.raise'), 'Ada, raise');
    await vi.advanceTimersByTimeAsync(0);
    expect(outbox.snapshot().refused).toMatchObject([{ label: 'Ada, rest', reason: 'Why.' }]);
    expect(outbox.snapshot().made).toMatchObject([{ label: 'Ada, raise' }]);
    outbox.dismiss();
    expect(outbox.snapshot().refused).toEqual([]);
  });

  it('waits for a sign-in without losing anything', async () => {
    let signedIn = false;
    const { outbox, onSignedOut } = outboxThat((classId, observations) =>
      signedIn ? stored(classId, observations) : Promise.reject(problem(401)),
    );
    outbox.add('class', observation(), 'Ada');
    await vi.advanceTimersByTimeAsync(0);
    expect(outbox.snapshot().line).toBe('signedOut');
    expect(onSignedOut).toHaveBeenCalled();
    signedIn = true;
    outbox.retryNow();
    await vi.advanceTimersByTimeAsync(0);
    expect(outbox.snapshot()).toMatchObject({ pending: [], line: 'open' });
  });

  it('gives up on a batch that the server will never take, and says why', async () => {
    const { outbox } = outboxThat(() => Promise.reject(problem(404, 'There is no such class.')));
    outbox.add('class', observation(), 'Ada');
    await vi.advanceTimersByTimeAsync(0);
    expect(outbox.snapshot()).toMatchObject({
      pending: [],
      refused: [{ reason: 'There is no such class.' }],
    });
  });

  it('sends observations of different classes apart', async () => {
    const { outbox, send } = outboxThat(stored);
    outbox.add('one', observation(), 'Ada');
    outbox.add('two', observation(), 'Ben');
    outbox.add('one', observation(), 'Ada');
    await vi.advanceTimersByTimeAsync(0);
    expect(send.mock.calls.map(([classId, observations]) => [classId, observations.length])).toEqual([
      ['one', 1],
      ['two', 1],
      ['one', 1],
    ]);
  });

  it('undoes by an observation of its own and forgets both for the next undo', async () => {
    const { outbox, send } = outboxThat(stored);
    const first = observation();
    const second = observation('hold.raise');
    outbox.add('class', first, 'first');
    outbox.add('class', second, 'second');
    outbox.undo('class', second, 'undo');
    await vi.advanceTimersByTimeAsync(0);
    expect(outbox.snapshot().made).toMatchObject([{ label: 'first' }]);
    const sent = send.mock.calls.flatMap(([, observations]) => observations);
    expect(sent.at(-1)).toMatchObject({ retracts: second.id, target: 'hold.raise', child: 'ada' });
    expect(sent.at(-1)).not.toHaveProperty('level');
  });
});
