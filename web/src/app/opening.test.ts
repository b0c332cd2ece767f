import 'fake-indexeddb/auto';
import { QueryClient } from '@tanstack/react-query';
import { afterEach, describe, expect, it, vi } from 'vitest';
import type { Session } from '../api/client';
import { classesQuery, roomQuery, sessionQuery } from '../api/queries';
import { forgetAnswers, keepAnswers } from '../offline/cachedAnswers';
import { offlineStore } from '../offline/store';
import { answerWith } from '../testing/network';
import { opening } from './opening';

// Nothing is drawn here.
vi.mock('../whenIdle', () => ({ whenIdle: (call: () => void) => call() }));

const session: Session = { email: 'director@one.example', displayName: 'The director', programs: [] };
const ROOM = '/class/c1/room';

/** A server that answers these paths; what it was asked for. */
function server(answers: Record<string, unknown>): string[] {
  const asked: string[] = [];
  answerWith((input) => {
    const path = new URL(input instanceof Request ? input.url : String(input)).pathname;
    asked.push(path);
    const body = answers[path];
    const refusal = { type: '/problems/sign-in', title: 'Sign in', status: 401, detail: 'Sign in.' };
    return Promise.resolve(
      body === undefined ? Response.json(refusal, { status: 401 }) : Response.json(body),
    );
  });
  return asked;
}

const everything = { '/api/session': session, '/api/classes': [], '/api/classes/c1/room': { name: 'First' } };

describe('opening a page', () => {
  afterEach(async () => {
    answerWith(undefined);
    await forgetAnswers();
    vi.useRealTimers();
  });

  it('has the room at hand before anything is drawn', async () => {
    server(everything);
    const client = new QueryClient();
    await opening(client, `${ROOM}/child-7`);
    expect(client.getQueryData(sessionQuery.queryKey)).toEqual(session);
    expect(client.getQueryData(classesQuery.queryKey)).toEqual([]);
    expect(client.getQueryData(roomQuery('c1').queryKey)).toEqual({ name: 'First' });
  });

  it('asks for no room on other pages, and for none where nobody is signed in', async () => {
    const asked = server(everything);
    await opening(new QueryClient(), '/class/c1/tapes');
    expect(asked).toEqual(['/api/session']);
    const nobody = server({});
    const client = new QueryClient();
    await opening(client, ROOM);
    expect(nobody).toEqual(['/api/session']);
    expect(client.getQueryData(sessionQuery.queryKey)).toBeNull();
  });

  it('opens anyway where the server does not answer in time', async () => {
    vi.useFakeTimers({ toFake: ['setTimeout', 'clearTimeout'] });
    answerWith(() => new Promise(() => undefined));
    let open = false;
    const done = opening(new QueryClient(), ROOM).then(() => (open = true));
    await vi.waitFor(() => expect(vi.getTimerCount()).toBeGreaterThan(0));
    expect(open).toBe(false);
    vi.advanceTimersByTime(1_000);
    await done;
  });

  it('opens anyway where the browser does not give out what it keeps', async () => {
    vi.useFakeTimers({ toFake: ['setTimeout', 'clearTimeout'] });
    const stuck = vi.spyOn(offlineStore, 'open').mockReturnValue(new Promise(() => undefined));
    const done = opening(new QueryClient(), ROOM);
    vi.advanceTimersByTime(1_000);
    await done;
    stuck.mockRestore();
  });

  it('shows what the last visit left, without asking', async () => {
    vi.useFakeTimers({ toFake: ['setTimeout', 'clearTimeout'] });
    const before = new QueryClient();
    keepAnswers(before);
    before.setQueryData(sessionQuery.queryKey, session);
    before.setQueryData(roomQuery('c1').queryKey, { children: ['Ada K.'] });
    await vi.advanceTimersByTimeAsync(3_000);
    vi.useRealTimers();
    const asked = server({});
    const client = new QueryClient();
    await opening(client, ROOM);
    expect(client.getQueryData(roomQuery('c1').queryKey)).toEqual({ children: ['Ada K.'] });
    expect(asked).toEqual([]);
  });
});
