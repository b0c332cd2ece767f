import { act, cleanup, fireEvent, screen, waitFor, within } from '@testing-library/react';
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import type { RoomChild, Schemas } from '../../api/client';
import { queryClient } from '../../api/queries';
import type { Moment } from '../../core/hearing';
import type { Answer, Ask } from '../../core/strings';
import { answerWith } from '../../testing/network';
import { ear, OFF } from '../../testing/ear';
import { serverThat, show } from '../../testing/server';
import { EarPart } from './EarPart';
import { TuningPart } from './TuningPart';
import { NO_SCORE, scored } from './useScore';

vi.mock('../../parts/useEar', () => import('../../testing/ear'));
const tones = vi.hoisted(() => ({
  playSamples: vi.fn<(samples: Float32Array) => void>(),
  soundRate: () => 48_000,
  hush: vi.fn(),
}));
vi.mock('../../parts/tones', () => tones);
const strings = vi.hoisted(() => ({
  answer: 'thud',
  question: vi.fn<(rate: number, ask: Ask, instrument: string, cents: number, seed: number) => unknown>(),
  nextCents: (cents: number, right: number) => (right === 0 ? cents * 2 : cents / 2),
}));
vi.mock('../../core/strings', () => ({ loadStrings: () => Promise.resolve(strings) }));

beforeEach(() => {
  ear.now = OFF;
  strings.question.mockImplementation(() => ({
    answer: strings.answer as Answer,
    samples: new Float32Array(3),
  }));
  window.localStorage.clear();
});
afterEach(() => {
  cleanup();
  answerWith(undefined);
  queryClient.clear();
  vi.clearAllMocks();
  vi.useRealTimers();
});

const child = (
  name: string,
  instrument: RoomChild['instrument'],
  row?: number,
  seat?: number,
): RoomChild => ({
  id: name.toLowerCase().replace(/\W/g, ''),
  name,
  instrument,
  brightness: 0.5,
  meetingsUnseen: 0,
  visited: true,
  strings: [],
  ...(row !== undefined && seat !== undefined && { seat: { row, seat } }),
});
const tuned = (instrument: Schemas['Instrument'], hz: number[]): Schemas['TunedStrings'] => ({
  instrument,
  strings: hz.map((one, at) => ({ note: ['G3', 'D4', 'A4', 'E5'][at] ?? '', hz: one, fingers: [] })),
});
const STRINGS = [tuned('violin', [196, 293.66, 442, 659.26]), tuned('cello', [65, 98, 147, 220])];
const moment = (done: boolean[]): Moment => ({
  at: 1,
  levelDb: -20,
  hz: 290,
  confidence: 0.9,
  place: 1,
  cents: 1,
  turn: 'stay',
  done,
});

async function tuning(children: RoomChild[]) {
  serverThat({
    'GET /room': () => ({ json: { children } }),
    'GET /rules': () => ({ json: { rules: {}, strings: STRINGS } }),
  });
  show(<TuningPart />);
  await screen.findByRole('region', { name: 'Tuning' });
}

describe('the class’s tuning', () => {
  const everybody = [
    child('Cy P.', 'cello'),
    child('Ben O.', 'cello', 1, 2),
    child('Ada K.', 'violin', 1, 1),
  ];

  it('goes through the seats, one tap for each, and says who is done', async () => {
    await tuning(everybody);
    expect(screen.getByRole('status').textContent).toBe('0 of 3 in tune');
    expect(screen.getByRole('region', { name: 'Tuning now: Ada K.' })).toBeTruthy();
    expect(screen.getByText('442 Hz')).toBeTruthy();
    fireEvent.click(screen.getByRole('button', { name: 'In tune, next' }));
    expect(screen.getByRole('region', { name: 'Tuning now: Ben O.' })).toBeTruthy();
    // Who is passed over comes again at the end.
    fireEvent.click(screen.getByRole('button', { name: 'Later' }));
    expect(screen.getByRole('region', { name: 'Tuning now: Cy P.' }).textContent).toContain('no seat');
    fireEvent.click(screen.getByRole('button', { name: 'In tune, next' }));
    expect(screen.getByRole('region', { name: 'Tuning now: Ben O.' })).toBeTruthy();
    expect(screen.getByRole('button', { name: '✓ Ada K., violin' })).toBeTruthy();
    fireEvent.click(screen.getByRole('button', { name: 'In tune, next' }));
    expect(screen.getByText(/Everybody is in tune/)).toBeTruthy();
    fireEvent.click(screen.getByRole('button', { name: 'Tune afresh' }));
    expect(screen.getByRole('status').textContent).toBe('0 of 3 in tune');
  });

  it('goes to the next child by itself once four strings are in tune', async () => {
    vi.useFakeTimers({ toFake: ['setTimeout', 'clearTimeout'], shouldAdvanceTime: true });
    ear.now = { ...OFF, state: 'live', moment: moment([true, true, true, true]) };
    await tuning([child('Dia V.', 'violin', 2, 1), child('Eli W.', 'violin', 2, 2)]);
    expect(screen.getByRole('region', { name: 'Tuning now: Dia V.' })).toBeTruthy();
    ear.turnOn.mockClear();
    ear.now = { ...OFF, state: 'live', moment: moment([false, false, false, false]) };
    await act(() => vi.advanceTimersByTimeAsync(2_500));
    expect(screen.getByRole('region', { name: 'Tuning now: Eli W.' })).toBeTruthy();
    expect(ear.turnOn).toHaveBeenCalledTimes(1);
  });

  it('says so in an empty class', async () => {
    await tuning([]);
    expect(screen.getByText(/nothing to tune/)).toBeTruthy();
  });
});

describe('the trainer', () => {
  it('plays a sound, says what it was and what helps first, and keeps the score on this device', async () => {
    strings.answer = 'thud';
    show(<EarPart />);
    fireEvent.click(screen.getByRole('button', { name: 'Play a sound' }));
    const answers = await screen.findByRole('group', { name: 'Answers' });
    expect(tones.playSamples).toHaveBeenCalledTimes(1);
    expect(
      within(answers)
        .getAllByRole('button')
        .map(({ textContent }) => textContent),
    ).toEqual(['It rings', 'A thud', 'A buzz']);
    fireEvent.click(within(answers).getByRole('button', { name: 'A buzz' }));
    expect(await screen.findByText('It was: a thud. Hear it once more.')).toBeTruthy();
    expect(screen.getByText(/does not hold it down/)).toBeTruthy();
    await screen.findByText(/0 of 1 sound heard, 0 in a row/);
    fireEvent.click(screen.getByRole('button', { name: 'Next sound' }));
    await waitFor(() => expect(screen.queryByText(/It was:/)).toBeNull());
    fireEvent.click(screen.getByRole('button', { name: 'A thud' }));
    expect(await screen.findByText('Yes: a thud.')).toBeTruthy();
    await screen.findByText(/1 of 2 sounds heard, 1 in a row/);
    expect(JSON.parse(window.localStorage.getItem('bright-row.trainer') ?? '{}')).toMatchObject({
      pluck: { asked: 2, right: 1 },
    });
  });

  it('asks for smaller differences after right answers', async () => {
    strings.answer = 'lower';
    show(<EarPart />);
    fireEvent.click(screen.getByRole('radio', { name: 'Lower or higher?' }));
    fireEvent.click(screen.getByRole('button', { name: 'Play a sound' }));
    fireEvent.click(await screen.findByRole('button', { name: 'The second is lower' }));
    await screen.findByText(/differ by 25 cents/);
    fireEvent.click(screen.getByRole('button', { name: 'Next sound' }));
    await waitFor(() => expect(strings.question).toHaveBeenCalledTimes(2));
    expect(strings.question.mock.calls[1]?.[3]).toBe(25);
  });

  it('reads whatever stands in its place as no score', () => {
    window.localStorage.setItem('bright-row.trainer', '{"pluck":{"asked":"many","right":-1},"bow":7');
    show(<EarPart />);
    expect(screen.getByText(/Nothing asked yet/)).toBeTruthy();
  });

  it('counts answers', () => {
    const next = (cents: number, inARow: number) => cents - inARow;
    const one = scored(NO_SCORE, true, next);
    expect(one).toEqual({ asked: 1, right: 1, inARow: 1, cents: 49 });
    expect(scored(one, false, next)).toEqual({ asked: 2, right: 1, inARow: 0, cents: 49 });
  });
});
