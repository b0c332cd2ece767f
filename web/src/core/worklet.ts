import { Hearing, type ListenFor } from './hearing';

/*
 * Runs in the audio thread, which has no window: what it needs comes in when it is made, what it hears goes out as messages.
 */

interface Options {
  processorOptions: ListenFor & { program: WebAssembly.Module };
}

declare const sampleRate: number;
declare class AudioWorkletProcessor {
  readonly port: MessagePort;
}
declare function registerProcessor(
  name: string,
  processor: new (options: Options) => AudioWorkletProcessor,
): void;

class Ear extends AudioWorkletProcessor {
  private readonly hearing: Hearing;

  constructor({ processorOptions }: Options) {
    super();
    this.hearing = new Hearing(processorOptions.program, sampleRate, processorOptions);
  }

  process([input]: Float32Array[][]): boolean {
    const channel = input?.[0];
    const heard = channel && this.hearing.hear(channel);
    if (heard) this.port.postMessage(heard);
    return true;
  }
}

registerProcessor('ear', Ear);
