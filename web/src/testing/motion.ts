import { vi } from 'vitest';

/** What the browser says of whether somebody prefers that nothing moves; `vi.unstubAllGlobals` takes it back. */
export function prefersStill(prefers: boolean): void {
  vi.stubGlobal('matchMedia', (query: string) => ({
    matches: prefers && query.includes('prefers-reduced-motion'),
    addEventListener: () => undefined,
    removeEventListener: () => undefined,
    addListener: () => undefined,
    removeListener: () => undefined,
  }));
}
