import { QueryObserver } from '@tanstack/react-query';
import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import { answerWith } from '../testing/network';
import { serverThat } from '../testing/server';
import {
  basisQuery,
  queryClient,
  refreshClass,
  roomQuery,
  roundQuery,
  sessionQuery,
  signedInAs,
} from './queries';

const session = {
  account: 'a1',
  email: 'director@one.example',
  displayName: 'The director',
  keepsUntil: '2999-01-01T00:00:00Z',
  demo: false,
  programs: [],
};
const refusal = { type: 'about:blank', title: 'Signed out', status: 401, detail: 'Sign in.' };

const json = (body: unknown, status = 200) =>
  new Response(JSON.stringify(body), { status, headers: { 'content-type': 'application/json' } });

/** Answers that are given one by one, in any order. */
function slowServer() {
  const asked: { path: string; answer: (response: Response) => void }[] = [];
  answerWith(
    (input) =>
      new Promise((answer) => {
        asked.push({ path: new URL((input as Request).url).pathname, answer });
      }),
  );
  const next = async (path: string) => {
    const found = () => asked.findIndex((one) => one.path === path);
    await expect.poll(found).toBeGreaterThanOrEqual(0);
    return asked.splice(found(), 1)[0];
  };
  return { asked, next };
}

let unwatch: () => void;

beforeEach(() => {
  queryClient.clear();
  queryClient.setDefaultOptions({ queries: { retry: false, gcTime: Infinity } });
  queryClient.setQueryData(sessionQuery.queryKey, session);
  unwatch = new QueryObserver(queryClient, sessionQuery).subscribe(() => undefined);
});

afterEach(() => {
  unwatch();
  answerWith(undefined);
});

const known = () => queryClient.getQueryData(sessionQuery.queryKey);

describe('a refusal for want of a session', () => {
  it('opens the sign-in form where the session has ended', async () => {
    const { next } = slowServer();
    void queryClient.query(roomQuery('c1')).catch(() => undefined);
    (await next('/api/classes/c1/room'))?.answer(json(refusal, 401));
    (await next('/api/session'))?.answer(json(refusal, 401));
    await expect.poll(known).toBeNull();
  });

  it('that is older than a new sign-in does not sign out again', async () => {
    const { next } = slowServer();
    void queryClient.query(roomQuery('c1')).catch(() => undefined);
    const late = await next('/api/classes/c1/room');
    await signedInAs(session);
    late?.answer(json(refusal, 401));
    (await next('/api/session'))?.answer(json(session));
    await expect.poll(() => queryClient.isFetching()).toBe(0);
    expect(known()).toEqual(session);
  });

  it('of the question itself does not outlast a sign-in', async () => {
    const { next } = slowServer();
    void queryClient.invalidateQueries({ queryKey: sessionQuery.queryKey });
    const late = await next('/api/session');
    await signedInAs(session);
    late?.answer(json(refusal, 401));
    await expect.poll(() => queryClient.isFetching()).toBe(0);
    expect(known()).toEqual(session);
  });
});

describe('a class that changed', () => {
  it.each([
    ['observations', []],
    ['class', ['/api/classes/c1/forecast']],
  ] as const)('is read again after %s, other classes are not', async (topic, long) => {
    const paths: string[] = [];
    answerWith((input) => {
      paths.push(new URL((input as Request).url).pathname);
      return Promise.resolve(json([]));
    });
    const forecast = {
      ...roomQuery('c1'),
      queryKey: ['get', '/api/classes/{class}/forecast', { params: { path: { class: 'c1' } } }] as const,
    };
    const watched = [roomQuery('c1'), roundQuery('c1'), roomQuery('c2'), forecast].map((options) => {
      queryClient.setQueryData(options.queryKey, []);
      return new QueryObserver(queryClient, { ...options, staleTime: Infinity } as never).subscribe(
        () => undefined,
      );
    });
    await refreshClass('c1', topic);
    expect(paths.sort()).toEqual([...long, '/api/classes/c1/room', '/api/classes/c1/round']);
    watched.forEach((stop) => stop());
  });

  it.each(['watched', 'asked for ahead'])(
    'while it is being read for the first time is read anew when %s',
    async (how) => {
      const { next } = slowServer();
      const room = roomQuery('c1');
      const stop =
        how === 'watched'
          ? new QueryObserver(queryClient, room).subscribe(() => undefined)
          : (void queryClient.query(room), () => undefined);
      const before = await next('/api/classes/c1/room');
      const refreshed = refreshClass('c1');
      before?.answer(json({ children: [] }));
      (await next('/api/classes/c1/room'))?.answer(json({ children: ['new'] }));
      await refreshed;
      await expect.poll(() => queryClient.isFetching()).toBe(0);
      expect(queryClient.getQueryData(room.queryKey)).toEqual({ children: ['new'] });
      stop();
    },
  );

  it('that cannot be read again says so', async () => {
    answerWith(() => Promise.resolve(json({ ...refusal, status: 404 }, 404)));
    queryClient.setQueryData(roomQuery('c1').queryKey, [] as never);
    const stop = new QueryObserver(queryClient, {
      ...roomQuery('c1'),
      staleTime: Infinity,
    } as never).subscribe(() => undefined);
    await expect(refreshClass('c1')).rejects.toThrow('Sign in.');
    stop();
  });
});

describe('the basis of a class', () => {
  it('is read whole once, then only of those who were looked at, and whole again when more changed', async () => {
    const of = (id: string, level: number) => ({ who: { id }, level });
    const whole = { meeting: 1, at: '2026-11-24T10:00:00Z', children: [of('a', 1), of('b', 1)] };
    const changed = { meeting: 1, at: '2026-11-24T10:05:00Z', children: [of('b', 2), of('c', 1)] };
    const sent = serverThat({
      'GET /basis': ({ query }) => ({ json: query.has('since') ? changed : whole }),
    });
    const read = () => queryClient.query({ ...basisQuery('c1'), staleTime: 0 });
    await read();
    expect(await read()).toEqual({ ...changed, children: [of('a', 1), of('b', 2), of('c', 1)] });
    await refreshClass('c1', 'class');
    expect(await read()).toEqual(whole);
    expect(sent.map(({ query }) => query.get('since'))).toEqual([null, whole.at, null]);
    answerWith(undefined);
  });
});
