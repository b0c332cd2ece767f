import { ThemeProvider } from '@mui/material/styles';
import { cleanup, fireEvent, render, screen } from '@testing-library/react';
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import type { EarState, Moment, Over, RunSoFar } from '../core/hearing';
import { ear, OFF } from '../testing/ear';
import { show } from '../testing/server';
import { theme } from '../theme';
import {
  EAR_WORDS,
  handSpeaksFor,
  handWords,
  heardWords,
  nearWords,
  offWords,
  overWords,
  soundSpeaksFor,
} from '../words/listening';
import { Ear } from './Ear';
import { RunEar } from './RunEar';
import { SoundEar } from './SoundEar';

vi.mock('./useEar', () => import('../testing/ear'));

beforeEach(() => {
  ear.now = OFF;
});
afterEach(() => {
  cleanup();
  vi.clearAllMocks();
});

const strings = [
  { letter: 'G', hz: 196 },
  { letter: 'D', hz: 293.66 },
  { letter: 'A', hz: 440 },
  { letter: 'E', hz: 659.26 },
];
const moment = (change: Partial<Moment> = {}): Moment => ({
  at: 1,
  levelDb: -20,
  hz: 290,
  confidence: 0.9,
  place: 1,
  cents: -12.4,
  turn: 'fine-up',
  done: [true, false, false, false],
  ...change,
});
const listen = (state: EarState, heard?: Moment, toneSounds = false) => {
  ear.now = { ...OFF, state, moment: heard };
  const onListen = vi.fn();
  show(<Ear instrument="violin" strings={strings} toneSounds={toneSounds} onListen={onListen} />, '/', '/');
  return onListen;
};

describe('tuning by the microphone', () => {
  it('asks for it only when tapped, and says before that nothing is kept', () => {
    const onListen = listen('off');
    expect(screen.getByText(/nothing is stored, nothing is sent/)).toBeTruthy();
    expect(ear.turnOn).not.toHaveBeenCalled();
    fireEvent.click(screen.getByRole('button', { name: 'Tune by the microphone' }));
    expect(onListen).toHaveBeenCalled();
    expect(ear.turnOn).toHaveBeenCalledWith({
      instrument: 'violin',
      task: 'tune',
      notes: [196, 293.66, 440, 659.26].map((hz) => ({ hz, finger: 0 })),
    });
  });

  it('shows the string, how far off it is, and what is done', () => {
    listen('live', moment());
    const words = 'D: 12 cents low, fine tuner a little clockwise';
    expect(screen.getByRole('img', { name: words })).toBeTruthy();
    expect(screen.getByRole('status').textContent).toBe(words);
    expect(screen.getByLabelText('G, in tune')).toBeTruthy();
    expect(screen.getByLabelText('D, not done')).toBeTruthy();
    // Left of the mark, which is in the middle of 400.
    const drop = document.querySelector('circle.finger');
    expect(Number(drop?.getAttribute('cx'))).toBeLessThan(190);
    fireEvent.click(screen.getByRole('button', { name: 'Stop listening' }));
    expect(ear.turnOff).toHaveBeenCalled();
  });

  it('says when all four are in tune', () => {
    listen('live', moment({ cents: 1, turn: 'stay', done: [true, true, true, true] }));
    expect(screen.getByRole('status').textContent).toContain('the next child');
    expect(document.querySelector('circle.right')).toBeTruthy();
  });

  it('goes on listening for the next child, without a tap', () => {
    ear.now = { ...OFF, state: 'live', moment: moment({ done: [true, true, true, true] }) };
    const onAll = vi.fn();
    const of = (whose: string) => (
      <Ear
        instrument="violin"
        strings={strings}
        toneSounds={false}
        onListen={() => undefined}
        onAll={onAll}
        whose={whose}
      />
    );
    const { rerender } = render(<ThemeProvider theme={theme}>{of('a')}</ThemeProvider>);
    expect(onAll).toHaveBeenCalledTimes(1);
    // Moments come fifty times a second; it is said once.
    rerender(<ThemeProvider theme={theme}>{of('a')}</ThemeProvider>);
    expect(onAll).toHaveBeenCalledTimes(1);
    ear.turnOn.mockClear();
    rerender(<ThemeProvider theme={theme}>{of('b')}</ThemeProvider>);
    expect(ear.turnOn).toHaveBeenCalledTimes(1);
  });

  it('says that it is a simulated instrument', () => {
    ear.now = { ...OFF, simulated: true };
    listen('live', moment());
    expect(screen.queryByText(/Simulated/)).toBeNull();
    cleanup();
    ear.now = { ...OFF, state: 'live', moment: moment(), simulated: true };
    show(<Ear instrument="violin" strings={strings} toneSounds={false} onListen={vi.fn()} />, '/', '/');
    expect(screen.getByText(/Simulated: an instrument of the demo school plays/)).toBeTruthy();
  });

  it('stops while a tone sounds, which it would hear instead', () => {
    listen('live', moment(), true);
    expect(ear.turnOff).toHaveBeenCalled();
  });

  it.each(Object.entries(EAR_WORDS) as [EarState, string][])('says what to do: %s', (state, words) => {
    listen(state, state === 'muted' ? moment({ hz: 0, place: -1 }) : undefined);
    expect(screen.getByRole('alert').textContent).toBe(words);
    expect(screen.queryByRole('button', { name: 'Listen again' }) === null).toBe(state === 'muted');
  });
});

describe('a run of notes', () => {
  const notes = [
    { hz: 196, finger: 0, words: 'open G' },
    { hz: 392, finger: 1, words: 'marker 3 on D' },
  ];
  const over = ({ cents }: RunSoFar) => `Marker 3: ${nearWords(cents[1] ?? 0)}.`;
  const run = (now: Partial<typeof OFF>) => {
    ear.now = { ...OFF, state: 'live', ...now };
    const after = vi.fn((_: RunSoFar, again: () => void) => <button onClick={again}>Again</button>);
    show(
      <RunEar
        name="Hear"
        begin="By the microphone"
        instrument="violin"
        notes={notes}
        overWords={over}
        after={after}
      />,
      '/',
      '/',
    );
    return after;
  };
  const soFar = (...cents: number[]): RunSoFar => ({ cents, pattern: undefined, finger: 0, off: 0 });

  it('asks for one note after the other, and says how far off it is', () => {
    const after = run({ moment: moment({ place: -1, hz: 0, levelDb: -60 }), run: soFar() });
    expect(screen.getByRole('status').textContent).toBe('Now open G.');
    cleanup();
    run({ moment: moment({ place: 1, cents: 14.2 }), run: soFar(-3) });
    expect(screen.getByRole('status').textContent).toBe('Marker 3 on D: 14 cents high, hold it.');
    expect(screen.getByText('✓ Open G, 3 cents low')).toBeTruthy();
    cleanup();
    run({ moment: moment({ place: -1, hz: 300, levelDb: -20 }), run: soFar(-3) });
    expect(screen.getByRole('status').textContent).toContain('what sounds is another note');
    expect(after).not.toHaveBeenCalled();
  });

  it('shows what came of it, and what can be done, once all was played', () => {
    const after = run({ moment: moment({ place: -1, hz: 0 }), run: soFar(-3, 14.4) });
    expect(screen.getByRole('img', { name: 'Marker 3: 14 cents high.' })).toBeTruthy();
    expect(after).toHaveBeenCalled();
    fireEvent.click(screen.getByRole('button', { name: 'Again' }));
    expect(ear.turnOn).toHaveBeenCalledWith({
      instrument: 'violin',
      task: 'run',
      notes: [
        { hz: 196, finger: 0 },
        { hz: 392, finger: 1 },
      ],
    });
  });

  it('says what a hand comes to, and what that speaks for', () => {
    const hand = (change: Partial<RunSoFar>): RunSoFar => ({ ...soFar(0, 0, 0, 0), ...change });
    const low = hand({ pattern: 'one-off', finger: 2, off: -47 });
    expect(handWords(low)).toBe('Finger 2 is 47 cents low, the others are right with each other.');
    expect(handSpeaksFor(low)).toEqual(['second-low', 'one-off']);
    expect(handSpeaksFor(hand({ pattern: 'one-off', finger: 2, off: 30 }))).toEqual(['one-off']);
    expect(handWords(hand({ pattern: 'all-high', off: 24 }))).toBe('All fingers are 24 cents high alike.');
    expect(handSpeaksFor(hand({ pattern: 'all-high', off: 24 }))).toEqual(['all-high']);
    expect(handWords(hand({ pattern: 'in-tune' }))).toBe('The hand is in tune.');
    expect(handSpeaksFor(hand({ pattern: 'in-tune' }))).toEqual([]);
    expect(handWords(hand({ pattern: 'spread' }))).toContain('once more');
  });
});

describe('ring and tone', () => {
  const sound = (change: Partial<Over> = {}): Over => ({
    at: 1,
    seconds: 0.4,
    kind: 'pluck',
    hz: 500,
    confidence: 0.9,
    ringSeconds: 0.084,
    verdict: 'thud',
    open: -1,
    openRingSeconds: 0.621,
    ...change,
  });

  it('says how the last sound was, beside the open string', () => {
    ear.now = {
      ...OFF,
      state: 'live',
      over: [sound({ verdict: 'rings' }), sound(), sound({ kind: 'noise' })],
    };
    const after = vi.fn((over: Over) => <span>{over.verdict}</span>);
    show(<SoundEar instrument="cello" openHz={[65, 98, 147, 220]} after={after} />, '/', '/');
    expect(screen.getByRole('status').textContent).toBe('A thud: 0.08 s; the open string rings 0.62 s.');
    expect(screen.getByText('thud')).toBeTruthy();
  });

  it('says first what to play, and when nobody can say', () => {
    ear.now = { ...OFF, state: 'live' };
    show(<SoundEar instrument="cello" openHz={[65, 98, 147, 220]} after={() => null} />, '/', '/');
    expect(screen.getByRole('status').textContent).toContain('Pluck an open string');
    expect(overWords(sound({ verdict: undefined }))).toContain('once more');
    expect(overWords(sound({ kind: 'bow', verdict: 'scratch', ringSeconds: 0 }))).toBe('A scratch.');
    expect(soundSpeaksFor(sound({ verdict: 'rings' }))).toEqual([]);
    expect(soundSpeaksFor(sound())).toEqual(['thud']);
    const jump = sound({ kind: 'bow', verdict: 'jump', ringSeconds: 0 });
    expect([overWords(jump), soundSpeaksFor(jump)]).toEqual(['A jump at the turn.', ['jump']]);
    const two = sound({ kind: 'bow', verdict: 'two-strings', ringSeconds: 0 });
    expect([overWords(two), soundSpeaksFor(two)]).toEqual(['Two strings at once.', ['two-strings']]);
  });
});

describe('what is heard', () => {
  it('is said in cents, then in half semitones', () => {
    expect([-1.2, 12.6, -94, 100, -160, 330].map(offWords)).toEqual([
      '1 cent low',
      '13 cents high',
      '94 cents low',
      '1 semitone high',
      '1.5 semitones low',
      '3.5 semitones high',
    ]);
  });

  it('is not made up where nothing is sure', () => {
    const letters = ['E', 'A', 'D', 'G'];
    expect(heardWords(undefined, letters, 'bass')).toBe('Listening: play one open string.');
    expect(heardWords(moment({ place: -1, hz: 0, levelDb: -55 }), letters, 'bass')).toBe(
      'Listening: play one open string.',
    );
    expect(heardWords(moment({ place: -1, hz: 0, levelDb: -20 }), letters, 'bass')).toContain('Not sure');
    expect(heardWords(moment({ turn: 'peg-down', cents: 220 }), letters, 'bass')).toBe(
      'A: 2 semitones high, machine, until it is lower',
    );
  });
});
