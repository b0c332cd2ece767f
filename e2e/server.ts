import { execFileSync, spawn, type ChildProcess } from 'node:child_process';
import { createInterface } from 'node:readline';

/** The binary and the test run's own cluster; ./test sets both. */
function wanted(name: string): string {
  const value = process.env[name];
  if (!value) throw new Error(`${name} is not set: journeys run through ./test`);
  return value;
}

const binary = () => wanted('BRIGHT_ROW_BINARY');
const admin = () => wanted('BRIGHT_ROW_TEST_DATABASE_URL');

/** Databases that journeys clone: with the demo school, and with nobody in it. */
export const DEMO = 'e2e_demo';
export const EMPTY = 'e2e_empty';

export function sql(statement: string, database = 'postgres'): string {
  return execFileSync('psql', [addressOf(database), '-qAtc', statement], { encoding: 'utf8' }).trim();
}

export function addressOf(database: string): string {
  return admin().replace(/\/[^/]*$/, `/${database}`);
}

export function bright(command: string, database: string): void {
  execFileSync(binary(), [command], { env: { ...process.env, DATABASE_URL: addressOf(database) }, stdio: 'ignore' });
}

/** What the command line says of a file or folder of content. */
export function checkContent(path: string): string {
  return execFileSync(binary(), ['check-content', path], { encoding: 'utf8' }).trim();
}

/** A server on a port of its own over a database of its own. */
export class Server {
  url = '';
  readonly database: string;
  private process: ChildProcess | undefined;

  private constructor(database: string) {
    this.database = database;
  }

  static async over(template: string): Promise<Server> {
    const database = `e2e_${process.pid}_${Math.random().toString(36).slice(2, 10)}`;
    sql(`create database ${database} template ${template}`);
    const server = new Server(database);
    await server.start();
    return server;
  }

  /** Starts, or starts again on the same port after {@link stop}. */
  async start(): Promise<void> {
    const port = this.url ? new URL(this.url).port : '0';
    const started = spawn(binary(), ['serve', '--port', port], {
      env: { RUST_LOG: 'warn', ...process.env, DATABASE_URL: addressOf(this.database) },
      stdio: ['ignore', 'pipe', 'inherit'],
    });
    this.process = started;
    for await (const line of createInterface({ input: started.stdout })) {
      const found = /Bright Row is at (\S+)/.exec(line);
      if (found?.[1]) {
        this.url = found[1];
        return;
      }
    }
    throw new Error('the server ended before it was up');
  }

  async stop(): Promise<void> {
    const running = this.process;
    this.process = undefined;
    if (!running || running.exitCode !== null) return;
    const ended = new Promise((resolve) => running.once('exit', resolve));
    running.kill('SIGTERM');
    await ended;
  }

  async remove(): Promise<void> {
    await this.stop();
    sql(`drop database ${this.database} with (force)`);
  }

  sql(statement: string): string {
    return sql(statement, this.database);
  }
}
