import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { describe, expect, it } from 'vitest';
import { Hearing, type Moment } from './hearing';

const program = new WebAssembly.Module(readFileSync(join(import.meta.dirname, 'listening.wasm')));
const RATE = 48_000;
const cello = { instrument: 'cello' as const, openHz: [65.41, 98, 146.83, 220] };

/** A tone of six partials, in the pieces in which the audio thread gets it. */
function heard(hearing: Hearing, hz: number, seconds: number): Moment[] {
  const moments: Moment[] = [];
  for (let from = 0; from < seconds * RATE; from += 128) {
    const piece = Float32Array.from({ length: 128 }, (_, index) => {
      const turn = (2 * Math.PI * hz * (from + index)) / RATE;
      return [1, 2, 3, 4, 5, 6].reduce((sum, k) => sum + Math.sin(turn * k) / k, 0) * 0.2;
    });
    moments.push(...hearing.hear(piece));
  }
  return moments;
}

describe('the audio thread', () => {
  it('hears which string it is, how far off, what to do, and which are done', () => {
    const hearing = new Hearing(program, RATE, cello);
    const low = heard(hearing, 146.83 * 2 ** (-20 / 1200), 0.6).at(-1);
    expect(low).toMatchObject({ place: 2, turn: 'fine-up', done: [false, false, false, false] });
    expect(low?.cents).toBeCloseTo(-20, 0);
    expect(low?.confidence).toBeGreaterThan(0.8);
    const right = heard(hearing, 146.83, 1).at(-1);
    expect(right).toMatchObject({ place: 2, turn: 'stay', done: [false, false, true, false] });
    expect(heard(hearing, 98 * 2 ** (3 / 12), 0.6).at(-1)).toMatchObject({ place: 1, turn: 'peg-down' });
  });

  it('hears nothing in silence, a moment every 20 ms', () => {
    const hearing = new Hearing(program, RATE, cello);
    const moments = Array.from({ length: 375 }, () => hearing.hear(new Float32Array(128))).flat();
    expect(moments).toHaveLength(50);
    expect(new Set(moments.map(({ hz, place }) => `${hz} ${place}`))).toEqual(new Set(['0 -1']));
    expect(hearing.hear(new Float32Array(0))).toEqual([]);
  });

  it('says so where nobody listens at such a rate', () => {
    expect(() => new Hearing(program, 4_000, cello)).toThrow('4000 samples');
  });
});
