import type { QueryClient } from '@tanstack/react-query';
import { classesQuery, roomQuery, sessionQuery } from '../api/queries';
import { restoreAnswers } from '../offline/cachedAnswers';

/** The first picture waits so many milliseconds for the server at most. */
const PATIENCE = 1_000;

/** The class whose Room is at an address. */
function classOfRoom(pathname: string): string | undefined {
  return /^\/class\/([^/]+)\/room(?:\/|$)/.exec(pathname)?.[1];
}

/** From the server: who is signed in, and the Room at the address. */
async function ask(client: QueryClient, classId: string | undefined): Promise<void> {
  const session = await client.query(sessionQuery).catch(() => null);
  if (!session || !classId) return;
  await Promise.allSettled([client.query(classesQuery), client.query(roomQuery(classId))]);
}

/**
 * What the first picture at an address shows: from the last visit where this device keeps it, else from the server, so that it is
 * drawn once and whole. Without an answer in {@link PATIENCE} the page opens as it is and says what it waits for.
 */
export async function opening(client: QueryClient, pathname: string): Promise<void> {
  await restoreAnswers(client);
  if (client.getQueryData(sessionQuery.queryKey)) return;
  let timer = 0;
  const patience = new Promise((resolve) => (timer = window.setTimeout(resolve, PATIENCE)));
  await Promise.race([ask(client, classOfRoom(pathname)), patience]);
  window.clearTimeout(timer);
}
