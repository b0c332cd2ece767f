import { dehydrate, hydrate, type DehydratedState, type QueryClient } from '@tanstack/react-query';
import {
  basisQuery,
  childQuery,
  classesQuery,
  pathOf,
  roomQuery,
  roundQuery,
  rulesQuery,
  sessionQuery,
} from '../api/queries';
import { whenIdle } from '../whenIdle';
import { offlineStore } from './store';

/** What opens without network once it was opened with it. */
const KEPT_ROUTES = [
  sessionQuery,
  classesQuery,
  roomQuery(''),
  rulesQuery(''),
  basisQuery(''),
  childQuery('', ''),
  roundQuery(''),
].map(pathOf);
const SESSION = pathOf(sessionQuery);
const KEY = 'answers';
/** As long as a session lasts: after it, nothing is shown without signing in. */
const MAX_AGE = 7 * 24 * 3600_000;
const PAUSE = 500;

interface Kept {
  /** Answers of another build may have another shape. */
  build: string;
  at: number;
  state: DehydratedState;
}

/** Puts the last answers of the server into the cache, if somebody was signed in then. */
export async function restoreAnswers(client: QueryClient): Promise<void> {
  try {
    const kept = (await (await offlineStore.open()).get('answers', KEY))?.value as Kept | undefined;
    if (!kept || kept.build !== __API__ || Date.now() - kept.at > MAX_AGE) return;
    const signedIn = kept.state.queries.some(
      (query) => pathOf(query) === SESSION && query.state.data !== null,
    );
    if (signedIn) hydrate(client, kept.state);
  } catch {
    // A browser that keeps nothing reads everything anew.
  }
}

/** The write that comes in a moment, 0 for none. */
let timer = 0;
/** Once somebody signed out nothing is kept, until somebody signs in. */
let signedOut = false;

function write(client: QueryClient): void {
  if (signedOut) return;
  const state = dehydrate(client, {
    shouldDehydrateQuery: (query) => query.state.status === 'success' && KEPT_ROUTES.includes(pathOf(query)),
  });
  const value: Kept = { build: __API__, at: Date.now(), state };
  offlineStore
    .open()
    .then((store) => store.put('answers', { key: KEY, value }))
    .catch(() => undefined);
}

/** Keeps the answers of the pages that open without network, a moment after they changed. */
export function keepAnswers(client: QueryClient): void {
  client.getQueryCache().subscribe((event) => {
    if (event.type !== 'updated' || event.action.type !== 'success') return;
    if (pathOf(event.query) === SESSION) {
      if (event.query.state.data === null) {
        void forgetAnswers();
        return;
      }
      signedOut = false;
    }
    if (signedOut) return;
    window.clearTimeout(timer);
    timer = window.setTimeout(() => whenIdle(() => write(client)), PAUSE);
  });
}

/** Nobody is signed in any more: the answers are forgotten, with those that were about to be kept. */
export async function forgetAnswers(): Promise<void> {
  signedOut = true;
  window.clearTimeout(timer);
  await offlineStore
    .open()
    .then((store) => store.clear('answers'))
    .catch(() => undefined);
}
