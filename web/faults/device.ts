import 'fake-indexeddb/auto';
import { NoAnswer, type ChildPage, type NewObservation, type RoundEvent } from '../src/api/client';
import { ObservationOutbox, Outbox, type OutboxWiring } from '../src/offline/outbox';
import { keepingOf, OfflineStore } from '../src/offline/store';
import { ask, type School } from './place';

export interface Result {
  id?: string;
  outcome: string;
  reason?: string;
}
export type Post = (items: { id: string }[]) => Promise<Result[]>;

/** A device with its outboxes; when it dies, the next page finds what it left on its offlineStore. */
export class Device {
  online = true;
  observations!: ObservationOutbox;
  events!: Outbox<RoundEvent>;
  private readonly offlineStore: OfflineStore;
  protected readonly school: School;
  private readonly cookie: string;
  private readonly clock: number;
  private generation = 0;

  constructor(name: string, school: School, who: number, clock = 0) {
    this.offlineStore = new OfflineStore(name);
    this.school = school;
    this.cookie = school.cookies[who] ?? '';
    this.clock = clock;
  }

  now(): string {
    return new Date(Date.now() + this.clock).toISOString();
  }

  async open(): Promise<void> {
    this.generation += 1;
    const generation = this.generation;
    const wiring = <T extends { id: string }>(path: string, key: string): OutboxWiring<T> => ({
      send: (_, items) => {
        // A page that is gone sends nothing more.
        if (generation !== this.generation) return new Promise(() => undefined);
        return this.send(path, key, items);
      },
      readBack: () => Promise.resolve(),
      onSignedOut: () => undefined,
      keeping: keepingOf<T>(key, this.offlineStore),
    });
    this.observations = new ObservationOutbox(wiring<NewObservation>('observations', 'observations'));
    this.events = new Outbox<RoundEvent>(wiring<RoundEvent>('round/events', 'events'));
    await Promise.all([this.observations.signedInAs('somebody'), this.events.signedInAs('somebody')]);
  }

  private async send(path: string, key: string, items: { id: string }[]): Promise<Result[]> {
    if (!this.online) throw new NoAnswer();
    return this.deliver(items, async (some) => {
      const of = `/api/classes/${this.school.classId}/${path}`;
      return (await ask<{ results: Result[] }>(this.cookie, of, { [key]: some })).results;
    });
  }

  /** How what it sends fares on its way. */
  protected deliver(items: { id: string }[], post: Post): Promise<Result[]> {
    return post(items);
  }

  wake(): void {
    this.observations.retryNow();
    this.events.retryNow();
  }

  /** What it has left to send. */
  async waiting(): Promise<number> {
    return this.offlineStore.open().then((store) => store.count('waiting'));
  }

  /** How it stands, for a report. */
  told(): string {
    const of = ({
      pending,
      line,
      kept,
    }: {
      pending: readonly { state: string }[];
      line: string;
      kept: boolean;
    }) => `${line}${kept ? '' : ', not kept'} [${pending.map(({ state }) => state).join(' ')}]`;
    return `observations ${of(this.observations.snapshot())}, events ${of(this.events.snapshot())}`;
  }

  refused(): string[] {
    return [...this.observations.snapshot().refused, ...this.events.snapshot().refused].map(
      ({ reason }) => reason,
    );
  }

  /** As the page would: again until it is answered. */
  async page(child: string): Promise<ChildPage> {
    for (let tries = 0; ; tries += 1) {
      try {
        return await ask<ChildPage>(this.cookie, `/api/classes/${this.school.classId}/children/${child}`);
      } catch (error) {
        if (tries === 20) throw error;
        await new Promise((resolve) => setTimeout(resolve, 100));
      }
    }
  }
}
