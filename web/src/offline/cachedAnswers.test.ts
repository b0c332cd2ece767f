import 'fake-indexeddb/auto';
import { QueryClient } from '@tanstack/react-query';
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import type { Session } from '../api/client';
import { roomQuery, sessionQuery } from '../api/queries';
import { forgetAnswers, keepAnswers, restoreAnswers } from './cachedAnswers';
import { offlineStore } from './store';

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
const KEEPS_AFTER = 500;

describe('answers of the server, kept for pages without network', () => {
  let client: QueryClient;

  beforeEach(() => {
    vi.useFakeTimers({ toFake: ['setTimeout', 'clearTimeout'] });
    client = new QueryClient();
    keepAnswers(client);
    client.setQueryData(sessionQuery.queryKey, session);
  });

  afterEach(async () => {
    await forgetAnswers();
    vi.useRealTimers();
  });

  const kept = async () => (await offlineStore.open()).count('answers');

  it('are there again in the next page', async () => {
    client.setQueryData(roomQuery('c1').queryKey, { children: ['Ada K.'] });
    vi.advanceTimersByTime(KEEPS_AFTER);
    const next = new QueryClient();
    await restoreAnswers(next);
    expect(next.getQueryData(roomQuery('c1').queryKey)).toEqual({ children: ['Ada K.'] });
    expect(next.getQueryData(sessionQuery.queryKey)).toEqual(session);
  });

  it('are not kept when somebody signs out a moment after one came', async () => {
    client.setQueryData(roomQuery('c1').queryKey, { children: ['Ada K.'] });
    vi.advanceTimersByTime(KEEPS_AFTER - 1);
    await forgetAnswers();
    vi.advanceTimersByTime(KEEPS_AFTER);
    expect(await kept()).toBe(0);
  });

  it('are not kept when one comes after somebody signed out', async () => {
    await forgetAnswers();
    client.setQueryData(roomQuery('c1').queryKey, { children: ['Ada K.'] });
    vi.advanceTimersByTime(KEEPS_AFTER);
    expect(await kept()).toBe(0);
  });

  it('are forgotten when the session ends, and kept again after the next sign-in', async () => {
    vi.advanceTimersByTime(KEEPS_AFTER);
    expect(await kept()).toBe(1);
    client.setQueryData(sessionQuery.queryKey, null);
    await vi.waitFor(async () => expect(await kept()).toBe(0));
    client.setQueryData(sessionQuery.queryKey, session);
    vi.advanceTimersByTime(KEEPS_AFTER);
    expect(await kept()).toBe(1);
  });
});
