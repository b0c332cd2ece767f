import { whenIdle } from '../whenIdle';
import { use, useSyncExternalStore } from 'react';
import file from './bright_row.wasm?url';
import type { paths } from './door.gen';

/*
 * The door to the core: the rules of Bright Row, the same as on the server, run in the page. A question goes in and its
 * answer comes out at once, without a server; nothing is remembered between two.
 */

export type Call = keyof paths;
/** What a call takes. */
export type Question<C extends Call> = paths[C]['post']['requestBody']['content']['application/json'];
/** What it answers. */
export type Answer<C extends Call> = paths[C]['post']['responses'][200]['content']['application/json'];

/** What the file exports; crates/wasm says how they are used. */
interface Exports {
  memory: WebAssembly.Memory;
  room_for: (bytes: number) => number;
  call: () => number;
  answer: () => number;
}

/** A question that the core cannot answer: a fault of this page. */
export class CoreFault extends Error {}

let program: WebAssembly.Module | undefined;
let exports: Exports | undefined;
let age = 0;
let loading: Promise<void> | undefined;
const waiting = new Set<() => void>();

/** Takes the core in from its file. */
export function takeCore(from: WebAssembly.Module): void {
  program = from;
  exports = begun(from);
  loading ??= settled();
  waiting.forEach((listener) => listener());
}

function begun(from: WebAssembly.Module): Exports {
  age += 1;
  return new WebAssembly.Instance(from).exports as unknown as Exports;
}

/** Another number for every core that was begun: a new one has learnt nothing yet. */
export function coreAge(): number {
  return age;
}

async function load(): Promise<void> {
  takeCore(await WebAssembly.compileStreaming(fetch(file)));
}

/** What is there already, as React wants it: nothing waits for it. */
function settled(): Promise<void> {
  return Object.assign(Promise.resolve(), { status: 'fulfilled', value: undefined });
}

/** Loads the core, once; after a failure the next call tries again. */
export function loadCore(): Promise<void> {
  loading ??= load().catch((error: unknown) => {
    loading = undefined;
    throw error;
  });
  return loading;
}

/** Whether questions can be asked; loads the core if they cannot. */
export function useCoreIsThere(): boolean {
  return useSyncExternalStore(hear, () => exports !== undefined);
}

function hear(listener: () => void): () => void {
  waiting.add(listener);
  // A page that shows the server's answers goes on without it, and is drawn first.
  if (!exports) whenIdle(() => void loadCore().catch(() => undefined));
  return () => waiting.delete(listener);
}

const encoder = new TextEncoder();
const decoder = new TextDecoder();

/** Asks the core. It has to be there: see `useCore`. */
export function ask<C extends Call>(call: C, question: Question<C>): Answer<C> {
  if (!exports || !program) throw new CoreFault('the core is not loaded yet');
  const bytes = encoder.encode(JSON.stringify([call, question]));
  let answer: string;
  try {
    const room = exports.room_for(bytes.length);
    if (room === 0) throw new CoreFault('the question is too long');
    new Uint8Array(exports.memory.buffer, room, bytes.length).set(bytes);
    const length = exports.call();
    answer = decoder.decode(new Uint8Array(exports.memory.buffer, exports.answer(), length));
  } catch (error) {
    // What broke off in the middle is not asked again: the next question meets a core begun anew.
    exports = begun(program);
    throw error;
  }
  const [ok, value] = JSON.parse(answer) as [true, Answer<C>] | [false, string];
  if (!ok) throw new CoreFault(`${call}: ${value}`);
  return value;
}

/** The core for a component that cannot be drawn without it: it waits until the core is there. */
export function useCore(): typeof ask {
  // Always: a component that waited has to ask for the same again when it goes on.
  use(loadCore());
  return ask;
}
