import { ApiProblem } from './client';

/** As long as the server asks to wait. */
const ASKED_TO_WAIT_MS = 2_000;

/** Asks again, twice at most, where the server was too busy to begin: nothing was done yet. */
export async function whenLessBusy<T>(ask: () => Promise<T>, times = 2): Promise<T> {
  try {
    return await ask();
  } catch (error) {
    if (times === 0 || !(error instanceof ApiProblem && error.kind === 'too-busy')) throw error;
    await new Promise((later) => setTimeout(later, ASKED_TO_WAIT_MS));
    return whenLessBusy(ask, times - 1);
  }
}
