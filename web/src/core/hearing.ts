import type { Instrument } from '../api/client';

/*
 * Listening as the audio thread does it: samples go into the core, moments come out. Nothing here may wait or need a page; it runs
 * beside the sound (see worklet.ts) and in tests.
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
  /** Which of the open strings is meant, the lowest first; -1 where none is. */
  place: number;
  /** How far above it. */
  cents: number;
  turn: Turn;
  /** Which strings are in tune, the lowest first. */
  done: boolean[];
}

/** What to do with a string. */
export type Turn = 'stay' | 'fine-up' | 'fine-down' | 'peg-up' | 'peg-down';

/** What is listened for. */
export interface ListenFor {
  instrument: Instrument;
  /** Its open strings, the lowest first, in hertz. */
  openHz: readonly number[];
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
const INSTRUMENTS: readonly Instrument[] = ['violin', 'viola', 'cello', 'bass'];
const NUMBERS = 8;
const BYTES = 8;

interface Exports {
  memory: WebAssembly.Memory;
  room_for: (bytes: number) => number;
  begin_to_listen: (rate: number, instrument: number, ...openHz: number[]) => number;
  hear: () => number;
  heard: () => number;
}

export class Hearing {
  private readonly exports: Exports;

  /** Throws where nobody listens at this rate. */
  constructor(program: WebAssembly.Module, rate: number, { instrument, openHz }: ListenFor) {
    this.exports = new WebAssembly.Instance(program).exports as unknown as Exports;
    const place = INSTRUMENTS.indexOf(instrument);
    const [first = 0, second = 0, third = 0, fourth = 0] = openHz;
    if (this.exports.begin_to_listen(rate, place, first, second, third, fourth) === 0)
      throw new RangeError(`nobody listens at ${rate} samples a second`);
  }

  hear(samples: Float32Array): Moment[] {
    const room = this.exports.room_for(samples.byteLength);
    const bytes = new Uint8Array(samples.buffer, samples.byteOffset, samples.byteLength);
    new Uint8Array(this.exports.memory.buffer, room, samples.byteLength).set(bytes);
    const count = this.exports.hear();
    if (count === 0) return [];
    const from = this.exports.heard();
    const numbers = new Float64Array(this.exports.memory.buffer.slice(from, from + count * NUMBERS * BYTES));
    return Array.from({ length: count }, (_, index) =>
      momentOf(numbers.subarray(index * NUMBERS, (index + 1) * NUMBERS)),
    );
  }
}

function momentOf(numbers: Float64Array): Moment {
  const [at = 0, levelDb = 0, hz = 0, confidence = 0, place = -1, cents = 0, turn = 0, bits = 0] = numbers;
  const done = [1, 2, 4, 8].map((bit) => (bits & bit) !== 0);
  return { at, levelDb, hz, confidence, place, cents, turn: TURNS[turn] ?? 'stay', done };
}
