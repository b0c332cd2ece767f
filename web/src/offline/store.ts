import { Dexie, type Table } from 'dexie';
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

/** What this browser keeps for Bright Row: things on their way, things refused, and the last answers of the server. */
export class OfflineStore extends Dexie {
  declare waiting: Table<Waiting, string>;
  declare refused: Table<Turned, string>;
  declare answers: Table<CachedAnswer, string>;

  constructor(name = 'bright-row') {
    super(name);
    this.version(2).stores({
      waiting: 'id, [box+owner]',
      refused: 'id, [box+owner]',
      answers: 'key',
      readings: null,
    });
  }
}

export const offlineStore = new OfflineStore();

let last = 0;

/** Later than everything before, also of earlier pages. */
function next(): number {
  last = Math.max(last + 1, Date.now() * 1000);
  return last;
}

/** Where one outbox keeps its things. */
export function keepingOf<T extends { id: string }>(box: string, on = offlineStore): Keeping<T> {
  const of = (owner: string) => ({ box, owner });
  return {
    load: async (owner) => {
      const waiting = await on.waiting.where(of(owner)).sortBy('order');
      const refused = await on.refused.where(of(owner)).toArray();
      return {
        waiting: waiting.map(({ what }) => what as Made<T>),
        refused: refused.map(({ what }) => what as Refused<T>),
      };
    },
    put: (owner, made) =>
      on.waiting.put({ id: made.item.id, box, owner, order: next(), what: structuredClone(made) }),
    refuse: (owner, refused) =>
      on.transaction('rw', on.waiting, on.refused, async () => {
        const rows = refused.map((one) => ({ id: one.item.id, box, owner, what: structuredClone(one) }));
        await on.refused.bulkPut(rows);
        await on.waiting.bulkDelete(rows.map(({ id }) => id));
      }),
    remove: (ids) =>
      on.transaction('rw', on.waiting, on.refused, async () => {
        await on.waiting.bulkDelete([...ids]);
        await on.refused.bulkDelete([...ids]);
      }),
  };
}

/** How much somebody who signs out would leave waiting on this device. */
export function waitingOf(owner: string): Promise<number> {
  return offlineStore.waiting.filter((one) => one.owner === owner).count();
}
