import listeningFile from './listening.wasm?url';
import {
  INSTRUMENTS,
  TASKS,
  VERDICTS,
  writeNotes,
  type ListenFor,
  type Memory,
  type Verdict,
} from './hearing';
import type { Instrument } from '../api/client';

/* The simulated string in the page: tones to compare with, the trainer's questions, and the stand-in for a microphone. */

/** What the trainer asks. */
export type Ask = 'pluck' | 'bow' | 'pitch';

/** What a question of the trainer is. */
export type Answer = Verdict | 'lower' | 'higher';

/** Something to hear, and what it is. */
export interface Question {
  answer: Answer;
  samples: Float32Array<ArrayBuffer>;
}

const ASKS: readonly Ask[] = ['pluck', 'bow', 'pitch'];
const ANSWERS: readonly Answer[] = [...VERDICTS, 'lower', 'higher'];

interface Exports extends Memory {
  tone: (rate: number, hz: number, held: number, seconds: number) => number;
  question: (rate: number, ask: number, instrument: number, cents: number, seed: number) => number;
  answer_of: (ask: number, instrument: number, cents: number, seed: number) => number;
  next_cents: (cents: number, right: number) => number;
  stand_in_for: (rate: number, instrument: number, task: number) => number;
  samples: () => number;
}

export class Strings {
  private readonly exports: Exports;

  constructor(program: WebAssembly.Module) {
    this.exports = new WebAssembly.Instance(program).exports as unknown as Exports;
  }

  private taken(count: number): Float32Array<ArrayBuffer> {
    return new Float32Array(this.exports.memory.buffer, this.exports.samples(), count).slice();
  }

  tone(rate: number, hz: number, held: boolean, seconds: number): Float32Array<ArrayBuffer> {
    return this.taken(this.exports.tone(rate, hz, held ? 1 : 0, seconds));
  }

  question(
    rate: number,
    ask: Ask,
    instrument: Instrument,
    cents: number,
    seed: number,
  ): Question | undefined {
    const which = [ASKS.indexOf(ask), INSTRUMENTS.indexOf(instrument), cents, seed] as const;
    const answer = ANSWERS[this.exports.answer_of(...which)];
    return answer && { answer, samples: this.taken(this.exports.question(rate, ...which)) };
  }

  /** By how many cents the next two notes differ, after so many right answers in a row. */
  nextCents(cents: number, right: number): number {
    return this.exports.next_cents(cents, right);
  }

  standIn(rate: number, { instrument, task, notes }: ListenFor): Float32Array<ArrayBuffer> {
    writeNotes(this.exports, notes);
    return this.taken(this.exports.stand_in_for(rate, INSTRUMENTS.indexOf(instrument), TASKS.indexOf(task)));
  }
}

let loaded: Promise<Strings> | undefined;

/** The program, fetched the first time that something is to sound. */
export function loadStrings(): Promise<Strings> {
  loaded ??= WebAssembly.compileStreaming(fetch(listeningFile)).then((program) => new Strings(program));
  loaded.catch(() => {
    // Another tap tries again.
    loaded = undefined;
  });
  return loaded;
}
