import { chromium as browser } from '@playwright/test';
import { chromium } from '../playwright.config.ts';
import { expect, openChild, signIn, test } from './app.ts';

test('what is looked for is drawn, large with a tap, as the class chose it', async ({ page }) => {
  await signIn(page);
  const panel = await openChild(page, 'Wiremu T.');
  await panel.getByRole('button', { name: /^Plucking hand/ }).click();
  const small = panel.getByRole('button', { name: 'Plucking hand as a drawing, large' });
  await expect(small.getByRole('img', { name: /Drawn: .*on the string/ })).toBeVisible();
  await small.click();
  const large = page.getByRole('dialog', { name: 'Plucking hand' });
  await expect(large.getByRole('img')).toHaveCount(2);
  await large.getByRole('button', { name: 'Back' }).click();

  await page.getByRole('link', { name: 'Approach' }).click();
  await page.getByRole('radio', { name: 'Bow hand', exact: true }).click();
  const against = page.getByRole('img', { name: /^Against the frog/ });
  const clear = page.getByRole('img', { name: /^Clear of it/ });
  await expect(against).toBeVisible();
  const paths = (drawn: typeof clear) => drawn.locator('path').evaluateAll((all) => all.map((one) => one.getAttribute('d')));
  expect(await paths(against)).not.toEqual(await paths(clear));
});

test('a cause shows how it looks and becomes right', async ({ page }) => {
  await signIn(page);
  const panel = await openChild(page, 'Amara O.');
  await panel.getByRole('button', { name: 'What do you hear or see?' }).click();
  const dialog = page.getByRole('dialog');
  await dialog.getByRole('button', { name: 'Notes sound low' }).click();
  const again = dialog.getByRole('button', { name: 'Show once more how it becomes right: wrist' });
  await expect(again.getByRole('img')).toBeVisible();
  const drawn = () => again.locator('path').evaluateAll((all) => all.map((one) => one.getAttribute('d')).join());
  // It begins amiss, with the lozenge, and ends right without.
  await again.click();
  const amiss = await drawn();
  await expect(again.locator('.amiss')).toHaveCount(0);
  await expect.poll(drawn).not.toBe(amiss);
});

test('a checkpoint of the class takes a view and its numbers, seen at once', async ({ page }) => {
  await signIn(page);
  await page.getByRole('link', { name: 'Approach' }).click();
  await page.getByRole('link', { name: 'Checklist' }).click();
  await page.getByRole('button', { name: 'Add a checkpoint' }).click();
  const form = page.getByRole('dialog');
  await form.getByLabel('Name', { exact: true }).fill('Soft left thumb');
  await form.getByLabel('Look for', { exact: true }).fill('The thumb stays soft behind the neck');
  await form.getByLabel('Say to the child', { exact: true }).fill('Soft thumb');
  await form.getByLabel('Drawn as').click();
  await page.getByRole('option', { name: 'Thumb behind the neck' }).click();
  const drawing = form.getByRole('img');
  await expect(drawing).toBeVisible();
  const path = () => drawing.locator('path').evaluateAll((all) => all.map((one) => one.getAttribute('d')).join());
  const before = await path();
  await form.getByRole('slider', { name: /^Bend/ }).press('End');
  await expect.poll(path).not.toBe(before);
  await form.getByRole('button', { name: 'Save' }).click();
  await expect(form).toBeHidden();
  await expect(page.getByRole('button', { name: 'Soft left thumb as a drawing, large' })).toBeVisible();
});

test('the wall and the stand get their sheets', async ({ page }) => {
  await signIn(page);
  const panel = await openChild(page, 'Wiremu T.');
  const [card] = await Promise.all([
    page.waitForEvent('download'),
    panel.getByRole('link', { name: 'Stand card' }).click(),
  ]);
  expect(card.suggestedFilename()).toBe('stand-card.pdf');
  await page.getByRole('link', { name: 'Approach' }).click();
  await page.getByRole('link', { name: 'Checklist' }).click();
  await page.getByRole('radio', { name: 'A3', exact: true }).click();
  const [wall] = await Promise.all([
    page.waitForEvent('download'),
    page.getByRole('group', { name: 'Sheets for the wall' }).getByRole('link', { name: /^Bow grip/ }).click(),
  ]);
  expect(wall.suggestedFilename()).toBe('wall-bow-violin.pdf');
});

test('the mirror shows the camera and keeps, stores and sends nothing', async ({ server }) => {
  // A browser whose camera is simulated: a green picture with a moving disc.
  const app = await browser.launch({
    ...chromium,
    args: [...chromium.args, '--use-fake-device-for-media-stream', '--use-fake-ui-for-media-stream'],
  });
  const page = await (await app.newContext({ viewport: { width: 820, height: 1180 } })).newPage();
  await page.goto(server.url);
  await signIn(page);
  const panel = await openChild(page, 'Wiremu T.');
  await panel.getByRole('button', { name: /^Plucking hand/ }).click();
  await panel.getByRole('button', { name: /as a drawing/ }).click();
  await page.getByRole('dialog').getByRole('button', { name: 'Mirror' }).click();
  await page.waitForLoadState('networkidle');

  const sent: string[] = [];
  page.on('request', (request) => sent.push(`${request.method()} ${new URL(request.url()).pathname}`));
  const kept = () =>
    page.evaluate(async () => {
      const bases = await indexedDB.databases();
      const usage = (await navigator.storage.estimate()).usage ?? 0;
      return { local: Object.keys(localStorage).sort(), bases: bases.map(({ name }) => name).sort(), usage };
    });
  const before = await kept();
  await page.getByRole('button', { name: 'Camera on' }).click();
  const video = page.getByLabel('Yourself, as in a mirror');
  await expect.poll(() => video.evaluate((element: HTMLVideoElement) => element.videoWidth)).toBeGreaterThan(100);
  await expect(page.getByRole('img', { name: /as in a mirror/ })).toBeVisible();
  const flipped = await video.evaluate((element) => getComputedStyle(element.parentElement as Element).transform);
  expect(flipped).toContain('-1');
  await page.getByRole('radio', { name: 'Drawing over it' }).click();
  await page.getByRole('radio', { name: 'Drawing beside it' }).click();
  await page.getByRole('button', { name: 'Once more' }).click();
  await expect(page.getByRole('status').filter({ hasText: 'slowly' })).toBeVisible();
  const canvas = page.getByLabel('The last seconds, slowly');
  await expect.poll(() => canvas.evaluate((element: HTMLCanvasElement) => element.width)).toBe(480);
  await expect(page.getByRole('button', { name: 'Once more' })).toBeEnabled();
  const stream = await video.evaluateHandle((element: HTMLVideoElement) => element.srcObject as MediaStream);
  await page.getByRole('button', { name: 'Back' }).click();
  // The camera goes off with it.
  expect(await stream.evaluate((one) => one.getTracks().map((track) => track.readyState))).toEqual(['ended']);
  // What pages ask for once a minute may come in between; nothing goes out, and nothing larger than a setting stays.
  expect(sent.filter((request) => !request.startsWith('GET /api/'))).toEqual([]);
  const after = await kept();
  expect(after.bases).toEqual(before.bases);
  expect(after.local.filter((key) => !before.local.includes(key)).every((key) => key.includes('mirror-place'))).toBe(true);
  expect(after.usage - before.usage).toBeLessThan(300_000);
  await app.close();
});
