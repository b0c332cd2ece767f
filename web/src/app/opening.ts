import type { QueryClient } from '@tanstack/react-query';
import { classesQuery, roomQuery, sessionQuery } from '../api/queries';
import { NOBODY, restoreAnswers } from '../offline/cachedAnswers';

/** The first picture waits so many milliseconds at most, for the server or for what this device keeps. */
const PATIENCE = 1_000;

/** The class whose Room is at an address. */
function classOfRoom(pathname: string): string | undefined {
  return /^\/class\/([^/]+)\/room(?:\/|$)/.exec(pathname)?.[1];
}

/**
 * Who is signed in, from the server, and the Room of a class: what this device keeps of that one's answers first. Only where the
 * server does not answer at all is shown what the device keeps of whoever was signed in last.
 */
async function read(client: QueryClient, classId: string | undefined): Promise<void> {
  let owner: string | undefined;
  try {
    // Without network nobody waits for further tries.
    const session = await client.query({ ...sessionQuery, retry: false });
    if (!session) {
      await restoreAnswers(client, NOBODY);
      return;
    }
    owner = session.account;
  } catch {
    owner = undefined;
  }
  await restoreAnswers(client, owner);
  if (owner === undefined || !classId || client.getQueryData(roomQuery(classId).queryKey)) return;
  await Promise.allSettled([client.query(classesQuery), client.query(roomQuery(classId))]);
}

/**
 * Reads what the first picture at an address shows, so that it is drawn once and whole. What is not there in {@link PATIENCE} is not
 * waited for: the page opens as it is and says what it lacks.
 */
export async function opening(client: QueryClient, pathname: string): Promise<void> {
  let timer = 0;
  const patience = new Promise((resolve) => (timer = window.setTimeout(resolve, PATIENCE)));
  await Promise.race([read(client, classOfRoom(pathname)), patience]);
  window.clearTimeout(timer);
}
