import { execFileSync } from 'node:child_process';
import { afterAll, beforeAll, expect, it } from 'vitest';
import { v7 as uuid } from 'uuid';
import type { NewObservation } from '../src/api/client';
import { Device, type Post, type Result } from './device';
import { command, killServer, numbers, openSchool, sql, wanted, type School } from './place';

/*
 * Devices that record, a server, and three PostgreSQL nodes behind a proxy (scripts/ha/up). Again and again the leader is killed,
 * paused or cut off from the others. No answered observation is lost, none is doubled, others are written within seconds, and the
 * node comes back by itself.
 */

const FAULTS = Number(process.env.HA_FAULTS ?? 20);
const SEED = Number(process.env.HA_SEED ?? 1);
const KINDS = ['kill', 'pause', 'cut'] as const;
const TARGETS = ['hold.size', 'hold.rest', 'hold.raise', 'bow.thumb', 'bow.alone', 'frame.arm'];
/** So often a device has something new to send: more than a director taps. */
const EVERY_MS = 100;

const place = wanted('HA');
/** A word to the nodes: see scripts/ha/fault. */
function nodes(...words: string[]): string {
  const script = `${wanted('BRIGHT_ROW_SCRIPTS')}/ha/fault`;
  return execFileSync(script, [place, ...words], { encoding: 'utf8' }).trim();
}
const pause = (ms: number) => new Promise((resolve) => setTimeout(resolve, ms));

/** The moments at which something sent was answered. */
const answered: number[] = [];

class Recording extends Device {
  readonly made: NewObservation[] = [];

  protected override async deliver(items: { id: string }[], post: Post): Promise<Result[]> {
    const results = await post(items);
    answered.push(performance.now());
    return results;
  }

  /** Records until it is told to stop. */
  async record(children: string[], round: string, below: (limit: number) => number, goes: () => boolean) {
    while (goes()) {
      const observation: NewObservation = {
        id: uuid(),
        child: children[below(children.length)] ?? '',
        target: TARGETS[below(TARGETS.length)] ?? '',
        level: below(5),
        observedAt: this.now(),
        round,
      };
      this.made.push(observation);
      this.observations.add(this.school.classId, observation, 'an observation');
      this.wake();
      await pause(EVERY_MS);
    }
  }
}

/** The longest time without an answer between two moments. */
function silence(from: number, to: number): number {
  const moments = [from, ...answered.filter((moment) => moment > from && moment < to), to];
  return Math.max(...moments.slice(1).map((moment, index) => moment - (moments[index] ?? from)));
}

async function until(what: () => boolean, within: number, otherwise: string): Promise<void> {
  const begun = performance.now();
  while (!what()) {
    if (performance.now() - begun > within) throw new Error(otherwise);
    await pause(50);
  }
}

let school: School;
beforeAll(async () => {
  school = await openSchool();
}, 120_000);
afterAll(killServer, 60_000);

interface Fault {
  kind: (typeof KINDS)[number];
  leader: string;
  next: string;
  silent: number;
  back: number;
}

it(`in ${FAULTS} faults of the leader nothing that was answered is lost`, { timeout: 3600_000 }, async () => {
  const below = numbers(SEED);
  const children = sql('select child_id from child where left_on is null order by name limit 36').split('\n');
  const round = uuid();
  const devices = [0, 1].map((index) => new Recording(`recording-${index}`, school, index));
  await Promise.all(devices.map((device) => device.open()));
  let going = true;
  const recording = devices.map((device) => device.record(children, round, below, () => going));
  const faults: Fault[] = [];
  for (let number = 0; number < FAULTS; number += 1) {
    const before = answered.length;
    await until(() => answered.length > before + 5, 30_000, 'nothing is answered before anything went wrong');
    const kind = KINDS[number % KINDS.length] ?? 'kill';
    const leader = nodes('leader');
    const begun = performance.now();
    nodes(kind, leader);
    // What was on its way is still answered: only an answer after a silence says that writes go on.
    await pause(1000);
    const since = answered.length;
    const stopped = `nothing is written any more after fault ${number + 1}, ${kind} of node ${leader}`;
    await until(() => answered.length > since, 60_000, stopped);
    const healed = performance.now();
    const silent = silence(begun, healed);
    nodes('heal', leader);
    nodes('whole', '90');
    const back = performance.now() - healed;
    faults.push({ kind, leader, next: nodes('leader'), silent, back });
  }
  going = false;
  await Promise.all(recording);
  for (const device of devices) {
    const begun = performance.now();
    while ((await device.waiting()) > 0) {
      if (performance.now() - begun > 60_000) throw new Error(`still waiting: ${device.told()}`);
      device.wake();
      await pause(50);
    }
  }
  expect(devices.flatMap((device) => device.refused())).toEqual([]);
  const made = devices.flatMap((device) => device.made.map(({ id }) => id));
  const stored = sql(`select observation_id from observation where round_id = '${round}'`).split('\n');
  expect(stored.toSorted(), 'every observation, once').toEqual(made.toSorted());
  expect(command('check-standings')).toMatch(/^All \d+ standings follow from their observations/);

  const seconds = (ms: number) => (ms / 1000).toFixed(1).padStart(6);
  console.log('fault   leader then   silent s   back after s');
  for (const { kind, leader, next, silent, back } of faults)
    console.log(
      `${kind.padEnd(8)}${leader.padEnd(7)}${next.padEnd(5)}${seconds(silent)}     ${seconds(back)}`,
    );
  const sorted = faults.map(({ silent }) => silent).toSorted((a, b) => a - b);
  const worst = sorted[Math.ceil(sorted.length * 0.95) - 1] ?? 0;
  console.log(
    `RESULT ${(worst / 1000).toFixed(1)} ${made.length} ${(Math.max(...sorted) / 1000).toFixed(1)}`,
  );
});
