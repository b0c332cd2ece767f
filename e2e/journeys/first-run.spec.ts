import { EMPTY } from '../server.ts';
import { expect, keysOf, openChild, seat, test } from './app.ts';

test.use({ template: EMPTY });

test('the first visitor makes an account, a class and its first child, and observations it', async ({ page }) => {
  await page.getByLabel('School or program').fill('Hill Street strings');
  await page.getByLabel('Your name').fill('Mr Okonedo');
  await page.getByLabel('E-mail').fill('okonedo@hill.example');
  await page.getByLabel('Password').fill('short');
  await page.getByRole('button', { name: 'Begin' }).click();
  await expect(page.getByText('Choose at least 12 characters')).toBeVisible();
  await page.getByLabel('Password').fill('four words and a bow');
  await page.getByRole('button', { name: 'Begin' }).click();

  await page.getByLabel('Name of the class').fill('Morning strings');
  await page.getByRole('button', { name: 'Add the class' }).click();
  await expect(page.getByText('choose at least one weekday')).toBeVisible();
  for (const day of ['Mon', 'Wed', 'Fri']) await page.getByRole('button', { name: day }).click();
  await page.getByRole('button', { name: 'Add the class' }).click();

  await expect(page.getByText('No chair is taken yet')).toBeVisible();
  await page.getByRole('link', { name: 'Add children' }).click();
  for (const [name, instrument] of [['Ada K.', 'Viola'], ['Ben O.', 'Cello']] as const) {
    await page.getByLabel('First name and a letter').fill(name);
    await page.getByRole('radio', { name: instrument }).click();
    await page.getByRole('button', { name: 'Add', exact: true }).click();
    await expect(page.getByRole('status')).toContainText(`Added: ${name}`);
  }
  await page.getByRole('link', { name: 'To the room' }).click();
  await expect(page.getByText('2 children')).toBeVisible();
  const panel = await openChild(page, 'Ada K.');
  await (await keysOf(panel, 'Hold', 'Fit', 'Size fits')).getByRole('button', { name: '2, Prompted' }).click();
  await expect(seat(page, 'Ada K.')).toHaveAccessibleName(/Hold a little lit/);
});
