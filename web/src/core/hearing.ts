import type { Instrument } from '../api/client';

/*
 * Listening as the audio thread does it: samples go into the core, what is heard comes out. Nothing here may wait or need a page; it
 * runs beside the sound (see worklet.ts) and in tests.
 */

/** What is heard at a moment; crates/wasm says what the numbers are. */
export interface Moment {
  /** Seconds since it began to listen. */
  at: number;
  /** Decibels below full scale. */
  levelDb: number;
  /** The pitch; 0 where none is sure. */
  hz: number;
  confidence: number;
  /** Which of the open strings, the lowest first, or of the notes of a run is meant; -1 where none is. */
  place: number;
  /** How far above it. */
  cents: number;
  turn: Turn;
  /** Which strings are in tune, the lowest first. */
  done: boolean[];
}

/** What to do with a string. */
export type Turn = 'stay' | 'fine-up' | 'fine-down' | 'peg-up' | 'peg-down';

/** How a sound was. */
export type Verdict =
  | 'rings'
  | 'short'
  | 'thud'
  | 'buzz'
  | 'full'
  | 'scratch'
  | 'whisper'
  | 'wavers'
  | 'glass'
  | 'jump'
  | 'two-strings';

/** A sound that is over. */
export interface Over {
  at: number;
  seconds: number;
  kind: 'pluck' | 'bow' | 'noise';
  hz: number;
  confidence: number;
  /** Seconds until a pluck was 20 dB quieter; 0 for what was not plucked. */
  ringSeconds: number;
  verdict: Verdict | undefined;
  /** The open string that is as high, the lowest first; -1: none. */
  open: number;
  /** Seconds that an open string of this instrument rang; 0 where none was heard. */
  openRingSeconds: number;
}

/** How a hand lies. */
export type HandPattern = 'in-tune' | 'all-low' | 'all-high' | 'one-off' | 'spread';

/** How far a run has come. */
export interface RunSoFar {
  /** How far above its note each was that was taken, a stopped one beside the open string before it. */
  cents: number[];
  /** What they say together; nothing before all were played. */
  pattern: HandPattern | undefined;
  /** The finger that is off, and by how much from the others. */
  finger: number;
  off: number;
}

/** What came out of some samples. */
export interface Hear {
  moment: Moment | undefined;
  over: Over[];
  run: RunSoFar | undefined;
}

/** A note to play. */
export interface PlayNote {
  hz: number;
  /** 1 to 4; 0: an open string, or another sound that those after it are compared with. */
  finger: number;
}

/** Four open strings to tune, notes one after the other, or whatever sounds beside the open strings. */
export type Task = 'tune' | 'run' | 'sounds';

/** What is listened for. */
export interface ListenFor {
  instrument: Instrument;
  task: Task;
  /** Open strings, the lowest first, or the notes of the run. */
  notes: readonly PlayNote[];
}

/** How it stands with the microphone. */
export type EarState =
  | 'off'
  | 'asked'
  | 'live'
  /** Nobody played for a minute. */
  | 'quiet'
  /** The microphone gives nothing: muted on the device. */
  | 'muted'
  | 'refused'
  | 'none'
  /** Another program has it. */
  | 'taken'
  | 'unplugged'
  /** This browser cannot listen. */
  | 'unable';

const TURNS: readonly Turn[] = ['stay', 'fine-up', 'fine-down', 'peg-up', 'peg-down'];
export const INSTRUMENTS: readonly Instrument[] = ['violin', 'viola', 'cello', 'bass'];
export const TASKS: readonly Task[] = ['tune', 'run', 'sounds'];
export const VERDICTS: readonly Verdict[] = [
  'rings',
  'short',
  'thud',
  'buzz',
  'full',
  'scratch',
  'whisper',
  'wavers',
  'glass',
  'jump',
  'two-strings',
];
const KINDS = ['pluck', 'bow', 'noise'] as const;
const PATTERNS: readonly (HandPattern | undefined)[] = [
  undefined,
  'in-tune',
  'all-low',
  'all-high',
  'one-off',
  'spread',
];
const NUMBERS = 8;
const OF_A_SOUND = 9;
const BYTES = 8;

/** What both the audio thread and the page ask of the program. */
export interface Memory {
  memory: WebAssembly.Memory;
  room_for: (bytes: number) => number;
}

interface Exports extends Memory {
  begin_to_listen: (rate: number, instrument: number, task: number) => number;
  hear: () => number;
  heard: () => number;
  sounds: () => number;
  run: () => number;
}

/** Writes the notes that count where the program reads them. */
export function writeNotes({ memory, room_for }: Memory, notes: readonly PlayNote[]): void {
  const bytes = notes.length * 2 * BYTES;
  const room = room_for(bytes);
  const view = new DataView(memory.buffer, room, bytes);
  notes.forEach(({ hz, finger }, at) => {
    view.setFloat64(at * 2 * BYTES, hz, true);
    view.setFloat64((at * 2 + 1) * BYTES, finger, true);
  });
}

export class Hearing {
  private readonly exports: Exports;

  /** Throws where nobody listens at this rate. */
  constructor(program: WebAssembly.Module, rate: number, { instrument, task, notes }: ListenFor) {
    this.exports = new WebAssembly.Instance(program).exports as unknown as Exports;
    writeNotes(this.exports, notes);
    if (this.exports.begin_to_listen(rate, INSTRUMENTS.indexOf(instrument), TASKS.indexOf(task)) === 0)
      throw new RangeError(`nobody listens at ${rate} samples a second`);
  }

  /** What these samples say; nothing where no moment is full. */
  hear(samples: Float32Array): Hear | undefined {
    const room = this.exports.room_for(samples.byteLength);
    const bytes = new Uint8Array(samples.buffer, samples.byteOffset, samples.byteLength);
    new Uint8Array(this.exports.memory.buffer, room, samples.byteLength).set(bytes);
    const count = this.exports.hear();
    if (count === 0) return undefined;
    const moment = momentOf(this.numbers(count * NUMBERS).slice(-NUMBERS));
    const sounds = this.exports.sounds();
    const over = this.numbers(sounds * OF_A_SOUND);
    const run = this.exports.run();
    return {
      moment,
      over: Array.from({ length: sounds }, (_, at) => overOf(over.slice(at * OF_A_SOUND))),
      run: run === 0 ? undefined : runOf(this.numbers(run)),
    };
  }

  private numbers(count: number): number[] {
    return [...new Float64Array(this.exports.memory.buffer, this.exports.heard(), count)];
  }
}

function momentOf(numbers: number[]): Moment {
  const [at = 0, levelDb = 0, hz = 0, confidence = 0, place = -1, cents = 0, turn = 0, bits = 0] = numbers;
  const done = [1, 2, 4, 8].map((bit) => (bits & bit) !== 0);
  return { at, levelDb, hz, confidence, place, cents, turn: TURNS[turn] ?? 'stay', done };
}

function overOf(numbers: number[]): Over {
  const [at = 0, seconds = 0, kind = 2, hz = 0, confidence = 0, ringSeconds = 0, verdict = -1] = numbers;
  const [open = -1, openRingSeconds = 0] = numbers.slice(7);
  return {
    at,
    seconds,
    kind: KINDS[kind] ?? 'noise',
    hz,
    confidence,
    ringSeconds,
    verdict: VERDICTS[verdict],
    open,
    openRingSeconds,
  };
}

function runOf([pattern = 0, finger = 0, off = 0, ...cents]: number[]): RunSoFar {
  return { cents, pattern: PATTERNS[pattern], finger, off };
}
