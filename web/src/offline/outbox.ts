import { v7 as uuid } from 'uuid';
import { ApiProblem, api, unwrap, type NewMark } from '../api/client';

/** A mark that the server has not confirmed, or whose effect has not been read back yet. */
export interface Pending {
  classId: string;
  mark: NewMark;
  /** What it is, in words: `Ada K., Rest position: Alone`. */
  label: string;
  state: 'waiting' | 'sending' | 'stored';
}

/** A mark that the server did not take. */
export interface Refused {
  mark: NewMark;
  label: string;
  reason: string;
}

/** A mark made on this page. */
export type Made = Pick<Pending, 'classId' | 'mark' | 'label'>;

export interface OutboxState {
  pending: readonly Pending[];
  refused: readonly Refused[];
  /** Marks made on this page, latest last: what undo takes back. */
  made: readonly Made[];
  /** `held`: the server does not answer; `signedOut`: somebody has to sign in first. Both go on by themselves. */
  line: 'open' | 'held' | 'signedOut';
}

export interface OutboxWiring {
  send: (classId: string, marks: NewMark[]) => Promise<{ id?: string; outcome: string; reason?: string }[]>;
  /** Reads back what marks changed. */
  readBack: (classId: string) => Promise<void>;
  onSignedOut: () => void;
}

const MOST_AT_ONCE = 500;
const FIRST_PAUSE = 1_000;
const LONGEST_PAUSE = 15_000;

/**
 * Marks on their way to the server, kept while the page is open.
 *
 * They are sent in the order they were made, again and again until the server has answered for each: it knows a mark by
 * its id, so one sent twice counts once. What a page shows is what the server said with these marks laid over it; a
 * refused mark leaves the outbox and so is taken back on the screen.
 */
export class Outbox {
  private state: OutboxState = { pending: [], refused: [], made: [], line: 'open' };
  private readonly listeners = new Set<() => void>();
  private readonly wiring: OutboxWiring;
  private running = false;
  private pause = FIRST_PAUSE;
  private wake: (() => void) | undefined;

  constructor(wiring: OutboxWiring) {
    this.wiring = wiring;
  }

  readonly subscribe = (listener: () => void): (() => void) => {
    this.listeners.add(listener);
    return () => this.listeners.delete(listener);
  };

  readonly snapshot = (): OutboxState => this.state;

  add(classId: string, mark: NewMark, label: string): void {
    const made = [...this.state.made, { classId, mark, label }];
    this.set({ made, pending: [...this.state.pending, { classId, mark, label, state: 'waiting' }] });
    this.retryNow();
    void this.run();
  }

  /** Takes a mark back by a mark of its own, whether or not it has been sent. */
  undo(
    classId: string,
    { id, child, target }: Pick<NewMark, 'id' | 'child' | 'target'>,
    label: string,
  ): void {
    const observedAt = new Date().toISOString();
    const mark: NewMark = { id: uuid(), child, target, retracts: id, observedAt };
    this.add(classId, mark, label);
    this.set({ made: this.state.made.filter((made) => ![id, mark.id].includes(made.mark.id)) });
  }

  /** The refusals were read. */
  dismiss(): void {
    this.set({ refused: [] });
  }

  /** Goes on at once instead of waiting for the next try: the network or the session is back. */
  readonly retryNow = (): void => {
    this.pause = FIRST_PAUSE;
    this.wake?.();
  };

  private set(change: Partial<OutboxState>): void {
    this.state = { ...this.state, ...change };
    this.listeners.forEach((listener) => {
      listener();
    });
  }

  private async run(): Promise<void> {
    if (this.running) return;
    this.running = true;
    for (let next = this.nextBatch(); next.length > 0; next = this.nextBatch()) {
      await this.sendBatch(next);
    }
    this.running = false;
  }

  /** The oldest waiting marks of one class. */
  private nextBatch(): Pending[] {
    const waiting = this.state.pending.filter((pending) => pending.state === 'waiting');
    return waiting.filter((pending) => pending.classId === waiting[0]?.classId).slice(0, MOST_AT_ONCE);
  }

  private async sendBatch(batch: Pending[]): Promise<void> {
    const classId = batch[0]?.classId ?? '';
    const ids = new Set(batch.map(({ mark }) => mark.id));
    this.move(ids, 'sending');
    try {
      const results = await this.wiring.send(
        classId,
        batch.map(({ mark }) => mark),
      );
      this.pause = FIRST_PAUSE;
      const refused = batch.flatMap(({ mark, label }, index) =>
        results[index]?.outcome === 'refused' ? [{ mark, label, reason: results[index].reason ?? '' }] : [],
      );
      this.take(refused);
      this.move(ids, 'stored');
      this.set({ line: 'open' });
      // The marks stay laid over the page until the page has read what follows from them.
      void this.wiring.readBack(classId).finally(() => {
        const done = (pending: Pending) => pending.state === 'stored' && ids.has(pending.mark.id);
        this.set({ pending: this.state.pending.filter((pending) => !done(pending)) });
      });
    } catch (error) {
      const refusedWhole =
        error instanceof ApiProblem && error.status < 500 && ![401, 408, 429].includes(error.status);
      if (refusedWhole) {
        this.take(batch.map(({ mark, label }) => ({ mark, label, reason: error.message })));
        return;
      }
      this.move(ids, 'waiting');
      const signedOut = error instanceof ApiProblem && error.status === 401;
      this.set({ line: signedOut ? 'signedOut' : 'held' });
      if (signedOut) this.wiring.onSignedOut();
      await this.rest();
    }
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
    this.pause = Math.min(this.pause * 2, LONGEST_PAUSE);
  }

  private move(ids: ReadonlySet<string>, state: Pending['state']): void {
    this.set({
      pending: this.state.pending.map((pending) =>
        ids.has(pending.mark.id) ? { ...pending, state } : pending,
      ),
    });
  }

  private take(refused: Refused[]): void {
    const ids = new Set(refused.map(({ mark }) => mark.id));
    this.set({
      pending: this.state.pending.filter((pending) => !ids.has(pending.mark.id)),
      made: this.state.made.filter((made) => !ids.has(made.mark.id)),
      refused: [...this.state.refused, ...refused],
    });
  }
}

/** Sends marks through the API. */
export async function sendMarks(classId: string, marks: NewMark[]) {
  const answer = await unwrap(
    api.POST('/api/classes/{class}/marks', { params: { path: { class: classId } }, body: { marks } }),
  );
  return answer.results;
}
