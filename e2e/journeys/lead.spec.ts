// A drill before the class: steered from a phone, and one of the class's own.
import type { Page } from '@playwright/test';
import { another, expect, signIn, test } from './app.ts';

/** The address of the class that is open. */
async function classOf(page: Page): Promise<string> {
  await page.waitForURL(/\/class\/[^/]+\//);
  return page.url().replace(/(\/class\/[^/]+)\/.*$/, '$1');
}

test('a phone puts a drill on the projector and steers it, beat by beat', async ({ page, browser, server }) => {
  await signIn(page);
  const address = await classOf(page);
  await page.getByRole('link', { name: 'Lessons' }).click();
  await page.getByRole('link', { name: 'Next lesson' }).click();
  await page.getByRole('link', { name: 'On the projector' }).click();
  await expect(page.getByRole('heading', { name: 'Ready for the first drill' })).toBeVisible();

  const phone = await another(browser, server, 'director@demo.example');
  await phone.setViewportSize({ width: 390, height: 844 });
  await classOf(phone);
  await phone.goto(`${address}/remote`);
  await phone.getByText('All other drills').click();
  // Until both lines are open what is said may go by: the projector answers once it hears.
  await expect(async () => {
    await phone.getByRole('button', { name: 'Prepared fingers' }).first().click();
    await expect(page.getByRole('heading', { name: 'Prepared fingers' })).toBeVisible({ timeout: 2000 });
  }).toPass();
  const steering = phone.getByRole('region', { name: 'Prepared fingers' });
  await steering.getByRole('radio', { name: 'With the bow' }).click();
  await expect(page.getByRole('radio', { name: 'With the bow' })).toBeChecked();
  await steering.getByRole('button', { name: 'Next →' }).click();
  await expect(page.getByText('Open D: two slow bows, then stop')).toBeVisible();
  await expect(steering.getByRole('status', { name: 'Now' })).toHaveText('Open D: two slow bows, then stop');
  await steering.getByRole('button', { name: 'Start' }).click();
  await expect(page.getByRole('button', { name: /^Pause/ })).toBeVisible();
  await expect(page.getByRole('status', { name: 'Count' })).toHaveText(/^[1-4] of 4$/);
  await steering.getByRole('button', { name: 'Pause' }).click();
  await expect(page.getByRole('button', { name: /^Start/ })).toBeVisible();
  await steering.getByRole('button', { name: 'Next round' }).click();
  await expect(page.getByText('Round 2 of 2')).toBeVisible();

  // The assistant's phone steers nothing of the director's.
  const other = await another(browser, server, 'assistant@demo.example');
  await classOf(other);
  await other.goto(`${address}/remote`);
  await expect(other.getByText(/No projector has answered/)).toBeVisible();
});

test('a drill of the class’s own is written, led, and switched off', async ({ page }) => {
  await signIn(page);
  const address = await classOf(page);
  await page.goto(`${address}/approach/drills`);
  await page.getByRole('button', { name: 'Add a drill' }).click();
  const dialog = page.getByRole('dialog');
  await dialog.getByLabel('Name').fill('Swans on the lake');
  await dialog.getByLabel('Aim, as the child says it').fill('My hand glides');
  const step = dialog.getByRole('region', { name: 'Step 1' });
  await step.getByLabel('For everybody').fill('Let the hand swim');
  await step.getByLabel('Beats').fill('40');
  await dialog.getByRole('button', { name: 'Save' }).click();
  await expect(step.getByText('A step takes 1 to 32 beats.')).toBeVisible();
  await step.getByLabel('Beats').fill('8');
  await dialog.getByRole('button', { name: 'Save' }).click();
  await expect(page.getByText('Swans on the lake')).toBeVisible();
  await page.goto(`${address}/lead/own-swans-on-the-lake`);
  await page.getByRole('heading', { name: 'Swans on the lake' }).waitFor();
  await page.keyboard.press('PageDown');
  await expect(page.getByRole('region', { name: 'Everybody' })).toContainText('Let the hand swim');
  await page.goto(`${address}/approach/drills`);
  await page.getByRole('button', { name: 'Change Swans on the lake' }).click();
  await page.getByRole('dialog').getByRole('button', { name: 'Switch off' }).click();
  await expect(page.getByText(/added by the class, switched off/)).toBeVisible();
});
