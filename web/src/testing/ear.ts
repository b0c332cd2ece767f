import { vi } from 'vitest';
import type { EarState, ListenFor, Moment, Over, RunSoFar } from '../core/hearing';

/*
 * An ear that says what a test wants: `vi.mock('../parts/useEar', () => import('../testing/ear'))`, then `ear.now = { ...OFF, ... }`.
 */

interface Now {
  state: EarState;
  moment: Moment | undefined;
  over: Over[];
  run: RunSoFar | undefined;
  simulated: boolean;
}

/** Nobody listens. */
export const OFF: Now = { state: 'off', moment: undefined, over: [], run: undefined, simulated: false };

export const ear = {
  now: OFF,
  turnOn: vi.fn<(what: ListenFor) => Promise<void>>(() => Promise.resolve()),
  turnOff: vi.fn(),
};

export const useEar = () => ({ ...ear.now, turnOn: ear.turnOn, turnOff: ear.turnOff });
