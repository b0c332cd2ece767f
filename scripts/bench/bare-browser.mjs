// A browser that nobody debugs. Playwright listens to the scripts of its pages, and the engine then reads every script a second
// time to be able to say where an error came from: a quarter of what opening a page takes. Here only the processor is slowed.
// Speaks the browser's own protocol: messages in JSON with a zero byte after each.
import { spawn } from 'node:child_process';
import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';

/** Starts it; `call` asks it for something, of one page where a session of that page is named. */
export function startBrowser(executable, args) {
  const profile = mkdtempSync(join(tmpdir(), 'bright-row-browser-'));
  const started = spawn(
    executable,
    ['--headless=new', '--disable-gpu', '--no-first-run', '--remote-debugging-pipe', `--user-data-dir=${profile}`, ...args],
    { stdio: ['ignore', 'ignore', 'ignore', 'pipe', 'pipe'] },
  );
  const [, , , to, from] = started.stdio;
  const waiting = new Map();
  let last = 0;
  let text = '';
  from.setEncoding('utf8').on('data', (part) => {
    const messages = (text + part).split('\0');
    text = messages.pop();
    for (const { id, result, error } of messages.map((one) => JSON.parse(one))) {
      const asked = waiting.get(id);
      waiting.delete(id);
      if (error) asked?.reject(new Error(`${asked.method}: ${error.message}`));
      else asked?.resolve(result);
    }
  });
  started.once('exit', () => {
    for (const { method, reject } of waiting.values()) reject(new Error(`${method}: the browser has ended`));
  });
  return {
    call: (method, params = {}, sessionId = undefined) =>
      new Promise((resolve, reject) => {
        last += 1;
        waiting.set(last, { method, resolve, reject });
        to.write(`${JSON.stringify({ id: last, method, params, sessionId })}\0`);
      }),
    stop: async () => {
      const ended = new Promise((resolve) => started.once('exit', resolve));
      started.kill();
      await ended;
      rmSync(profile, { recursive: true, force: true });
    },
  };
}
