import { describe, expect, it } from 'vitest';
import type { Clock, Tick } from './clock';
import { Metronome } from './metronome';

/** A clock that is moved by hand, and the ticks that would be heard. */
function handClock() {
  let time = 3.7;
  let planned: { at: number; kind: Tick }[] = [];
  const heard: { at: number; kind: Tick }[] = [];
  const clock: Clock = {
    now: () => time,
    tick: (at, kind) => planned.push({ at, kind }),
    hush: () => {
      planned = [];
    },
  };
  const move = (seconds: number) => {
    time += seconds;
    heard.push(...planned.filter(({ at }) => at <= time));
    planned = planned.filter(({ at }) => at > time);
  };
  return { clock, heard, move };
}

/** A page that looks late, now and then very late; the same in every run. */
function* lateLooks(): Generator<number> {
  let state = 12345;
  for (;;) {
    state = (state * 1103515245 + 12345) % 2147483648;
    yield 0.02 + (state / 2147483648) * (state % 17 === 0 ? 0.34 : 0.06);
  }
}

const plain = () => ({ kind: 'plain' as const, parts: 1 });

function play(metronome: Metronome, move: (seconds: number) => void, until: number) {
  let spent = 0;
  metronome.plan();
  for (const late of lateLooks()) {
    if (spent >= until) return;
    move(late);
    spent += late;
    metronome.plan();
  }
}

describe('the metronome', () => {
  it.each([40, 72, 97, 120])(
    'does not drift in five minutes at %i a minute, however late the page looks',
    (tempo) => {
      const { clock, heard, move } = handClock();
      const beats = tempo * 5;
      const metronome = new Metronome(clock, tempo, 0, beats, plain);
      play(metronome, move, 302);
      expect(heard).toHaveLength(beats);
      heard.forEach(({ at }, beat) => expect(at).toBeCloseTo(3.82 + (beat * 60) / tempo, 6));
      expect(metronome.beat()).toBe(beats);
    },
  );

  it('makes as many ticks as there are beats, and counts what is heard', () => {
    const { clock, heard, move } = handClock();
    const metronome = new Metronome(clock, 60, 0, 4, plain);
    const counted: number[] = [];
    metronome.plan();
    for (let look = 0; look < 120; look += 1) {
      move(0.05);
      metronome.plan();
      counted.push(metronome.beat());
      expect(heard.length).toBeGreaterThanOrEqual(Math.min(4, metronome.beat()));
    }
    expect(heard).toHaveLength(4);
    expect([...new Set(counted)]).toEqual([0, 1, 2, 3, 4]);
  });

  it('goes on at another tempo from the next beat, without a beat lost or doubled', () => {
    const { clock, heard, move } = handClock();
    const metronome = new Metronome(clock, 60, 0, 12, plain);
    play(metronome, move, 3.3);
    metronome.setTempo(120);
    play(metronome, move, 8);
    expect(heard).toHaveLength(12);
    const gaps = heard.slice(1).map(({ at }, index) => at - (heard[index]?.at ?? 0));
    expect(gaps.map((gap) => Math.round(gap * 1000))).toEqual([
      1000,
      1000,
      1000,
      1000,
      ...Array<number>(7).fill(500),
    ]);
  });

  it('says syllables within the beat and nothing after it was stopped', () => {
    const { clock, heard, move } = handClock();
    const metronome = new Metronome(clock, 60, 0, 8, (beat) => ({ kind: 'loud', parts: beat === 1 ? 3 : 1 }));
    play(metronome, move, 2.5);
    expect(heard.map(({ kind }) => kind)).toEqual(['loud', 'loud', 'soft', 'soft', 'loud']);
    metronome.stop();
    move(5);
    expect(heard).toHaveLength(5);
  });
});
