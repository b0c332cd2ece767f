import { spawn } from 'node:child_process';
import { once } from 'node:events';
import { afterAll, beforeAll, expect, it } from 'vitest';
import { v7 as uuid } from 'uuid';
import { NoAnswer, type ChildPage, type NewObservation, type RoundEvent } from '../src/api/client';
import { Device, type Post, type Result } from './device';
import { command, killServer, numbers, openSchool, sql, startServer, wanted, type School } from './place';

/*
 * Two devices, one server, one PostgreSQL, and everything that goes wrong with them: no network, answers that get lost,
 * batches sent twice or in another order, a clock that is an hour wrong, a device that dies, a server killed in the middle
 * of a batch, a PostgreSQL restarted. In the end no observation is lost, none is doubled, and both devices and the server agree.
 */

const SCHEDULES = Number(process.env.FAULT_SCHEDULES ?? 20);
const FIRST = Number(process.env.FAULT_SEED ?? 1);
const STEPS = 14;
const HOUR = 3600_000;

/** One misfortune of the server at a time. */
let turn = Promise.resolve();
function inTurn(what: () => Promise<void>): Promise<void> {
  turn = turn.then(what);
  return turn;
}

async function restartPostgres(): Promise<void> {
  const scripts = wanted('BRIGHT_ROW_SCRIPTS');
  const cluster = wanted('BRIGHT_ROW_TEST_CLUSTER');
  const commands = `ROOT='${scripts}/..'; . '${scripts}/common.sh'; need_postgres; cluster_restart '${cluster}'`;
  // The server process that comes out of it would hold a pipe open.
  const restarting = spawn('bash', ['-c', commands], { stdio: 'ignore' });
  await once(restarting, 'exit');
}

let school: School;
let classId = '';

beforeAll(async () => {
  school = await openSchool();
  classId = school.classId;
}, 60_000);

afterAll(killServer, 60_000);

/** How often each thing went wrong: a run in which nothing did would prove nothing. */
const happened = new Map<string, number>();
const count = (what: string) => happened.set(what, (happened.get(what) ?? 0) + 1);

type Fate = 'well' | 'answer lost' | 'sent twice' | 'other order' | 'server killed' | 'postgres restarted';

/** A device whose sending goes wrong in every way there is. */
class Unlucky extends Device {
  fate: Fate = 'well';
  below = numbers(0);

  protected override async deliver(items: { id: string }[], post: Post): Promise<Result[]> {
    const fate = this.fate;
    this.fate = 'well';
    count(fate);
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
    const results = await post(order);
    if (fate === 'answer lost') throw new NoAnswer();
    return fate === 'other order' ? results.toReversed() : results;
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
    (index) => new Unlucky(`device-${seed}-${index}`, school, index, pick([-HOUR, 0, HOUR])),
  );
  for (const device of devices) device.below = below;
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
    expect(command('check-standings')).toMatch(/^All \d+ standings follow from their observations/);
  },
);
