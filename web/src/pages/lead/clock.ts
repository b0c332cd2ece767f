/** What beats are counted by: the sound's own clock, so that what is heard and what is counted never drift apart. */
export interface Clock {
  /** In seconds. */
  now: () => number;
  /** A tick at a moment of this clock; `loud` on the first beat of a part, `soft` between two beats. */
  tick: (at: number, kind: Tick) => void;
  /** Ticks that were planned and have not sounded yet are taken back. */
  hush: () => void;
}

export type Tick = 'loud' | 'plain' | 'soft';

const HZ: Record<Tick, number> = { loud: 1660, plain: 1240, soft: 980 };
const LOUDNESS: Record<Tick, number> = { loud: 0.5, plain: 0.32, soft: 0.14 };
/** Seconds that a tick sounds. */
const SECONDS = 0.045;

let context: AudioContext | undefined;

/** The clock of this device's sound. Where there is none, time goes on in silence. */
export function soundClock(): Clock {
  if (typeof AudioContext === 'undefined') {
    return { now: () => performance.now() / 1000, tick: () => undefined, hush: () => undefined };
  }
  context ??= new AudioContext();
  const audio = context;
  let planned: OscillatorNode[] = [];
  return {
    now: () => audio.currentTime,
    tick: (at, kind) => {
      void audio.resume();
      const oscillator = audio.createOscillator();
      const gain = audio.createGain();
      oscillator.frequency.value = HZ[kind];
      gain.gain.setValueAtTime(LOUDNESS[kind], at);
      gain.gain.exponentialRampToValueAtTime(0.001, at + SECONDS);
      oscillator.connect(gain).connect(audio.destination);
      oscillator.start(at);
      oscillator.stop(at + SECONDS);
      planned.push(oscillator);
      oscillator.addEventListener('ended', () => {
        planned = planned.filter((one) => one !== oscillator);
      });
    },
    hush: () => {
      for (const one of planned) one.stop();
      planned = [];
    },
  };
}

/** Before the first sound a browser wants a touch or a key: called from one. */
export function wakeSound(): void {
  void context?.resume();
}
