// How soon the Room can be used, from an empty cache with the processor slowed four times, beside a page of the same packages that
// draws nothing: the class at the address given. Prints the medians, and fails above the aim.
import { startBrowser } from './bare-browser.mjs';

const [url, classId, label] = process.argv.slice(2);

const SLOWER = 4;
const OPENED = 9;
/** Milliseconds. */
const USABLE = 1500;
const SIZE = { width: 1280, height: 800 };

/** When the chairs are drawn and the thread is free again; for the empty page when everything is read. */
const WATCH = `globalThis.usable = new Promise((resolve) => {
  const look = () => {
    if (!document.querySelector('[id^="seat-"]')) return requestAnimationFrame(look);
    requestAnimationFrame(() => setTimeout(() => resolve(performance.now()), 0));
  };
  look();
});`;
const EMPTY = `document.addEventListener('readystatechange', () => document.getElementById('root')?.remove());
globalThis.usable = new Promise((resolve) => {
  addEventListener('load', () => setTimeout(() => resolve(performance.now()), 0));
});`;

const signedIn = await fetch(`${url}/api/session`, {
  method: 'POST',
  headers: { 'content-type': 'application/json' },
  body: JSON.stringify({ email: 'director@demo.example', password: 'bright-row-demo' }),
});
if (!signedIn.ok) throw new Error(`signing in: ${signedIn.status}`);
const [name, value] = signedIn.headers.getSetCookie()[0].split(';')[0].split('=');

const { call, stop } = startBrowser(
  process.env.CHROMIUM ?? '/usr/bin/chromium',
  process.getuid?.() === 0 ? ['--no-sandbox'] : [],
);

/** Milliseconds from the navigation, in a browser that has never been here. */
async function usable(script) {
  const { browserContextId } = await call('Target.createBrowserContext');
  await call('Storage.setCookies', { browserContextId, cookies: [{ name, value, url }] });
  const { targetId } = await call('Target.createTarget', { url: 'about:blank', browserContextId, ...SIZE });
  const { sessionId } = await call('Target.attachToTarget', { targetId, flatten: true });
  const page = (method, params) => call(method, params, sessionId);
  await page('Page.enable');
  await page('Page.addScriptToEvaluateOnNewDocument', { source: script });
  await page('Emulation.setCPUThrottlingRate', { rate: SLOWER });
  await page('Page.navigate', { url: `${url}/class/${classId}/room` });
  const { result, exceptionDetails } = await page('Runtime.evaluate', {
    expression: 'globalThis.usable',
    awaitPromise: true,
    returnByValue: true,
    timeout: 30_000,
  });
  if (exceptionDetails) throw new Error(exceptionDetails.text);
  await call('Target.disposeBrowserContext', { browserContextId });
  return result.value;
}

const median = (all) => all.toSorted((a, b) => a - b)[Math.floor(all.length / 2)];
const spread = (all) => `${Math.round(Math.min(...all))} to ${Math.round(Math.max(...all))}`;

const times = { room: [], blank: [] };
// The first of each reads the browser itself from the disk and does not count.
for (let turn = 0; turn <= OPENED; turn += 1) {
  const [room, blank] = [await usable(WATCH), await usable(EMPTY)];
  if (turn === 0) continue;
  times.room.push(room);
  times.blank.push(blank);
}
await stop();

const room = median(times.room);
console.log(
  `${label}: usable ${Math.round(room)} ms (${spread(times.room)}), nothing drawn ${Math.round(median(times.blank))} ms ` +
    `(${spread(times.blank)}), ratio ${(room / median(times.blank)).toFixed(2)} (aim: ${USABLE} ms)`,
);
if (!(room <= USABLE)) process.exitCode = 1;
