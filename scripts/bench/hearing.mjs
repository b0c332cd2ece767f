// What listening costs in a page, and how soon a sound is seen: strings of the simulated microphone at the address given, and beside
// them the same page while it does not listen. Prints the share of one core that the audio thread takes, by the browser's own trace,
// and milliseconds from where a string is plucked to the picture that shows it.
import { createRequire } from 'node:module';

const require = createRequire(new URL('../../e2e/package.json', import.meta.url));
const { chromium } = require('playwright');
const [url] = process.argv.slice(2);

const SECONDS = 20;
const TRACED = 10;
/** Seconds between two plucks of the stand-in. */
const EACH = 1.6;
/** Share of one core. */
const COST = 0.05;
/** Milliseconds from sound to picture. */
const SEEN = { violin: 120, viola: 120, cello: 120, bass: 250 };

const browser = await chromium.launch({
  executablePath: process.env.CHROMIUM ?? '/usr/bin/chromium',
  args: [...(process.getuid?.() === 0 ? ['--no-sandbox'] : []), '--autoplay-policy=no-user-gesture-required'],
});

const median = (all) => all.toSorted((a, b) => a - b)[Math.floor(all.length / 2)];

async function opened() {
  const context = await browser.newContext({ viewport: { width: 1280, height: 800 }, serviceWorkers: 'block' });
  const answer = await context.request.post(`${url}/api/session`, {
    data: { email: 'director@demo.example', password: 'bright-row-demo' },
  });
  if (!answer.ok()) throw new Error(`signing in: ${answer.status()}`);
  const page = await context.newPage();
  await page.addInitScript(() => {
    // When the stand-in begins by the clock of the page, and when pictures show its pitches.
    const start = AudioBufferSourceNode.prototype.start;
    AudioBufferSourceNode.prototype.start = function (...rest) {
      globalThis.playing = { audio: this.context, since: this.context.currentTime };
      return start.apply(this, rest);
    };
    globalThis.seen = [];
    new MutationObserver(() => {
      const circle = document.querySelector('circle.finger');
      if (Boolean(circle) === globalThis.shown) return;
      globalThis.shown = Boolean(circle);
      requestAnimationFrame(() =>
        setTimeout(() => {
          if (!circle || !globalThis.playing) return;
          const { audio, since } = globalThis.playing;
          const { contextTime, performanceTime } = audio.getOutputTimestamp();
          const latency = audio.outputLatency || audio.baseLatency || 0;
          globalThis.seen.push(contextTime + latency + (performance.now() - performanceTime) / 1000 - since);
        }),
      );
    }).observe(document, { subtree: true, childList: true, attributes: true });
  });
  return page;
}

/** Seconds that the threads with this name were at work in a trace. */
function atWork(trace, name) {
  const events = JSON.parse(trace).traceEvents;
  const threads = new Set(
    events.filter((event) => event.name === 'thread_name' && event.args.name.includes(name)).map(({ pid, tid }) => `${pid} ${tid}`),
  );
  if (threads.size === 0)
    throw new Error(`no thread ${name} among ${[...new Set(events.filter((event) => event.name === 'thread_name').map(({ args }) => args.name))].join(', ')}`);
  const tasks = events.filter(
    ({ ph, name: task, pid, tid }) => ph === 'X' && task.endsWith('RunTask') && threads.has(`${pid} ${tid}`),
  );
  return tasks.reduce((sum, { tdur, dur }) => sum + (tdur ?? dur ?? 0), 0) / 1e6;
}

let worst = 0;
for (const instrument of ['Violin', 'Viola', 'Cello', 'Bass']) {
  const page = await opened();
  await page.goto(`${url}/?microphone=simulated`);
  await page.getByRole('link', { name: 'Tapes' }).click();
  await page.getByText('Tune first: tones, and which way to turn').click();
  await page.getByRole('radio', { name: instrument, exact: true }).check();
  await page.getByRole('button', { name: 'Tune by the microphone' }).click();
  await page.locator('circle.finger').waitFor();
  await page.waitForTimeout(SECONDS * 1000);
  const seen = await page.evaluate(() => globalThis.seen);
  // A trace slows the page: it comes after what is timed.
  await browser.startTracing(page, { categories: ['toplevel', '__metadata', 'disabled-by-default-toplevel'] });
  await page.waitForTimeout(TRACED * 1000);
  const trace = (await browser.stopTracing()).toString();
  const share = atWork(trace, 'AudioWorklet') / TRACED;
  worst = Math.max(worst, share);
  const late = seen.map((at) => (at % EACH) * 1000);
  console.log(
    `${instrument}: the audio thread ${(share * 100).toFixed(1)} % of one core (aim ${COST * 100}); ` +
      `seen after ${late.length > 0 ? `${Math.round(median(late))} ms, ${late.map(Math.round).join(' ')}` : 'nothing'} (aim ${SEEN[instrument.toLowerCase()]})`,
  );
  await page.context().close();
}
await browser.close();
process.exitCode = worst > COST ? 1 : 0;
