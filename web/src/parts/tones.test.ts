import { describe, expect, it } from 'vitest';
import { plucked } from './tones';

/** The frequency at which a sound repeats itself best, near a guess. */
function heard(sound: Float32Array, rate: number, guess: number): number {
  let best = 0;
  let most = -Infinity;
  for (let hz = guess * 0.97; hz <= guess * 1.03; hz *= 1.0004) {
    // Many periods apart a small difference shows.
    const lag = (rate / hz) * 12;
    const whole = Math.floor(lag);
    const part = lag - whole;
    let sum = 0;
    for (let index = 4000; index < 24000; index += 1) {
      const later = (sound[index + whole] ?? 0) * (1 - part) + (sound[index + whole + 1] ?? 0) * part;
      sum += (sound[index] ?? 0) * later;
    }
    if (sum > most) [most, best] = [sum, hz];
  }
  return best;
}

describe('a plucked tone', () => {
  // A noise that is the same every time.
  const noise = () => {
    let seed = 1;
    return () => {
      seed = (seed * 16807) % 2147483647;
      return seed / 2147483647;
    };
  };

  it.each([41.2, 98, 220, 442, 659.3])('of %d Hz is in tune to two cents', (hz) => {
    const rate = 44_100;
    const sound = plucked(hz, rate, 1.5, noise());
    expect(Math.abs(1200 * Math.log2(heard(sound, rate, hz) / hz))).toBeLessThan(2);
  });

  it('rings on and dies away', () => {
    const sound = plucked(220, 44_100, 2, noise());
    const loudness = (from: number) =>
      Math.sqrt(sound.slice(from, from + 4000).reduce((sum, at) => sum + at * at, 0) / 4000);
    expect(loudness(1000)).toBeGreaterThan(0.05);
    expect(loudness(80_000)).toBeLessThan(loudness(1000) / 2);
    expect(loudness(80_000)).toBeGreaterThan(0);
  });
});
