import { configure } from '@testing-library/react';

// A busy machine draws slowly: what is waited for may take its time.
configure({ asyncUtilTimeout: 10_000 });
/** In the place of the network while tests run: whatever a test puts here answers. */
type Answer = (input: RequestInfo | URL, init?: RequestInit) => Promise<Response>;

const nobody: Answer = () => Promise.reject(new TypeError('no network in tests'));
let answer = nobody;

export function answerWith(next: Answer | undefined): void {
  answer = next ?? nobody;
}

// The typed client takes hold of both when it is loaded, so they are set before any test file is.
const Plain = globalThis.Request;
globalThis.Request = class extends Plain {
  constructor(input: RequestInfo | URL, init?: RequestInit) {
    super(typeof input === 'string' && input.startsWith('/') ? `http://here${input}` : input, init);
  }
};
globalThis.fetch = (input, init) => answer(input, init);

/** The line on which a server says that something changed; in tests nothing is said. */
class Quiet extends EventTarget {
  close = (): void => undefined;
}
globalThis.EventSource = Quiet as unknown as typeof EventSource;
