// How soon a tap is seen, in a real browser with the processor slowed four times: the Room of the class at the address given, beside
// a page of the same packages that draws nothing. Prints the medians, and fails above the aim.
import { createRequire } from 'node:module';

const require = createRequire(new URL('../../e2e/package.json', import.meta.url));
const { chromium } = require('playwright');
const [url, classId, label] = process.argv.slice(2);

const SLOWER = 4;
const TAPS = 12;
/** Milliseconds from where a finger is to its tap. */
const BEFORE_TAP = 300;
/** Milliseconds from a tap that was seen to the next one. */
const BETWEEN_TAPS = 2000;
/** The shortest duration of an event that a browser tells, in milliseconds. */
const FRAME = 16;
/** Milliseconds. */
const SEEN = 100;

const median = (all) => all.toSorted((a, b) => a - b)[Math.floor(all.length / 2)];
const spread = (all) => `${Math.round(Math.min(...all))} to ${Math.round(Math.max(...all))}`;

const browser = await chromium.launch({
  executablePath: process.env.CHROMIUM ?? '/usr/bin/chromium',
  args: process.getuid?.() === 0 ? ['--no-sandbox'] : [],
});

/** A browser that has never been here, signed in, with everything slower. */
async function opened(empty) {
  const context = await browser.newContext({ viewport: { width: 1280, height: 800 }, serviceWorkers: 'block' });
  const answer = await context.request.post(`${url}/api/session`, {
    data: { email: 'director@demo.example', password: 'bright-row-demo' },
  });
  if (!answer.ok()) throw new Error(`signing in: ${answer.status()}`);
  const page = await context.newPage();
  if (empty)
    // The same scripts, and nothing to draw on; a button of the page's own to tap.
    await page.route('**/class/**', async (route) => {
      const html = await (await route.fetch()).text();
      await route.fulfill({
        contentType: 'text/html',
        body: html.replace('<div id="root"></div>', '<button id="blank">0</button>'),
      });
    });
  await page.addInitScript(() => {
    globalThis.durations = [];
    new PerformanceObserver((list) => {
      for (const entry of list.getEntries()) if (entry.name === 'click') globalThis.durations.push(entry.duration);
    }).observe({ type: 'event', durationThreshold: 0, buffered: true });
  });
  const slow = await context.newCDPSession(page);
  await slow.send('Emulation.setCPUThrottlingRate', { rate: SLOWER });
  return { page, close: () => context.close() };
}

/** From a tap to the next picture, by the browser's own clock for that. */
async function seen(empty) {
  const { page, close } = await opened(empty);
  await page.goto(`${url}/class/${classId}/room`);
  const taps = [];
  if (!empty) {
    await page.locator('[id^="seat-"]').first().click();
    await page.getByRole('region', { name: 'Ladders' }).waitFor();
    await page.waitForLoadState('networkidle');
  } else
    await page.evaluate(() => {
      const button = document.getElementById('blank');
      button.addEventListener('click', () => (button.textContent = String(Number(button.textContent) + 1)));
    });
  for (let tap = 0; tap < TAPS; tap += 1) {
    await page.evaluate(() => (globalThis.durations.length = 0));
    const keys = empty
      ? page.locator('#blank')
      : page.getByRole('group', { name: /^Level of / }).first().getByRole('button').nth(tap % 2 === 0 ? 3 : 1);
    // The bare input: what looks for a button, and whether it can be clicked, works in the page too.
    await keys.scrollIntoViewIfNeeded();
    const { x, y, width, height } = await keys.boundingBox();
    await page.mouse.move(x + width / 2, y + height / 2);
    await page.waitForTimeout(BEFORE_TAP);
    await page.mouse.down();
    await page.mouse.up();
    // What is seen within a frame is not told by the browser at all.
    await page.waitForFunction(() => globalThis.durations.length > 0, undefined, { timeout: 2000 }).catch(() => undefined);
    if (!empty && (await keys.getAttribute('aria-pressed')) !== 'true') throw new Error('a tap did not hit its key');
    taps.push(await page.evaluate((frame) => Math.max(frame, ...globalThis.durations), FRAME));
    // What the server answers is read and drawn too, but not while the next tap is measured: somebody looks before the next one.
    await page.waitForTimeout(BETWEEN_TAPS);
  }
  await close();
  return taps;
}

const taps = { room: await seen(false), blank: await seen(true) };
await browser.close();

const tap = median(taps.room);
console.log(
  `${label}: a tap is seen after ${Math.round(tap)} ms (${spread(taps.room)}), on nothing ${Math.round(median(taps.blank))} ms ` +
    `(${spread(taps.blank)}) (aim: ${SEEN} ms)`,
);
if (!(tap <= SEEN)) process.exitCode = 1;
