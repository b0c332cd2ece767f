import { expect, observationsOf, seat, settled, test } from './app.ts';

test('signing in, finding, observing, noting, undoing and closing with the keyboard alone', async ({ page, server }) => {
  await page.getByLabel('E-mail').focus();
  await page.keyboard.type('director@demo.example');
  await page.keyboard.press('Tab');
  await page.keyboard.type('bright-row-demo');
  await page.keyboard.press('Enter');
  await expect(page.getByText('36 children')).toBeVisible();
  const before = observationsOf(server);

  await page.keyboard.press('/');
  await page.keyboard.type('hiro');
  await page.keyboard.press('Enter');
  const panel = page.getByRole('complementary', { name: 'Hiro T.' });
  await expect(panel).toBeVisible();
  await page.keyboard.press('Escape');

  // The first checkpoint that wants a look is chosen; its neighbours are a key away.
  const chosen = panel.locator('li.selected');
  const first = await chosen.textContent();
  await page.keyboard.press(']');
  await expect(chosen).not.toHaveText(first ?? '');
  await page.keyboard.press('[');
  await expect(chosen).toHaveText(first ?? '');

  await page.keyboard.press('n');
  await page.keyboard.type('Stool two steps up, 3 fingers.');
  await page.keyboard.press('Escape');
  await page.keyboard.press('3');
  await expect(panel.getByRole('status')).toContainText('Alone');
  await settled(server, before + 1);
  expect(server.sql('select note from observation order by recorded_at desc limit 1')).toBe('Stool two steps up, 3 fingers.');
  await page.keyboard.press('u');
  await settled(server, before + 2);

  await page.keyboard.press('Escape');
  await expect(panel).toHaveCount(0);
  await expect(seat(page, 'Hiro T.')).toBeFocused();
  await page.keyboard.press('ArrowRight');
  await expect(seat(page, 'Imani J.')).toBeFocused();
  await page.keyboard.press('ArrowDown');
  await expect(seat(page, 'Bilal S.')).toBeFocused();
  await page.keyboard.press('Enter');
  await expect(page.getByRole('complementary', { name: 'Bilal S.' })).toBeVisible();
});

test('? lists the keys, and single keys can be switched off', async ({ page, server }) => {
  await page.getByLabel('E-mail').fill('director@demo.example');
  await page.getByLabel('Password').fill('bright-row-demo');
  await page.keyboard.press('Enter');
  await seat(page, 'Femi A.').click();
  const before = observationsOf(server);
  await page.keyboard.press('?');
  const help = page.getByRole('dialog', { name: 'Keys' });
  await expect(help).toContainText('undo the last observation');
  await help.getByLabel('Single keys on').press('Space');
  await help.getByRole('button', { name: 'Close' }).press('Enter');
  await expect(help).toHaveCount(0);
  await page.keyboard.press('4');
  await expect(page.getByText('One tap records it; it can be undone.')).toBeVisible();
  expect(observationsOf(server)).toBe(before);
});
