import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { describe, expect, it } from 'vitest';
import { Hearing, type Hear, type ListenFor } from './hearing';
import { Strings } from './strings';

const program = new WebAssembly.Module(readFileSync(join(import.meta.dirname, 'listening.wasm')));
const RATE = 48_000;
const open = [65.41, 98, 146.83, 220].map((hz) => ({ hz, finger: 0 }));
const cello: ListenFor = { instrument: 'cello', task: 'tune', notes: open };

/** What these samples say, in the pieces in which the audio thread gets them. */
function heard(hearing: Hearing, samples: Float32Array): Hear[] {
  const said: Hear[] = [];
  for (let from = 0; from < samples.length; from += 128) {
    const hear = hearing.hear(samples.slice(from, from + 128));
    if (hear) said.push(hear);
  }
  return said;
}

/** A tone of six partials. */
function tone(hz: number, seconds: number): Float32Array {
  return Float32Array.from({ length: Math.round((seconds * RATE) / 128) * 128 }, (_, at) => {
    const turn = (2 * Math.PI * hz * at) / RATE;
    return [1, 2, 3, 4, 5, 6].reduce((sum, k) => sum + Math.sin(turn * k) / k, 0) * 0.2;
  });
}

const last = (said: Hear[]) => said.at(-1)?.moment;

describe('the audio thread', () => {
  it('hears which string it is, how far off, what to do, and which are done', () => {
    const hearing = new Hearing(program, RATE, cello);
    const low = last(heard(hearing, tone(146.83 * 2 ** (-20 / 1200), 0.6)));
    expect(low).toMatchObject({ place: 2, turn: 'fine-up', done: [false, false, false, false] });
    expect(low?.cents).toBeCloseTo(-20, 0);
    expect(low?.confidence).toBeGreaterThan(0.8);
    const right = last(heard(hearing, tone(146.83, 1)));
    expect(right).toMatchObject({ place: 2, turn: 'stay', done: [false, false, true, false] });
    expect(last(heard(hearing, tone(98 * 2 ** (3 / 12), 0.6)))).toMatchObject({ place: 1, turn: 'peg-down' });
  });

  it('hears nothing in silence, a moment every 20 ms', () => {
    const hearing = new Hearing(program, RATE, cello);
    const moments = heard(hearing, new Float32Array(375 * 128)).map(({ moment }) => moment);
    expect(moments).toHaveLength(50);
    expect(new Set(moments.map((moment) => `${moment?.hz} ${moment?.place}`))).toEqual(new Set(['0 -1']));
    expect(hearing.hear(new Float32Array(0))).toBeUndefined();
  });

  it('hears a pluck that rings, a thud, and what a bow may do', () => {
    const sounds: ListenFor = { instrument: 'cello', task: 'sounds', notes: open };
    const said = heard(new Hearing(program, RATE, sounds), new Strings(program).standIn(RATE, sounds));
    expect(said.flatMap(({ over }) => over).map(({ kind, verdict }) => `${kind} ${verdict}`)).toEqual([
      'pluck rings',
      'pluck thud',
      'bow scratch',
      'bow glass',
      'bow jump',
      'bow two-strings',
    ]);
  });

  it('hears a hand finger by finger, and which of them is off', () => {
    const notes = [0, 2, 3, 4, 5].map((semitones, at) => ({ hz: 98 * 2 ** (semitones / 12), finger: at }));
    const run: ListenFor = { instrument: 'cello', task: 'run', notes };
    const said = heard(new Hearing(program, RATE, run), new Strings(program).standIn(RATE, run));
    expect(said.at(-1)?.run).toMatchObject({ pattern: 'one-off', finger: 2 });
    expect(said.at(-1)?.run?.off).toBeCloseTo(-47, 0);
    expect(said.at(-1)?.run?.cents.map(Math.round)).toEqual([0, 2, -45, 2, 2]);
    expect(said.flatMap(({ over }) => over)).toEqual([]);
  });

  it('hears a thud beside the open string, each sound once', () => {
    const what: ListenFor = { ...cello, task: 'sounds' };
    const said = heard(new Hearing(program, RATE, what), new Strings(program).standIn(RATE, what));
    const over = said.flatMap(({ over }) => over).filter(({ kind }) => kind !== 'noise');
    expect(over[0]).toMatchObject({ kind: 'pluck', verdict: 'rings', open: 2 });
    expect(over[1]).toMatchObject({ kind: 'pluck', verdict: 'thud', open: -1 });
    expect(over[1]?.openRingSeconds).toBe(over[0]?.ringSeconds);
    expect(said.at(-1)?.run).toBeUndefined();
  });

  it('says so where nobody listens at such a rate', () => {
    expect(() => new Hearing(program, 4_000, cello)).toThrow('4000 samples');
  });
});

describe('the simulated string', () => {
  const strings = new Strings(program);

  it.each([41.2, 98, 220, 442, 659.3])('sounds %d Hz, plucked and held, in tune to two cents', (hz) => {
    for (const held of [false, true]) {
      const instrument = hz < 60 ? 'bass' : hz < 190 ? 'cello' : 'violin';
      const hearing = new Hearing(program, RATE, { instrument, task: 'tune', notes: open });
      const at = last(heard(hearing, strings.tone(RATE, hz, held, 1)))?.hz ?? 0;
      expect(Math.abs(1200 * Math.log2(at / hz))).toBeLessThan(2);
    }
  });

  it('asks the same again for the same number, and has an answer for each', () => {
    const first = strings.question(RATE, 'bow', 'violin', 20, 7);
    const again = strings.question(RATE, 'bow', 'violin', 20, 7);
    expect(first?.answer).toBe(again?.answer);
    expect(first?.samples.length).toBeGreaterThan(RATE);
    const answers = Array.from(
      { length: 60 },
      (_, seed) => strings.question(8_000, 'bow', 'cello', 20, seed)?.answer,
    );
    expect(new Set(answers)).toEqual(new Set(['full', 'scratch', 'whisper', 'glass', 'wavers']));
    expect(['lower', 'higher']).toContain(strings.question(8_000, 'pitch', 'bass', 20, 1)?.answer);
    expect(strings.nextCents(40, 0)).toBeCloseTo(64);
  });

  it('makes nothing at a rate that is none', () => {
    expect(strings.tone(Number.NaN, 440, false, 1)).toHaveLength(0);
    expect(strings.tone(48_000, Number.NaN, true, 1)).toHaveLength(0);
  });
});
