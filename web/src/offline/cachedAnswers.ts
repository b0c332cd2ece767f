import { dehydrate, hydrate, type DehydratedState, type QueryClient } from '@tanstack/react-query';
import { sessionQuery } from '../api/queries';
import { shelf } from './shelf';

/** What opens without network once it was opened with it. */
const KINDS = ['session', 'classes', 'room', 'child', 'round'];
const KEY = 'readings';
/** As long as a session lasts: after it, nothing is shown without signing in. */
const LONGEST = 7 * 24 * 3600_000;
const PAUSE = 500;

interface Kept {
  /** Readings of another build may have another shape. */
  build: string;
  at: number;
  state: DehydratedState;
}

/** Puts the last readings of the server into the cache, if somebody was signed in then. */
export async function restoreReadings(client: QueryClient): Promise<void> {
  try {
    const kept = (await shelf.readings.get(KEY))?.value as Kept | undefined;
    if (!kept || kept.build !== __API__ || Date.now() - kept.at > LONGEST) return;
    const signedIn = kept.state.queries.some(
      ({ queryKey, state }) => queryKey[0] === sessionQuery.queryKey[0] && state.data !== null,
    );
    if (signedIn) hydrate(client, kept.state);
  } catch {
    // A browser that keeps nothing reads everything anew.
  }
}

/** Keeps the readings of the places that open without network, a moment after they changed. */
export function keepReadings(client: QueryClient): void {
  let timer = 0;
  const keep = () => {
    const state = dehydrate(client, {
      shouldDehydrateQuery: ({ queryKey, state: { status } }) =>
        status === 'success' && KINDS.includes(String(queryKey[0])),
    });
    const value: Kept = { build: __API__, at: Date.now(), state: structuredClone(state) };
    void shelf.readings.put({ key: KEY, value }).catch(() => undefined);
  };
  client.getQueryCache().subscribe((event) => {
    if (event.type !== 'updated' || event.action.type !== 'success') return;
    window.clearTimeout(timer);
    timer = window.setTimeout(keep, PAUSE);
  });
}

/** Nobody is signed in any more: what was read is forgotten. */
export async function forgetReadings(): Promise<void> {
  await shelf.readings.clear().catch(() => undefined);
}
