// Directors who walk a round at once: each records an observation every EVERY seconds and has two pages open that hear of it and read the
// room again. Prints what came of it as one line of JSON. Usage: directors.mjs URL SECONDS; CLASSES has a line for each director, "class
// cookie child,child,...".
import { Agent, request } from 'node:http';
import { randomUUID } from 'node:crypto';
import { readFileSync } from 'node:fs';

const [, , url, seconds] = process.argv;
const EVERY = Number(process.env.EVERY ?? 5) * 1000;
const TARGETS = ['hold.size', 'hold.rest', 'hold.raise', 'bow.thumb', 'bow.alone', 'frame.arm'];
const { hostname, port } = new URL(url);
const agent = new Agent({ keepAlive: true, maxSockets: Infinity });
const streams = new Agent({ keepAlive: false, maxSockets: Infinity });
const sleep = (ms) => new Promise((done) => setTimeout(done, ms));

const posts = [];
const rooms = [];
const heardAfter = [];
const failures = [];
let stored = 0;
let open = true;

function ask(method, path, cookie, body) {
  return new Promise((done, failed) => {
    const headers = { cookie, ...(body ? { 'content-type': 'application/json', 'content-length': Buffer.byteLength(body) } : {}) };
    const asked = request({ hostname, port, method, path, headers, agent, timeout: 10_000 }, (answer) => {
      const parts = [];
      answer.on('data', (part) => parts.push(part));
      answer.on('end', () => done({ status: answer.statusCode, body: Buffer.concat(parts).toString() }));
      answer.on('error', failed);
    });
    asked.on('timeout', () => asked.destroy(new Error('no answer within 10 s')));
    asked.on('error', failed);
    asked.end(body);
  });
}

/** A page: hears of changes, and reads the room after each. One reading at a time, as pages do. */
class Page {
  constructor(director) {
    this.director = director;
    this.waiting = [];
  }
  listen() {
    if (!open) return;
    const { klass, cookie } = this.director;
    const asked = request({ hostname, port, path: `/api/classes/${klass}/live`, headers: { cookie }, agent: streams }, (answer) => {
      answer.setEncoding('utf8');
      answer.on('data', (text) => text.includes('event: changed') && this.changed());
      answer.on('close', () => this.again());
      answer.on('error', () => undefined);
    });
    asked.on('error', () => this.again());
    asked.end();
    this.stream = asked;
  }
  again() {
    if (open) setTimeout(() => this.listen(), 500);
  }
  changed() {
    const now = performance.now();
    for (const since of this.waiting.splice(0)) heardAfter.push(now - since);
    this.stale = true;
    if (!this.reading) void this.read();
  }
  async read() {
    this.reading = true;
    while (this.stale && open) {
      this.stale = false;
      const begun = performance.now();
      try {
        const { status } = await ask('GET', `/api/classes/${this.director.klass}/room`, this.director.cookie);
        if (status !== 200) throw new Error(`room: ${status}`);
        rooms.push(performance.now() - begun);
      } catch (error) {
        failures.push({ at: Date.now(), what: String(error.message ?? error) });
      }
    }
    this.reading = false;
  }
}

async function walk(director, index) {
  await sleep((index * EVERY) / directors.length);
  const pages = [new Page(director), new Page(director)];
  for (const page of pages) page.listen();
  await sleep(1000);
  for (let number = 0; open; number += 1) {
    const begun = performance.now();
    const observation = {
      id: randomUUID(),
      child: director.children[(number * 7) % director.children.length],
      target: TARGETS[number % TARGETS.length],
      level: number % 5,
      observedAt: new Date().toISOString(),
    };
    const body = JSON.stringify({ observations: [observation] });
    for (const page of pages) page.waiting.push(begun);
    // Again until it is answered, as an outbox does.
    for (let tries = 0; open || tries === 0; tries += 1) {
      const sent = performance.now();
      try {
        const { status, body: said } = await ask('POST', `/api/classes/${director.klass}/observations`, director.cookie, body);
        if (status !== 200 || !/"(stored|known)"/.test(said)) throw new Error(`observation: ${status} ${said.slice(0, 200)}`);
        posts.push(performance.now() - sent);
        stored += 1;
        break;
      } catch (error) {
        failures.push({ at: Date.now(), what: String(error.message ?? error) });
        await sleep(250);
      }
    }
    await sleep(Math.max(0, EVERY - (performance.now() - begun)));
  }
  for (const page of pages) page.stream?.destroy();
}

const directors = readFileSync(process.env.CLASSES, 'utf8')
  .trim()
  .split('\n')
  .map((line) => line.split(' '))
  .map(([klass, cookie, children]) => ({ klass, cookie, children: children.split(',') }));
const walking = directors.map(walk);
await sleep(Number(seconds) * 1000);
open = false;
await Promise.race([Promise.all(walking), sleep(EVERY + 5000)]);
const at = (times, share) => {
  const sorted = times.toSorted((one, other) => one - other);
  return Math.round((sorted[Math.min(sorted.length - 1, Math.floor(sorted.length * share))] ?? 0) * 10) / 10;
};
const first = failures[0]?.at ?? 0;
const kinds = {};
for (const { what } of failures) kinds[what] = (kinds[what] ?? 0) + 1;
console.log(
  JSON.stringify({
    directors: directors.length,
    stored,
    posts: { p50: at(posts, 0.5), p99: at(posts, 0.99) },
    rooms: { many: rooms.length, p50: at(rooms, 0.5), p99: at(rooms, 0.99) },
    heard: { many: heardAfter.length, p99: at(heardAfter, 0.99), late: heardAfter.filter((ms) => ms > 1000).length },
    failed: failures.length,
    failedWithinMs: failures.length ? Math.max(...failures.map((one) => one.at)) - first : 0,
    kinds,
  }),
);
process.exit(0);
