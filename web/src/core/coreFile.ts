/** What a file of the core exports; crates/wasm says how they are used. */
interface Exports {
  memory: WebAssembly.Memory;
  room_for: (bytes: number) => number;
  call: () => number;
  answer: () => number;
}

/** A question that the core cannot answer: a fault of this page. */
export class CoreFault extends Error {}

const encoder = new TextEncoder();
const decoder = new TextDecoder();

/** What is there already, as React wants it: nothing waits for it. */
function settled(): Promise<void> {
  return Object.assign(Promise.resolve(), { status: 'fulfilled', value: undefined });
}

/** A part of the core that comes as one file. */
export class CoreFile {
  /** Another number each time that it was begun. */
  age = 0;
  private program: WebAssembly.Module | undefined;
  private exports: Exports | undefined;
  private loading: Promise<void> | undefined;
  private readonly waiting = new Set<() => void>();

  constructor(private readonly url: string) {}

  get there(): boolean {
    return this.exports !== undefined;
  }

  /** Takes it in. */
  take(from: WebAssembly.Module): void {
    this.program = from;
    this.exports = this.begun(from);
    this.loading ??= settled();
    this.waiting.forEach((listener) => listener());
  }

  /** Fetches it, once; after a failure the next call tries again. */
  load(): Promise<void> {
    this.loading ??= WebAssembly.compileStreaming(fetch(this.url)).then(
      (from) => this.take(from),
      (error: unknown) => {
        this.loading = undefined;
        throw error;
      },
    );
    return this.loading;
  }

  /** Says when it is there; the answer takes that back. */
  hear(listener: () => void): () => void {
    this.waiting.add(listener);
    return () => this.waiting.delete(listener);
  }

  ask(call: string, question: unknown): unknown {
    if (!this.exports || !this.program) throw new CoreFault('the core is not loaded yet');
    const { exports } = this;
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
      this.exports = this.begun(this.program);
      throw error;
    }
    const [ok, value] = JSON.parse(answer) as [true, unknown] | [false, string];
    if (!ok) throw new CoreFault(`${call}: ${value}`);
    return value;
  }

  private begun(from: WebAssembly.Module): Exports {
    this.age += 1;
    return new WebAssembly.Instance(from).exports as unknown as Exports;
  }
}
