import { mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { chromium as browser, type Page } from '@playwright/test';
import { chromium } from '../playwright.config.ts';
import { atTheFirstChair, expect, onDevice, openChild, signIn, test } from './app.ts';

const RATE = 44_100;
const SECONDS = 1.6;

/** A string that was plucked: its pitch, and how much softer it gets in a second, as a power of e. */
type Pluck = [hz: number, fades?: number];

const USUAL = 1.5;
/** An open string of a violin, and a finger that does not hold its string down. */
const RINGS = 3.8;
const THUD = 38;

/** So many cents above a pitch. */
const above = (hz: number, cents: number) => hz * 2 ** (cents / 1200);

/** A WAV file of these strings one after the other, six partials that fade. */
function strings(plucks: Pluck[]): Buffer {
  const each = Math.round(RATE * SECONDS);
  const data = Buffer.alloc(44 + plucks.length * each * 2);
  data.write('RIFF', 0);
  data.writeUInt32LE(data.length - 8, 4);
  data.write('WAVEfmt ', 8);
  data.writeUInt32LE(16, 16);
  data.writeUInt16LE(1, 20);
  data.writeUInt16LE(1, 22);
  data.writeUInt32LE(RATE, 24);
  data.writeUInt32LE(RATE * 2, 28);
  data.writeUInt16LE(2, 32);
  data.writeUInt16LE(16, 34);
  data.write('data', 36);
  data.writeUInt32LE(data.length - 44, 40);
  plucks.forEach(([hz, fades = USUAL], place) => {
    for (let at = 0; at < each; at += 1) {
      const turn = (2 * Math.PI * hz * at) / RATE;
      const sum = [1, 2, 3, 4, 5, 6].reduce((all, k) => all + Math.sin(turn * k) / k, 0);
      const level = 9_000 * Math.exp((-fades * at) / RATE);
      data.writeInt16LE(Math.round(sum * level), 44 + (place * each + at) * 2);
    }
  });
  return data;
}

interface Heard {
  page: Page;
  sent: { path: string; bytes: number }[];
}

/** A browser whose microphone plays these strings again and again; what it sends, and that it keeps nothing of them. */
async function hearing(url: string, plucks: Pluck[], journey: (heard: Heard) => Promise<void>): Promise<void> {
  const folder = mkdtempSync(join(tmpdir(), 'strings-'));
  const file = join(folder, 'violin.wav');
  writeFileSync(file, strings(plucks));
  const app = await browser.launch({
    ...chromium,
    args: [
      ...chromium.args,
      '--use-fake-device-for-media-stream',
      '--use-fake-ui-for-media-stream',
      `--use-file-for-fake-audio-capture=${file}`,
    ],
  });
  const page = await (await app.newContext({ viewport: { width: 820, height: 1180 } })).newPage();
  const sent: Heard['sent'] = [];
  page.on('request', (request) =>
    sent.push({ path: new URL(request.url()).pathname, bytes: request.postDataBuffer()?.length ?? 0 }),
  );
  const kept = () =>
    page.evaluate(async () => ({
      local: Object.keys(localStorage).sort(),
      bases: (await indexedDB.databases()).map(({ name }) => name).sort(),
    }));
  await page.goto(url);
  await signIn(page);
  await page.getByText('36 children').waitFor();
  const before = await kept();
  await journey({ page, sent });
  // Numbers in words are the most that leaves, and only what somebody tapped: no request is as large as a tenth of a second of sound.
  expect(sent.filter(({ bytes }) => bytes > RATE / 10)).toEqual([]);
  expect(await kept()).toEqual(before);
  await app.close();
  rmSync(folder, { recursive: true });
}

/** Opens the bench's tuning. */
async function tuning(page: Page) {
  await page.getByRole('link', { name: 'Tapes' }).click();
  await page.getByText('Tune first: tones, and which way to turn').click();
  return page.getByRole('group', { name: 'By the microphone' });
}

const G = 196;
const D = 293.66;
const A = 440;
const E = 659.26;

test('four strings are tuned by the microphone, and nothing that is heard is kept or sent', async ({ server }) => {
  await hearing(server.url, [[above(A, -30)], [G], [D], [A], [E]], async ({ page, sent }) => {
    const ear = await tuning(page);
    await page.waitForLoadState('networkidle');
    const before = sent.length;
    await expect(ear.getByText('nothing is stored, nothing is sent')).toBeVisible();
    await ear.getByRole('button', { name: 'Tune by the microphone' }).click();
    await expect(ear.getByRole('img', { name: /^A: (29|30|31) cents low, fine tuner a little clockwise$/ })).toBeVisible({ timeout: 20_000 });
    await expect(ear.getByLabel('D, in tune')).toBeVisible({ timeout: 20_000 });
    await expect(ear.getByText('All four are in tune: the next child.').first()).toBeVisible({ timeout: 30_000 });
    await ear.getByRole('button', { name: 'Stop listening' }).click();
    await expect(ear.getByRole('button', { name: 'Tune by the microphone' })).toBeVisible();
    // Only the files that listening is made of, and what pages ask for once a minute.
    expect(sent.slice(before).filter(({ path, bytes }) => bytes > 0 || !/^\/(api|assets)\//.test(path))).toEqual([]);
  });
});

test('a marker is proved by the microphone beside the open string, and the move follows in millimetres', async ({ server }) => {
  await hearing(server.url, [[above(G, -8)], [above(2 * G, 6)]], async ({ page }) => {
    await page.getByRole('link', { name: 'Tapes' }).click();
    await page.getByRole('link', { name: /^V-16/ }).click();
    const marker = page.getByRole('group', { name: 'Hear marker 3', exact: true });
    const ear = page.getByRole('group', { name: 'By the microphone, marker 3' });
    const entries = () => Number(server.sql('select count(*) from tape_event'));
    const before = entries();
    await ear.getByRole('button', { name: 'By the microphone' }).click();
    // The open string is 8 cents low, and so is the marker: beside it, it is 14 high.
    await expect(ear.getByRole('img', { name: /^3 on D: 1[345] cents high beside open G\.$/ })).toBeVisible({ timeout: 30_000 });
    expect(entries()).toBe(before);
    await ear.getByRole('button', { name: /^Save \+1[345] cents$/ }).click();
    await expect(marker.getByText(/move [\d.]+ mm towards the nut/)).toBeVisible();
    await expect.poll(entries).toBe(before + 1);
    await expect(page.getByText(/Heard 3 \+1[345] cents, against an open string, by ear of the microphone/)).toBeVisible();
  });
});

/** Opens what one hears or sees of a child with a violin. */
async function symptomsOf(page: Page, name: string) {
  const panel = await openChild(page, name);
  await panel.getByRole('button', { name: 'What do you hear or see?' }).click();
  await page.getByRole('dialog').getByRole('button', { name: 'Listen', exact: true }).click();
  return page.getByRole('dialog');
}

test('a thud is proposed, taken with a tap, and leads to its causes with its number', async ({ server }) => {
  await hearing(server.url, [[A, RINGS], [above(A, 200), THUD]], async ({ page }) => {
    const dialog = await symptomsOf(page, 'Priya T.');
    const ear = dialog.getByRole('group', { name: 'Does it ring, how is the tone' });
    await ear.getByRole('button', { name: 'Does it ring? How is the tone?' }).click();
    await expect(ear.getByText(/^A thud: 0\.0\d s; the open string rings 0\.\d\d s\.$/).first()).toBeVisible({ timeout: 30_000 });
    await expect(dialog.getByText('Tap one or more; causes come as you tap.')).toBeVisible();
    await dialog.getByText('Take it as').locator('..').getByRole('button', { name: 'Thud where a ring should be' }).click();
    await dialog.getByRole('button', { name: /^Record it/ }).first().click();
    await expect(dialog.getByText(/^Recorded on/)).toBeVisible();
    await expect
      .poll(() => server.sql("select note from observation where note like '%By ear of the microphone.'"))
      .toMatch(/A thud: 0\.0\d s/);
  });
});

test('a hand whose second finger is low is heard finger by finger', async ({ server }) => {
  const hand: Pluck[] = [[A], [above(A, 200)], [above(A, 355)], [above(A, 500)]];
  await hearing(server.url, hand, async ({ page }) => {
    const dialog = await symptomsOf(page, 'Priya T.');
    await dialog.getByRole('radio', { name: 'The hand, finger by finger' }).check();
    await dialog.getByRole('radio', { name: 'A', exact: true }).check();
    await dialog.getByRole('button', { name: 'Listen to the hand on A' }).click();
    const words = /^Finger 2 is 4\d cents low, the others are right with each other\.$/;
    await expect(dialog.getByRole('img', { name: words })).toBeVisible({ timeout: 40_000 });
    await dialog.getByText('Take it as').locator('..').getByRole('button', { name: 'High 2 sounds low' }).click();
    await expect(dialog.getByText(/causes?, the likeliest first/)).toBeVisible();
  });
});

test('a class is tuned one after the other, and the next child comes by itself', async ({ server }) => {
  await hearing(server.url, [[G], [D], [A], [E]], async ({ page }) => {
    await page.getByRole('link', { name: 'Lessons' }).click();
    await page.getByRole('link', { name: 'Tuning' }).click();
    await page.getByRole('button', { name: 'Violin', exact: true }).click();
    const count = page.getByText(/^\d+ of \d+ in tune$/);
    await expect(count).toHaveText(/^0 of/);
    const name = (await page.getByRole('region', { name: /^Tuning now: / }).getAttribute('aria-label'))?.replace('Tuning now: ', '');
    await page.getByRole('button', { name: 'Tune by the microphone' }).click();
    await expect(count).toHaveText(/^1 of/, { timeout: 40_000 });
    await expect(page.getByRole('button', { name: new RegExp(`^✓ ${name}`) })).toBeVisible();
    // It goes on listening without another tap.
    await expect(count).toHaveText(/^2 of/, { timeout: 40_000 });
    await page.getByRole('button', { name: 'In tune, next' }).click();
    await expect(count).toHaveText(/^3 of/);
  });
});

test('in the demo school a simulated instrument stands in for the microphone, and says so', async ({ page, server }) => {
  await page.goto(`${server.url}/?microphone=simulated`);
  await signIn(page);
  await page.getByText('36 children').waitFor();
  const ear = await tuning(page);
  await ear.getByRole('button', { name: 'Tune by the microphone' }).click();
  await expect(ear.getByText('Simulated: an instrument of the demo school plays, not the microphone.')).toBeVisible();
  await expect(ear.getByRole('img', { name: /^D: (29|30|31) cents low/ })).toBeVisible({ timeout: 30_000 });
  await expect(ear.getByText('All four are in tune: the next child.').first()).toBeVisible({ timeout: 30_000 });
});

test('at a chair the microphone is heard without network, and what was heard goes as a note', async ({ page, server }) => {
  await page.goto(`${server.url}/?microphone=simulated`);
  await signIn(page);
  await page.getByText('36 children').waitFor();
  await onDevice(page);
  await server.stop();
  await page.goto(`${server.url}/?microphone=simulated`);
  await page.getByText('36 children').waitFor();
  await page.getByRole('link', { name: 'Round' }).click();
  await page.getByRole('button', { name: 'Walk the round' }).click();
  await atTheFirstChair(page);
  await page.getByRole('button', { name: 'Listen', exact: true }).click();
  const ear = page.getByRole('group', { name: 'Does it ring, how is the tone' });
  await ear.getByRole('button', { name: 'Does it ring? How is the tone?' }).click();
  await expect(ear.getByText(/^A thud: /).first()).toBeVisible({ timeout: 30_000 });
  await ear.getByRole('button', { name: 'Note it' }).click();
  await expect(page.getByRole('textbox', { name: /^Note on/ })).toHaveValue(/By ear of the microphone\.$/);
  await page.getByRole('button', { name: /^2 Prompted|^Still there$/ }).first().click();
  await server.start();
  await expect
    .poll(() => server.sql("select count(*) from observation where note like '%By ear of the microphone.'"))
    .toBe('1');
});

test('the trainer plays a sound, and says what it was', async ({ page }) => {
  await signIn(page);
  await page.getByRole('link', { name: 'Lessons' }).click();
  await page.getByRole('link', { name: 'Train the ear' }).click();
  for (const [ask, answer] of [['Does it ring?', 'A thud'], ['Lower or higher?', 'The second is lower']] as const) {
    await page.getByRole('radio', { name: ask }).check();
    await page.getByRole('button', { name: 'Play a sound' }).click();
    await page.getByRole('button', { name: answer }).click();
    await expect(page.getByText(/^(Yes|It was): /)).toBeVisible();
    await expect(page.getByText(/of 1 sound heard/)).toBeVisible();
  }
});

test('a microphone that is refused is said, with what to do, and the tones stay', async ({ page, server, context }) => {
  // Whatever else may be asked for, a microphone may not.
  await context.clearPermissions();
  await page.addInitScript(() => {
    navigator.mediaDevices.getUserMedia = () => Promise.reject(new DOMException('', 'NotAllowedError'));
  });
  await page.goto(server.url);
  await signIn(page);
  const ear = await tuning(page);
  await ear.getByRole('button', { name: 'Tune by the microphone' }).click();
  await expect(ear.getByRole('alert')).toContainText('Allow it in the settings of the browser');
  await expect(ear.getByRole('button', { name: 'Listen again' })).toBeVisible();
  await page.getByRole('button', { name: 'Sound A' }).click();
  await expect(page.getByRole('button', { name: 'Stop A' })).toBeVisible();
});
