import 'fake-indexeddb/auto';
import { QueryClient } from '@tanstack/react-query';
import { afterEach, describe, expect, it, vi } from 'vitest';
import type { Session } from '../api/client';
import { classesQuery, roomQuery, sessionQuery } from '../api/queries';
import { forgetAnswers, keepAnswers } from '../offline/cachedAnswers';
import { forgetSettings } from '../offline/sharedDevice';
import { offlineStore } from '../offline/store';
import { answerWith } from '../testing/network';
import { opening } from './opening';

// Nothing is drawn here.
vi.mock('../whenIdle', () => ({ whenIdle: (call: () => void) => call() }));

const session: Session = {
  account: 'a1',
  email: 'director@one.example',
  displayName: 'The director',
  keepsUntil: '2999-01-01T00:00:00Z',
  demo: false,
  programs: [],
};
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

  /** A visit that left the room on the device. */
  async function visit(): Promise<void> {
    vi.useFakeTimers({ toFake: ['setTimeout', 'clearTimeout'] });
    const before = new QueryClient();
    keepAnswers(before);
    before.setQueryData(sessionQuery.queryKey, session);
    before.setQueryData(roomQuery('c1').queryKey, { children: ['Ada K.'] });
    await vi.advanceTimersByTimeAsync(3_000);
    vi.useRealTimers();
  }

  const kept = async () => (await offlineStore.open()).count('answers');

  it('shows what the last visit left once the server has said that it is the same person', async () => {
    await visit();
    const asked = server({ '/api/session': session });
    const client = new QueryClient();
    await opening(client, ROOM);
    expect(client.getQueryData(roomQuery('c1').queryKey)).toEqual({ children: ['Ada K.'] });
    expect(asked).toEqual(['/api/session']);
  });

  it('shows nobody else what the last visit left, and forgets it', async () => {
    await visit();
    server({ ...everything, '/api/session': { ...session, account: 'a2' } });
    const client = new QueryClient();
    await opening(client, ROOM);
    expect(client.getQueryData(roomQuery('c1').queryKey)).toEqual({ name: 'First' });
    expect(await kept()).toBe(0);
  });

  it('shows nothing once the session has ended on the server, and forgets it', async () => {
    await visit();
    server({});
    const client = new QueryClient();
    await opening(client, ROOM);
    expect(client.getQueryData(roomQuery('c1').queryKey)).toBeUndefined();
    expect(await kept()).toBe(0);
  });

  it('shows what is kept without network until the session ends, and nothing after', async () => {
    answerWith(() => Promise.reject(new TypeError('no network')));
    await visit();
    const client = new QueryClient({ defaultOptions: { queries: { retry: false } } });
    await opening(client, ROOM);
    expect(client.getQueryData(roomQuery('c1').queryKey)).toEqual({ children: ['Ada K.'] });
    vi.setSystemTime(new Date('2999-01-02T00:00:00Z'));
    const later = new QueryClient({ defaultOptions: { queries: { retry: false } } });
    await opening(later, ROOM);
    expect(later.getQueryData(roomQuery('c1').queryKey)).toBeUndefined();
    expect(await kept()).toBe(0);
  });

  it('keeps nothing of a class on a device that many people use', async () => {
    localStorage.setItem('bright-row.shared', 'yes');
    await visit();
    expect(await kept()).toBe(0);
    localStorage.setItem('bright-row.hand', 'left');
    forgetSettings();
    expect(Object.keys(localStorage)).toEqual(['bright-row.shared']);
    localStorage.removeItem('bright-row.shared');
    await visit();
    expect(await kept()).toBe(1);
  });
});
