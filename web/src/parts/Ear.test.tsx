import { cleanup, fireEvent, screen } from '@testing-library/react';
import { afterEach, describe, expect, it, vi } from 'vitest';
import type { EarState, ListenFor, Moment } from '../core/hearing';
import { show } from '../testing/server';
import { EAR_WORDS, heardWords, offWords } from '../words/listening';
import { Ear } from './Ear';

const ear = vi.hoisted(() => {
  const now: { state: EarState; moment: Moment | undefined } = { state: 'off', moment: undefined };
  return {
    now,
    turnOn: vi.fn<(what: ListenFor) => Promise<void>>(() => Promise.resolve()),
    turnOff: vi.fn(),
  };
});
vi.mock('./useEar', () => ({ useEar: () => ({ ...ear.now, turnOn: ear.turnOn, turnOff: ear.turnOff }) }));

afterEach(() => {
  cleanup();
  vi.clearAllMocks();
  ear.now = { state: 'off', moment: undefined };
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
  ear.now = { state, moment: heard };
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
    expect(ear.turnOn).toHaveBeenCalledWith({ instrument: 'violin', openHz: [196, 293.66, 440, 659.26] });
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
