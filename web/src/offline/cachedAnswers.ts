import { dehydrate, hydrate, type DehydratedState, type QueryClient } from '@tanstack/react-query';
import type { Session } from '../api/client';
import {
  basisQuery,
  childQuery,
  drawingsQuery,
  classesQuery,
  pathOf,
  roomQuery,
  roundQuery,
  rulesQuery,
  sessionQuery,
} from '../api/queries';
import { whenIdle } from '../whenIdle';
import { isShared } from './sharedDevice';
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
  drawingsQuery(''),
].map(pathOf);
const SESSION = pathOf(sessionQuery);
const KEY = 'answers';
const PAUSE = 500;
/** The server says that nobody is signed in: no answers are theirs. */
export const NOBODY = '';

interface Kept {
  /** Answers of another build may have another shape. */
  build: string;
  /** Whose they are: nobody else sees them. */
  owner: string;
  /** Until when they may be shown without asking the server, in milliseconds since 1970. */
  until: number;
  state: DehydratedState;
}

async function read(): Promise<Kept | undefined> {
  const kept = (await (await offlineStore.open()).get('answers', KEY))?.value as Kept | undefined;
  return kept?.build === __API__ ? kept : undefined;
}

/**
 * Puts the last answers of the server into the cache: those of `owner`, whom the server has just named, or without network those of
 * whoever was signed in last, as long as that session lasts. Everybody else's are forgotten.
 */
export async function restoreAnswers(client: QueryClient, owner?: string): Promise<void> {
  try {
    const kept = await read();
    const mayBeShown = kept && (owner === undefined ? Date.now() < kept.until : kept.owner === owner);
    if (!mayBeShown) {
      await (await offlineStore.open()).delete('answers', KEY);
      return;
    }
    const fresh = client.getQueryData(sessionQuery.queryKey);
    hydrate(client, kept.state);
    if (fresh !== undefined) client.setQueryData(sessionQuery.queryKey, fresh);
  } catch {
    // A browser that keeps nothing reads everything anew.
  }
}

/** The write that comes in a moment, 0 for none. */
let timer = 0;
/** Once somebody signed out nothing is kept, until somebody signs in. */
let signedOut = false;

function write(client: QueryClient): void {
  const session = client.getQueryData<Session | null>(sessionQuery.queryKey);
  if (signedOut || !session || isShared()) return;
  const state = dehydrate(client, {
    shouldDehydrateQuery: (query) => query.state.status === 'success' && KEPT_ROUTES.includes(pathOf(query)),
  });
  const value: Kept = {
    build: __API__,
    owner: session.account,
    until: Date.parse(session.keepsUntil),
    state,
  };
  offlineStore
    .open()
    // Somebody may have signed out while the store was opened.
    .then((store) => (signedOut ? undefined : store.put('answers', { key: KEY, value })))
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

/** What is kept of answers goes; while the device is shared nothing is kept again. */
export async function dropAnswers(): Promise<void> {
  window.clearTimeout(timer);
  await (await offlineStore.open()).delete('answers', KEY);
}

/** Nobody is signed in any more: the answers are forgotten, with those that were about to be kept. */
export async function forgetAnswers(): Promise<void> {
  signedOut = true;
  window.clearTimeout(timer);
  await offlineStore
    .open()
    .then((store) => store.delete('answers', KEY))
    .catch(() => undefined);
}
