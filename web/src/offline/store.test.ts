import 'fake-indexeddb/auto';
import { openDB } from 'idb';
import { afterEach, describe, expect, it, vi } from 'vitest';
import type { NewObservation } from '../api/client';
import { ObservationOutbox, type OutboxWiring } from './outbox';
import { adopt, keepingOf, offlineStore, OfflineStore, waitingOf } from './store';

const gone: OutboxWiring['send'] = () => Promise.reject(new TypeError('no network'));
const stored: OutboxWiring['send'] = (_, observations) =>
  Promise.resolve(observations.map(({ id }) => ({ id, outcome: 'stored' })));

function observation(id: string): NewObservation {
  return { id, child: 'ada', target: 'hold.rest', level: 3, observedAt: '2026-11-24T10:00:00Z' };
}

/** A page with an outbox; another one with the same browser behind it finds what this one left. */
function page(send: OutboxWiring['send']) {
  const spy = vi.fn(send);
  const outbox = new ObservationOutbox({
    send: spy,
    readBack: () => Promise.resolve(),
    onSignedOut: () => undefined,
    keeping: keepingOf<NewObservation>('observations'),
  });
  const sent = () => spy.mock.calls.flatMap(([, observations]) => observations.map(({ id }) => id));
  return { outbox, sent };
}

const refused = async () => (await offlineStore.open()).count('refused');

describe('what a device keeps', () => {
  afterEach(async () => {
    const store = await offlineStore.open();
    await store.clear('waiting');
    await store.clear('refused');
  });

  it('is sent by the next page, in the order it was made, and then kept no longer', async () => {
    const first = page(gone);
    await first.outbox.signedInAs('ada@one.example');
    first.outbox.add('class', observation('m2'), 'Ada, second letter first');
    first.outbox.add('class', observation('m1'), 'Ada');
    await vi.waitFor(async () => expect(await waitingOf('ada@one.example')).toBe(2));

    const next = page(stored);
    await next.outbox.signedInAs('ada@one.example');
    await vi.waitFor(() => expect(next.sent()).toEqual(['m2', 'm1']));
    await vi.waitFor(async () => expect(await waitingOf('ada@one.example')).toBe(0));
    expect(next.outbox.snapshot().made).toEqual([]);
  });

  it('is found where an earlier build left it, and a newer build can take the store over', async () => {
    const earlier = await openDB('left', 20, {
      upgrade: (db) => {
        db.createObjectStore('waiting', { keyPath: 'id' }).createIndex('[box+owner]', ['box', 'owner']);
        db.createObjectStore('refused', { keyPath: 'id' }).createIndex('[box+owner]', ['box', 'owner']);
        db.createObjectStore('answers', { keyPath: 'key' });
      },
    });
    const made = { classId: 'class', item: observation('m1'), label: 'Ada' };
    const row = { id: 'm1', box: 'observations', owner: 'ada@one.example', order: 1, what: made };
    await earlier.put('waiting', row);
    earlier.close();
    const store = new OfflineStore('left');
    const kept = keepingOf<NewObservation>('observations', store);
    const found = await kept.load('ada@one.example');
    expect(found).toMatchObject({ waiting: [{ classId: 'class', item: made.item }], refused: [] });
    expect(JSON.stringify(found)).not.toContain('Ada');
    (await openDB('left', 40)).close();
    await expect(kept.load('ada@one.example')).rejects.toThrow(/version/);
  });

  it('names nobody: what waits is kept by ids', async () => {
    const first = page(gone);
    await first.outbox.signedInAs('a1');
    first.outbox.add('class', observation('m1'), 'Ada K., Rest position: Alone');
    await vi.waitFor(async () => expect(await waitingOf('a1')).toBe(1));
    expect(JSON.stringify(await (await offlineStore.open()).getAll('waiting'))).not.toContain('Ada K.');
  });

  it('is theirs who were known by an address before, and theirs who signed in a moment later', async () => {
    const first = page(gone);
    await first.outbox.signedInAs('ada@one.example');
    first.outbox.add('class', observation('m1'), 'Ada');
    await vi.waitFor(async () => expect(await waitingOf('ada@one.example')).toBe(1));
    await adopt('ada@one.example', 'a1');
    const next = page(gone);
    // Made before it was known who is signed in.
    next.outbox.add('class', observation('m2'), 'Ada');
    await next.outbox.signedInAs('a1');
    await vi.waitFor(async () => expect(await waitingOf('a1')).toBe(2));
    const last = page(stored);
    await last.outbox.signedInAs('a1');
    await vi.waitFor(() => expect(last.sent().toSorted()).toEqual(['m1', 'm2']));
  });

  it('is sent only while the one who made it is signed in', async () => {
    const first = page(gone);
    await first.outbox.signedInAs('ada@one.example');
    first.outbox.add('class', observation('m1'), 'Ada');
    await vi.waitFor(async () => expect(await waitingOf('ada@one.example')).toBe(1));

    const other = page(stored);
    await other.outbox.signedInAs('ben@one.example');
    expect(other.outbox.snapshot().pending).toEqual([]);
    other.outbox.add('class', observation('m2'), 'by Ben');
    await vi.waitFor(() => expect(other.sent()).toEqual(['m2']));
    await other.outbox.signedInAs(undefined);
    await other.outbox.signedInAs('ada@one.example');
    await vi.waitFor(() => expect(other.sent()).toEqual(['m2', 'm1']));
  });

  it('tells again what was refused until it was read', async () => {
    const first = page((_, observations) =>
      Promise.resolve(
        observations.map(({ id }) => ({ id, outcome: 'refused', reason: 'Not in this class any more.' })),
      ),
    );
    await first.outbox.signedInAs('ada@one.example');
    first.outbox.add('class', observation('m1'), 'Ada, rest');
    await vi.waitFor(async () => expect(await refused()).toBe(1));
    expect(await waitingOf('ada@one.example')).toBe(0);

    const next = page(stored);
    await next.outbox.signedInAs('ada@one.example');
    expect(next.outbox.snapshot().refused).toMatchObject([{ reason: 'Not in this class any more.' }]);
    next.outbox.dismiss();
    await vi.waitFor(async () => expect(await refused()).toBe(0));
    expect(next.sent()).toEqual([]);
  });

  it('says so where the browser keeps nothing, and works while the page is open', async () => {
    const keeping = keepingOf<NewObservation>('observations');
    const outbox = new ObservationOutbox({
      send: gone,
      readBack: () => Promise.resolve(),
      onSignedOut: () => undefined,
      keeping: { ...keeping, put: () => Promise.reject(new Error('full')) },
    });
    await outbox.signedInAs('ada@one.example');
    outbox.add('class', observation('m1'), 'Ada');
    await vi.waitFor(() => expect(outbox.snapshot().kept).toBe(false));
    expect(outbox.snapshot().pending).toHaveLength(1);
  });
});
