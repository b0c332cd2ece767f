import { openDB, type DBSchema, type IDBPDatabase } from 'idb';
import type { Keeping, Made, Refused } from './outbox';

interface Waiting {
  id: string;
  /** `observations` or `events`. */
  box: string;
  owner: string;
  /** Made in this order. */
  order: number;
  what: unknown;
}

interface Turned {
  id: string;
  box: string;
  owner: string;
  what: unknown;
}

interface CachedAnswer {
  key: string;
  value: unknown;
}

interface Stores extends DBSchema {
  waiting: { key: string; value: Waiting; indexes: { '[box+owner]': [box: string, owner: string] } };
  refused: { key: string; value: Turned; indexes: { '[box+owner]': [box: string, owner: string] } };
  answers: { key: string; value: CachedAnswer };
}

/** Ten times what the first builds counted, which left stores of this shape under 20. */
const VERSION = 30;

/** What this browser keeps for Bright Row: things on their way, things refused, and the last answers of the server. */
export class OfflineStore {
  private readonly name: string;
  private opened: Promise<IDBPDatabase<Stores>> | undefined;

  constructor(name = 'bright-row') {
    this.name = name;
  }

  /** Opened with the first use; again after it was closed. */
  readonly open = (): Promise<IDBPDatabase<Stores>> => {
    this.opened ??= openDB<Stores>(this.name, VERSION, {
      upgrade: (db) => {
        for (const name of ['waiting', 'refused'] as const) {
          if (db.objectStoreNames.contains(name)) continue;
          db.createObjectStore(name, { keyPath: 'id' }).createIndex('[box+owner]', ['box', 'owner']);
        }
        if (!db.objectStoreNames.contains('answers')) db.createObjectStore('answers', { keyPath: 'key' });
      },
      // A newer build in another tab, or somebody who clears what the browser keeps.
      blocking: () => void this.close(),
      terminated: () => (this.opened = undefined),
    }).catch((error: unknown) => {
      this.opened = undefined;
      throw error;
    });
    return this.opened;
  };

  readonly close = async (): Promise<void> => {
    const opened = this.opened;
    this.opened = undefined;
    (await opened)?.close();
  };
}

export const offlineStore = new OfflineStore();

let last = 0;

/** Later than everything before, also of earlier pages. */
function next(): number {
  last = Math.max(last + 1, Date.now() * 1000);
  return last;
}

/** What waits is kept by ids: the words for it, which name a child, are for the page that made it. */
const LABEL = 'An observation made earlier on this device';

function without<T extends { label: string }>(made: T): T {
  return structuredClone({ ...made, label: LABEL });
}

/** Where one outbox keeps its things. */
export function keepingOf<T extends { id: string }>(box: string, on = offlineStore): Keeping<T> {
  return {
    load: async (owner) => {
      const db = await on.open();
      const waiting = await db.getAllFromIndex('waiting', '[box+owner]', [box, owner]);
      const refused = await db.getAllFromIndex('refused', '[box+owner]', [box, owner]);
      return {
        waiting: waiting.toSorted((a, b) => a.order - b.order).map(({ what }) => without(what as Made<T>)),
        refused: refused.map(({ what }) => without(what as Refused<T>)),
      };
    },
    put: async (owner, made) => {
      const row = {
        id: made.item.id,
        box,
        owner,
        order: next(),
        what: without({ classId: made.classId, item: made.item, label: made.label }),
      };
      return (await on.open()).put('waiting', row);
    },
    refuse: async (owner, refused) => {
      const rows = refused.map((one) => ({ id: one.item.id, box, owner, what: without(one) }));
      const change = (await on.open()).transaction(['waiting', 'refused'], 'readwrite');
      await Promise.all([
        ...rows.map((row) => change.objectStore('refused').put(row)),
        ...rows.map(({ id }) => change.objectStore('waiting').delete(id)),
        change.done,
      ]);
    },
    remove: async (ids) => {
      const change = (await on.open()).transaction(['waiting', 'refused'], 'readwrite');
      const stores = [change.objectStore('waiting'), change.objectStore('refused')];
      await Promise.all([...ids.flatMap((id) => stores.map((store) => store.delete(id))), change.done]);
    },
  };
}

/** What an earlier build kept by somebody's address is theirs by their account. */
export async function adopt(address: string, owner: string): Promise<void> {
  if (address === '') return;
  const change = (await offlineStore.open()).transaction(['waiting', 'refused'], 'readwrite');
  for (const name of ['waiting', 'refused'] as const) {
    const store = change.objectStore(name);
    for (const row of await store.getAll()) if (row.owner === address) await store.put({ ...row, owner });
  }
  await change.done;
}

/** How much somebody who signs out would leave waiting on this device. */
export async function waitingOf(owner: string): Promise<number> {
  const all = await (await offlineStore.open()).getAll('waiting');
  return all.filter((one) => one.owner === owner).length;
}
