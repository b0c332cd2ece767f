import 'fake-indexeddb/auto';
import { execFileSync, spawn, type ChildProcess } from 'node:child_process';
import { once } from 'node:events';
import { createInterface } from 'node:readline';
import { afterAll, beforeAll, expect, it } from 'vitest';
import { v7 as uuid } from 'uuid';
import {
  ApiProblem,
  NoAnswer,
  type ChildPage,
  type NewObservation,
  type Problem,
  type RoundEvent,
} from '../src/api/client';
import { ObservationOutbox, Outbox, type OutboxWiring } from '../src/offline/outbox';
import { keepingOf, OfflineStore } from '../src/offline/store';

/*
 * Two devices, one server, one PostgreSQL, and everything that goes wrong with them: no network, answers that get lost,
 * batches sent twice or in another order, a clock that is an hour wrong, a device that dies, a server killed in the middle
 * of a batch, a PostgreSQL restarted. In the end no observation is lost, none is doubled, and both devices and the server agree.
 */

const SCHEDULES = Number(process.env.FAULT_SCHEDULES ?? 20);
const FIRST = Number(process.env.FAULT_SEED ?? 1);
const STEPS = 14;
const HOUR = 3600_000;

function wanted(name: string): string {
  const value = process.env[name];
  if (!value) throw new Error(`${name} is not set: run ./test or ./bench --faults`);
  return value;
}

/** Numbers that are the same in every run of a seed. */
function numbers(seed: number): (limit: number) => number {
  let state = seed * 2654435761 + 1;
  return (limit) => {
    state = (state * 1664525 + 1013904223) % 4294967296;
    return Math.floor((state / 4294967296) * limit);
  };
}

const binary = wanted('BRIGHT_ROW_BINARY');
const admin = wanted('BRIGHT_ROW_TEST_DATABASE_URL');
const database = `faults_${process.pid}`;
const address = admin.replace(/\/[^/]*$/, `/${database}`);
const sql = (statement: string, where = address) =>
  execFileSync('psql', [where, '-qAtc', statement], { encoding: 'utf8' }).trim();

let server: ChildProcess | undefined;
let url = '';

async function startServer(): Promise<void> {
  const port = url ? new URL(url).port : '0';
  const env = { ...process.env, DATABASE_URL: address, RUST_LOG: 'off' };
  for (;;) {
    const started = spawn(binary, ['serve', '--port', port], { env, stdio: ['ignore', 'pipe', 'ignore'] });
    for await (const line of createInterface({ input: started.stdout })) {
      const found = /Bright Row is at (\S+)/.exec(line);
      if (found?.[1]) {
        server = started;
        url = found[1];
        return;
      }
    }
    // PostgreSQL is not back yet.
  }
}

/** One misfortune of the server at a time. */
let turn = Promise.resolve();
function inTurn(what: () => Promise<void>): Promise<void> {
  turn = turn.then(what);
  return turn;
}

async function killServer(): Promise<void> {
  const running = server;
  if (!running || running.exitCode !== null) return;
  const ended = new Promise((resolve) => running.once('exit', resolve));
  running.kill('SIGKILL');
  await ended;
}

async function restartPostgres(): Promise<void> {
  const scripts = wanted('BRIGHT_ROW_SCRIPTS');
  const cluster = wanted('BRIGHT_ROW_TEST_CLUSTER');
  const commands = `ROOT='${scripts}/..'; . '${scripts}/common.sh'; need_postgres; cluster_restart '${cluster}'`;
  // The server process that comes out of it would hold a pipe open.
  const restarting = spawn('bash', ['-c', commands], { stdio: 'ignore' });
  await once(restarting, 'exit');
}

async function ask<T>(cookie: string, path: string, body?: unknown): Promise<T> {
  const headers: Record<string, string> = { cookie, 'content-type': 'application/json' };
  const init = body === undefined ? { headers } : { method: 'POST', headers, body: JSON.stringify(body) };
  let answer: Response;
  let read: unknown;
  try {
    answer = await fetch(`${url}${path}`, { ...init, signal: AbortSignal.timeout(5_000) });
    read = await answer.json();
  } catch {
    throw new NoAnswer();
  }
  if (!answer.ok) throw new ApiProblem(read as Problem);
  return read as T;
}

async function signIn(email: string): Promise<string> {
  const answer = await fetch(`${url}/api/session`, {
    method: 'POST',
    headers: { 'content-type': 'application/json' },
    body: JSON.stringify({ email, password: 'bright-row-demo' }),
  });
  const cookies = answer.headers.getSetCookie().map((cookie) => cookie.split(';')[0] ?? '');
  return cookies.find((cookie) => cookie.startsWith('bright_row=')) ?? '';
}

let classId = '';
const cookies: string[] = [];

beforeAll(async () => {
  sql(`create database ${database}`, admin);
  // The cluster of the tests need not survive anything; this database has to.
  sql(`alter database ${database} set synchronous_commit = on`, admin);
  const env = { ...process.env, DATABASE_URL: address, RUST_LOG: 'off' };
  for (const command of ['migrate', 'demo']) execFileSync(binary, [command], { env, stdio: 'ignore' });
  await startServer();
  for (const who of ['director', 'assistant']) cookies.push(await signIn(`${who}@demo.example`));
  const classes = await ask<{ id: string }[]>(cookies[0] ?? '', '/api/classes');
  classId = classes[0]?.id ?? '';
}, 60_000);

afterAll(async () => {
  await killServer();
}, 60_000);

/** How often each thing went wrong: a run in which nothing did would prove nothing. */
const happened = new Map<string, number>();
const count = (what: string) => happened.set(what, (happened.get(what) ?? 0) + 1);

type Fate = 'well' | 'answer lost' | 'sent twice' | 'other order' | 'server killed' | 'postgres restarted';

/** A device with its outboxes; when it dies, the next page finds what it left on its offlineStore. */
class Device {
  online = true;
  fate: Fate = 'well';
  observations!: ObservationOutbox;
  events!: Outbox<RoundEvent>;
  private readonly offlineStore: OfflineStore;
  private readonly cookie: string;
  private readonly clock: number;
  private readonly below: (limit: number) => number;
  private generation = 0;

  constructor(name: string, cookie: string, clock: number, below: (limit: number) => number) {
    this.offlineStore = new OfflineStore(name);
    this.cookie = cookie;
    this.clock = clock;
    this.below = below;
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

  private async send(path: string, key: string, items: { id: string }[]) {
    if (!this.online) throw new NoAnswer();
    const fate = this.fate;
    this.fate = 'well';
    count(fate);
    const post = async (some: { id: string }[]) =>
      ask<{ results: { id?: string; outcome: string; reason?: string }[] }>(
        this.cookie,
        `/api/classes/${classId}/${path}`,
        { [key]: some },
      );
    if (fate === 'server killed') {
      const sent = post(items).catch(() => undefined);
      await new Promise((resolve) => setTimeout(resolve, this.below(12)));
      await inTurn(async () => {
        await killServer();
        await startServer();
      });
      await sent;
      throw new NoAnswer();
    }
    if (fate === 'postgres restarted') {
      const sent = post(items).catch(() => undefined);
      await inTurn(restartPostgres);
      await sent;
      throw new NoAnswer();
    }
    if (fate === 'sent twice') await post(items);
    const order = fate === 'other order' ? items.toReversed() : items;
    const { results } = await post(order);
    if (fate === 'answer lost') throw new NoAnswer();
    return fate === 'other order' ? results.toReversed() : results;
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
        return await ask<ChildPage>(this.cookie, `/api/classes/${classId}/children/${child}`);
      } catch (error) {
        if (tries === 20) throw error;
        await new Promise((resolve) => setTimeout(resolve, 100));
      }
    }
  }
}

const TARGETS = ['hold.size', 'hold.rest', 'bow.pluck', 'frame.ring', 'tape.measured'];
const FATES: Fate[] = ['answer lost', 'sent twice', 'other order', 'server killed'];

async function play(seed: number): Promise<void> {
  const below = numbers(seed);
  const pick = <T>(list: readonly T[]): T => list[below(list.length)] as T;
  const children = sql('select child_id from child where left_on is null order by name limit 36').split('\n');
  const some = [pick(children), pick(children), pick(children)];
  const devices = [0, 1].map(
    (index) => new Device(`device-${seed}-${index}`, cookies[index] ?? '', pick([-HOUR, 0, HOUR]), below),
  );
  await Promise.all(devices.map((device) => device.open()));
  const made: NewObservation[] = [];
  const told: string[] = [];
  const round = uuid();
  for (let step = 0; step < STEPS; step += 1) {
    const device = pick(devices);
    switch (
      pick([
        'observation',
        'observation',
        'observation',
        'stage',
        'undo',
        'event',
        'offline',
        'fate',
        'fate',
        'die',
      ])
    ) {
      case 'observation': {
        const target = pick(TARGETS);
        const level = target.startsWith('tape') ? pick([0, 3]) : below(5);
        const observation: NewObservation = {
          id: uuid(),
          child: pick(some),
          target,
          level,
          observedAt: device.now(),
          round,
        };
        made.push(observation);
        device.observations.add(classId, observation, 'an observation');
        break;
      }
      case 'stage': {
        const observation: NewObservation = {
          id: uuid(),
          child: pick(some),
          target: 'hold.1',
          observedAt: device.now(),
          round,
        };
        made.push(observation);
        device.observations.add(classId, observation, 'a stage');
        break;
      }
      case 'undo': {
        // Also of what the other device made, and before either has sent anything.
        const undone = made.filter(({ retracts }) => retracts == null).at(below(made.length + 1));
        if (!undone) break;
        const { child, target } = undone;
        const observation: NewObservation = {
          id: uuid(),
          child,
          target,
          retracts: undone.id,
          observedAt: device.now(),
          round,
        };
        made.push(observation);
        device.observations.add(classId, observation, 'an undo');
        break;
      }
      case 'event': {
        const event: RoundEvent = {
          id: uuid(),
          round,
          kind: 'visited',
          device: 'device',
          at: device.now(),
          children: [{ child: pick(some), checks: [] }],
          detail: {},
        };
        told.push(event.id);
        device.events.add(classId, event, 'an event');
        break;
      }
      case 'offline':
        device.online = !device.online;
        break;
      case 'fate':
        device.fate = seed % 5 === 0 && step > STEPS / 2 ? 'postgres restarted' : pick(FATES);
        break;
      case 'die':
        // What was tapped has reached the offlineStore: it takes a few milliseconds.
        await device.waiting();
        await device.open();
        count('died');
        break;
    }
    device.wake();
    await new Promise((resolve) => setTimeout(resolve, below(4)));
  }
  for (const device of devices) device.online = true;
  const begun = Date.now();
  for (;;) {
    const left = await Promise.all(devices.map((device) => device.waiting()));
    if (left.every((count) => count === 0)) break;
    if (Date.now() - begun > 30_000)
      throw new Error(
        `seed ${seed}: ${left.join(' and ')} are still waiting: ${devices.map((device) => device.told()).join('; ')}`,
      );
    devices.forEach((device) => {
      device.wake();
    });
    await new Promise((resolve) => setTimeout(resolve, 5));
  }
  expect(
    devices.flatMap((device) => device.refused()),
    `seed ${seed}`,
  ).toEqual([]);
  const stored = sql(`select observation_id from observation where round_id = '${round}' order by 1`)
    .split('\n')
    .filter(Boolean);
  expect(stored, `seed ${seed}: every observation, once`).toEqual(made.map(({ id }) => id).sort());
  const occurred = sql(`select event_id from round_event where round_id = '${round}' order by 1`)
    .split('\n')
    .filter(Boolean);
  expect(occurred, `seed ${seed}: every event, once`).toEqual([...told].sort());
  for (const child of new Set(some)) {
    const [one, other] = await Promise.all(devices.map((device) => device.page(child)));
    const told = (page: ChildPage | undefined) => {
      // The observations of a basis come in no order.
      const { observations = [], ...basis } = (page?.basis ?? {}) as { observations?: { id: string }[] };
      const sorted = observations.toSorted((a, b) => a.id.localeCompare(b.id));
      return { ...page, role: undefined, mayChange: undefined, basis: { ...basis, observations: sorted } };
    };
    expect(told(one), `seed ${seed}: both devices agree`).toEqual(told(other));
  }
}

it(
  `no observation is lost or doubled in ${SCHEDULES} schedules, and everybody agrees in the end`,
  { timeout: 3600_000 },
  async () => {
    for (let seed = FIRST; seed < FIRST + SCHEDULES; seed += 1) await play(seed);
    console.log(Object.fromEntries(happened));
    const everything = [...FATES, 'postgres restarted', 'died'];
    expect(
      everything.filter((what) => !happened.has(what)),
      'went wrong at least once',
    ).toEqual([]);
    const env = { ...process.env, DATABASE_URL: address, RUST_LOG: 'off' };
    const said = execFileSync(binary, ['check-standings'], { env, encoding: 'utf8' });
    expect(said).toMatch(/^All \d+ standings follow from their observations/);
  },
);
