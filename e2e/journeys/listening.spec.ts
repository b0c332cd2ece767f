import { mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { chromium as browser, type Page } from '@playwright/test';
import { chromium } from '../playwright.config.ts';
import { expect, signIn, test } from './app.ts';

const RATE = 44_100;
const SECONDS = 1.6;

/** A WAV file of these pitches one after the other, each as a string that was plucked: six partials that fade. */
function strings(hertz: number[]): Buffer {
  const each = Math.round(RATE * SECONDS);
  const data = Buffer.alloc(44 + hertz.length * each * 2);
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
  hertz.forEach((hz, place) => {
    for (let at = 0; at < each; at += 1) {
      const turn = (2 * Math.PI * hz * at) / RATE;
      const sum = [1, 2, 3, 4, 5, 6].reduce((all, k) => all + Math.sin(turn * k) / k, 0);
      const level = 9_000 * Math.exp((-1.5 * at) / RATE);
      data.writeInt16LE(Math.round(sum * level), 44 + (place * each + at) * 2);
    }
  });
  return data;
}

/** Opens the bench's tuning. */
async function tuning(page: Page, url: string) {
  await page.goto(url);
  await signIn(page);
  await page.getByRole('link', { name: 'Tapes' }).click();
  await page.getByText('Tune first: tones, and which way to turn').click();
  return page.getByRole('group', { name: 'By the microphone' });
}

test('four strings are tuned by the microphone, and nothing that is heard is kept or sent', async ({ server }) => {
  const folder = mkdtempSync(join(tmpdir(), 'strings-'));
  const file = join(folder, 'violin.wav');
  const low = 440 * 2 ** (-30 / 1200);
  writeFileSync(file, strings([low, 196, 293.66, 440, 659.26]));
  // A browser whose microphone plays the file again and again.
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
  const ear = await tuning(page, server.url);
  await page.waitForLoadState('networkidle');
  const sent: { path: string; bytes: number }[] = [];
  page.on('request', (request) =>
    sent.push({ path: new URL(request.url()).pathname, bytes: request.postDataBuffer()?.length ?? 0 }),
  );
  const kept = () =>
    page.evaluate(async () => ({
      local: Object.keys(localStorage).sort(),
      bases: (await indexedDB.databases()).map(({ name }) => name).sort(),
    }));
  const before = await kept();
  await expect(ear.getByText('nothing is stored, nothing is sent')).toBeVisible();
  await ear.getByRole('button', { name: 'Tune by the microphone' }).click();
  await expect(ear.getByRole('img', { name: /^A: (29|30|31) cents low, fine tuner a little clockwise$/ })).toBeVisible({ timeout: 20_000 });
  await expect(ear.getByLabel('D, in tune')).toBeVisible({ timeout: 20_000 });
  await expect(ear.getByText('All four are in tune: the next child.').first()).toBeVisible({ timeout: 30_000 });
  await ear.getByRole('button', { name: 'Stop listening' }).click();
  await expect(ear.getByRole('button', { name: 'Tune by the microphone' })).toBeVisible();
  // Only the files that listening is made of, and what pages ask for once a minute.
  expect(sent.filter(({ path, bytes }) => bytes > 0 || !/^\/(api|assets)\//.test(path))).toEqual([]);
  expect(await kept()).toEqual(before);
  await app.close();
  rmSync(folder, { recursive: true });
});

test('a microphone that is refused is said, with what to do, and the tones stay', async ({ page, server, context }) => {
  // Whatever else may be asked for, a microphone may not.
  await context.clearPermissions();
  await page.addInitScript(() => {
    navigator.mediaDevices.getUserMedia = () => Promise.reject(new DOMException('', 'NotAllowedError'));
  });
  const ear = await tuning(page, server.url);
  await ear.getByRole('button', { name: 'Tune by the microphone' }).click();
  await expect(ear.getByRole('alert')).toContainText('Allow it in the settings of the browser');
  await expect(ear.getByRole('button', { name: 'Listen again' })).toBeVisible();
  await page.getByRole('button', { name: 'Sound A' }).click();
  await expect(page.getByRole('button', { name: 'Stop A' })).toBeVisible();
});
