import { v7 as uuid } from 'uuid';
import { ApiProblem, NoAnswer, type NewObservation } from '../api/client';

/** Something made on this device, known by an id of its own. */
interface Item {
  id: string;
}

/** Something that the server has not confirmed, or whose effect has not been read back yet. */
export interface Pending<T extends Item = NewObservation> {
  classId: string;
  item: T;
  /** What it is, in words: `Ada K., Rest position: Alone`. */
  label: string;
  state: 'waiting' | 'sending' | 'stored';
}

/** Something that the server did not take. */
export interface Refused<T extends Item = NewObservation> {
  item: T;
  label: string;
  reason: string;
}

/** Something made on this page. */
export type Made<T extends Item = NewObservation> = Pick<Pending<T>, 'classId' | 'item' | 'label'>;

export interface OutboxState<T extends Item = NewObservation> {
  pending: readonly Pending<T>[];
  refused: readonly Refused<T>[];
  /** Made on this page, latest last: what undo takes back. */
  made: readonly Made<T>[];
  /** `held`: the server does not answer; `signedOut`: somebody has to sign in first. Both go on by themselves. */
  line: 'open' | 'held' | 'signedOut';
  /** Whether what waits would outlast the page: not where the browser keeps nothing. */
  kept: boolean;
}

/** What waits and what was refused, kept on the device until it is settled. */
export interface Keeping<T extends Item> {
  load: (owner: string) => Promise<{ waiting: Made<T>[]; refused: Refused<T>[] }>;
  put: (owner: string, waiting: Made<T>) => Promise<unknown>;
  refuse: (owner: string, refused: readonly Refused<T>[]) => Promise<unknown>;
  remove: (ids: readonly string[]) => Promise<unknown>;
}

export interface OutboxWiring<T extends Item = NewObservation> {
  send: (classId: string, items: T[]) => Promise<{ id?: string; outcome: string; reason?: string }[]>;
  /** Reads back what was changed. */
  readBack: (classId: string) => Promise<void>;
  onSignedOut: () => void;
  keeping?: Keeping<T>;
}

const MAX_BATCH = 500;
const FIRST_PAUSE = 1_000;
const MAX_PAUSE = 15_000;

/** The server will not answer otherwise, however often it is asked. */
function isFinal(error: unknown): error is ApiProblem {
  return error instanceof ApiProblem && error.status < 500 && ![401, 408, 429].includes(error.status);
}

/** Nothing on its way and nothing made. */
const EMPTY = { pending: [], refused: [], made: [], line: 'open' } as const;

/**
 * What is on its way to the server, kept on the device until the server has it.
 *
 * Things are sent in the order they were made, again and again until the server has answered for each: it knows them by
 * their ids, so one sent twice counts once. What a page shows is what the server said with these laid over it; what was
 * refused leaves the outbox and so is taken back on the screen. What somebody made is sent only while they are signed in.
 */
export class Outbox<T extends Item> {
  private state: OutboxState<T> = { ...EMPTY, kept: true };
  private readonly listeners = new Set<() => void>();
  private readonly wiring: OutboxWiring<T>;
  private owner: string | undefined;
  private running = false;
  private pause = FIRST_PAUSE;
  private wake: (() => void) | undefined;

  constructor(wiring: OutboxWiring<T>) {
    this.wiring = wiring;
  }

  readonly subscribe = (listener: () => void): (() => void) => {
    this.listeners.add(listener);
    return () => this.listeners.delete(listener);
  };

  readonly snapshot = (): OutboxState<T> => this.state;

  /** Somebody is signed in: what they left on this device goes on its way. Nobody: everything stays where it is kept. */
  async signedInAs(owner: string | undefined): Promise<void> {
    if (owner === this.owner) {
      this.retryNow();
      return;
    }
    // Made before it was known who is signed in: it is theirs.
    const early = this.owner === undefined && owner !== undefined ? this.state.pending : [];
    this.owner = owner;
    this.set(early.length > 0 ? { ...EMPTY, pending: early, made: early } : EMPTY);
    if (owner === undefined) return;
    for (const made of early) void this.keep((keeping) => keeping.put(owner, made));
    const kept = await this.keep((keeping) => keeping.load(owner));
    if (!kept || this.owner !== owner) return;
    const known = new Set(this.state.pending.map(({ item }) => item.id));
    const waiting = kept.waiting.filter(({ item }) => !known.has(item.id));
    if (waiting.length + kept.refused.length === 0) return;
    this.set({
      pending: [...waiting.map((one) => ({ ...one, state: 'waiting' as const })), ...this.state.pending],
      refused: kept.refused,
    });
    void this.run();
  }

  add(classId: string, item: T, label: string): void {
    const made = { classId, item, label };
    this.set({
      made: [...this.state.made, made],
      pending: [...this.state.pending, { ...made, state: 'waiting' }],
    });
    const owner = this.owner;
    if (owner !== undefined) void this.keep((keeping) => keeping.put(owner, made));
    this.retryNow();
    void this.run();
  }

  /**
   * Once the server has answered for one that is on its way, at once for any other. What names an observation is sent after it.
   * A {@link NoAnswer} where the server does not answer now.
   */
  answered(id: string): Promise<void> {
    return new Promise((resolve, reject) => {
      const look = (): void => {
        const pending = this.state.pending.find(({ item, state }) => item.id === id && state !== 'stored');
        if (pending && this.state.line === 'open') return;
        this.listeners.delete(look);
        if (pending) reject(new NoAnswer());
        else resolve();
      };
      this.listeners.add(look);
      look();
    });
  }

  /** The refusals were read. */
  dismiss(): void {
    void this.keep((keeping) => keeping.remove(this.state.refused.map(({ item }) => item.id)));
    this.set({ refused: [] });
  }

  /** Taken back meanwhile: the next undo is of something else. */
  protected forget(ids: readonly string[]): void {
    this.set({ made: this.state.made.filter(({ item }) => !ids.includes(item.id)) });
  }

  /** Where the browser keeps nothing, everything still works while the page is open. */
  private async keep<R>(by: (keeping: Keeping<T>) => Promise<R>): Promise<R | undefined> {
    try {
      return this.wiring.keeping && (await by(this.wiring.keeping));
    } catch {
      this.set({ kept: false });
      return undefined;
    }
  }

  /** Goes on at once instead of waiting for the next try: the network or the session is back. */
  readonly retryNow = (): void => {
    this.pause = FIRST_PAUSE;
    this.wake?.();
  };

  private set(change: Partial<OutboxState<T>>): void {
    // Nothing is drawn again for what stays as it is.
    if ((Object.keys(change) as (keyof OutboxState<T>)[]).every((key) => this.state[key] === change[key]))
      return;
    this.state = { ...this.state, ...change };
    this.listeners.forEach((listener) => {
      listener();
    });
  }

  private async run(): Promise<void> {
    if (this.running) return;
    this.running = true;
    try {
      for (let next = this.nextBatch(); next.length > 0; next = this.nextBatch()) {
        await this.sendBatch(next);
      }
    } finally {
      this.running = false;
    }
  }

  /** The oldest that wait, of one class. */
  private nextBatch(): Pending<T>[] {
    const waiting = this.state.pending.filter((pending) => pending.state === 'waiting');
    return waiting.filter((pending) => pending.classId === waiting[0]?.classId).slice(0, MAX_BATCH);
  }

  private async sendBatch(batch: Pending<T>[]): Promise<void> {
    const classId = batch[0]?.classId ?? '';
    const ids = new Set(batch.map(({ item }) => item.id));
    this.move(ids, 'sending');
    try {
      const results = await this.wiring.send(
        classId,
        batch.map(({ item }) => item),
      );
      this.pause = FIRST_PAUSE;
      const refused = batch.flatMap(({ item, label }, index) =>
        results[index]?.outcome === 'refused' ? [{ item, label, reason: results[index].reason ?? '' }] : [],
      );
      this.take(refused);
      this.settled(ids, refused);
      this.move(ids, 'stored');
      this.set({ line: 'open' });
      void this.readBack(classId, ids);
    } catch (error) {
      if (isFinal(error)) {
        const all = batch.map(({ item, label }) => ({ item, label, reason: error.message }));
        this.take(all);
        this.settled(ids, all);
        return;
      }
      this.move(ids, 'waiting');
      const signedOut = error instanceof ApiProblem && error.status === 401;
      this.set({ line: signedOut ? 'signedOut' : 'held' });
      if (signedOut) this.wiring.onSignedOut();
      await this.rest();
    }
  }

  /** The server has answered for these: they need not be kept, but for what it refused. */
  private settled(ids: ReadonlySet<string>, refused: readonly Refused<T>[]): void {
    const owner = this.owner;
    void this.keep(async (keeping) => {
      if (refused.length > 0 && owner !== undefined) await keeping.refuse(owner, refused);
      const no = new Set(refused.map(({ item }) => item.id));
      await keeping.remove([...ids].filter((id) => !no.has(id)));
    });
  }

  /** They stay laid over the page until the page has read what follows from them. */
  private async readBack(classId: string, ids: ReadonlySet<string>): Promise<void> {
    for (let pause = FIRST_PAUSE; ; pause = Math.min(pause * 2, MAX_PAUSE)) {
      try {
        await this.wiring.readBack(classId);
        break;
      } catch (error) {
        if (isFinal(error)) break;
        await new Promise((resolve) => setTimeout(resolve, pause));
      }
    }
    const done = (pending: Pending<T>) => pending.state === 'stored' && ids.has(pending.item.id);
    this.set({ pending: this.state.pending.filter((pending) => !done(pending)) });
  }

  private async rest(): Promise<void> {
    await new Promise<void>((resolve) => {
      const timer = setTimeout(resolve, this.pause);
      this.wake = () => {
        clearTimeout(timer);
        resolve();
      };
    });
    this.wake = undefined;
    this.pause = Math.min(this.pause * 2, MAX_PAUSE);
  }

  private move(ids: ReadonlySet<string>, state: Pending['state']): void {
    this.set({
      pending: this.state.pending.map((pending) =>
        ids.has(pending.item.id) ? { ...pending, state } : pending,
      ),
    });
  }

  private take(refused: Refused<T>[]): void {
    const ids = new Set(refused.map(({ item }) => item.id));
    this.set({
      pending: this.state.pending.filter((pending) => !ids.has(pending.item.id)),
      made: this.state.made.filter((made) => !ids.has(made.item.id)),
      refused: [...this.state.refused, ...refused],
    });
  }
}

/** The outbox of observations: one can be taken back. */
export class ObservationOutbox extends Outbox<NewObservation> {
  /** Takes an observation back by an observation of its own, whether or not it has been sent. */
  undo(
    classId: string,
    { id, child, target }: Pick<NewObservation, 'id' | 'child' | 'target'>,
    label: string,
  ): void {
    const observedAt = new Date().toISOString();
    const observation: NewObservation = { id: uuid(), child, target, retracts: id, observedAt };
    this.add(classId, observation, label);
    this.forget([id, observation.id]);
  }
}
