import { expect, marksOf, seat, settled, test } from './app.ts';

test('signing in, finding, marking, noting, undoing and closing with the keyboard alone', async ({ door, server }) => {
  await door.getByLabel('E-mail').focus();
  await door.keyboard.type('director@demo.example');
  await door.keyboard.press('Tab');
  await door.keyboard.type('bright-row-demo');
  await door.keyboard.press('Enter');
  await expect(door.getByText('36 children')).toBeVisible();
  const before = marksOf(server);

  await door.keyboard.press('/');
  await door.keyboard.type('hiro');
  await door.keyboard.press('Enter');
  const panel = door.getByRole('complementary', { name: 'Hiro T.' });
  await expect(panel).toBeVisible();
  await door.keyboard.press('Escape');

  // The first checkpoint that wants a look is chosen; its neighbours are a key away.
  const chosen = panel.locator('li.selected');
  const first = await chosen.textContent();
  await door.keyboard.press(']');
  await expect(chosen).not.toHaveText(first ?? '');
  await door.keyboard.press('[');
  await expect(chosen).toHaveText(first ?? '');

  await door.keyboard.press('n');
  await door.keyboard.type('Stool two steps up, 3 fingers.');
  await door.keyboard.press('Escape');
  await door.keyboard.press('3');
  await expect(panel.getByRole('status')).toContainText('Alone');
  await settled(server, before + 1);
  expect(server.sql('select note from mark order by recorded_at desc limit 1')).toBe('Stool two steps up, 3 fingers.');
  await door.keyboard.press('u');
  await settled(server, before + 2);

  await door.keyboard.press('Escape');
  await expect(panel).toHaveCount(0);
  await expect(seat(door, 'Hiro T.')).toBeFocused();
  await door.keyboard.press('ArrowRight');
  await expect(seat(door, 'Imani J.')).toBeFocused();
  await door.keyboard.press('ArrowDown');
  await expect(seat(door, 'Bilal S.')).toBeFocused();
  await door.keyboard.press('Enter');
  await expect(door.getByRole('complementary', { name: 'Bilal S.' })).toBeVisible();
});

test('? lists the keys, and single keys can be switched off', async ({ door, server }) => {
  await door.getByLabel('E-mail').fill('director@demo.example');
  await door.getByLabel('Password').fill('bright-row-demo');
  await door.keyboard.press('Enter');
  await seat(door, 'Femi A.').click();
  const before = marksOf(server);
  await door.keyboard.press('?');
  const help = door.getByRole('dialog', { name: 'Keys' });
  await expect(help).toContainText('undo the last mark');
  await help.getByLabel('Single keys on').press('Space');
  await help.getByRole('button', { name: 'Close' }).press('Enter');
  await expect(help).toHaveCount(0);
  await door.keyboard.press('4');
  await expect(door.getByText('One tap marks; it can be undone.')).toBeVisible();
  expect(marksOf(server)).toBe(before);
});
