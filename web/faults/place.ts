import { execFileSync, spawn, type ChildProcess } from 'node:child_process';
import { createInterface } from 'node:readline';
import { ApiProblem, NoAnswer, type Problem } from '../src/api/client';

/* One server over a database of its own, and who signs in to it. */

export function wanted(name: string): string {
  const value = process.env[name];
  if (!value) throw new Error(`${name} is not set: run ./test, ./bench --faults or ./bench --ha`);
  return value;
}

/** Numbers that are the same in every run of a seed. */
export function numbers(seed: number): (limit: number) => number {
  let state = seed * 2654435761 + 1;
  return (limit) => {
    state = (state * 1664525 + 1013904223) % 4294967296;
    return Math.floor((state / 4294967296) * limit);
  };
}

export const binary = wanted('BRIGHT_ROW_BINARY');
const admin = wanted('BRIGHT_ROW_TEST_DATABASE_URL');
const database = `devices_${process.pid}`;
const address = admin.replace(/\/[^/?]*(\?.*)?$/, `/${database}$1`);
export const sql = (statement: string, where = address) =>
  execFileSync('psql', [where, '-qAtc', statement], { encoding: 'utf8' }).trim();

let server: ChildProcess | undefined;
let url = '';

export async function startServer(): Promise<void> {
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

export async function killServer(): Promise<void> {
  const running = server;
  if (!running || running.exitCode !== null) return;
  const ended = new Promise((resolve) => running.once('exit', resolve));
  running.kill('SIGKILL');
  await ended;
}

export async function ask<T>(cookie: string, path: string, body?: unknown): Promise<T> {
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

/** What the program says to a command of its command line. */
export function command(...words: string[]): string {
  const env = { ...process.env, DATABASE_URL: address, RUST_LOG: 'off' };
  return execFileSync(binary, words, { env, encoding: 'utf8', stdio: ['ignore', 'pipe', 'ignore'] });
}

export interface School {
  classId: string;
  /** Of the director and of an assistant. */
  cookies: string[];
}

/** Serves the demo's school, in a database that has to survive what comes. */
export async function openSchool(): Promise<School> {
  sql(`create database ${database}`, admin);
  // The cluster of the tests need not survive anything; this database has to.
  sql(`alter database ${database} set synchronous_commit = on`, admin);
  for (const word of ['migrate', 'demo']) command(word);
  await startServer();
  const cookies: string[] = [];
  for (const who of ['director', 'assistant']) cookies.push(await signIn(`${who}@demo.example`));
  const classes = await ask<{ id: string }[]>(cookies[0] ?? '', '/api/classes');
  // What comes from here on may be lost with the power, where it was not forced to the disk; what is here already is not.
  sql('checkpoint');
  execFileSync('sync');
  return { classId: classes[0]?.id ?? '', cookies };
}
