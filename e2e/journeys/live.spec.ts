import { another, expect, keysOf, openChild, seat, signIn, test } from './app.ts';

test('a mark in one browser shows in the other, long before its next regular reading', async ({ door, server, browser }) => {
  await signIn(door);
  const assistant = await another(browser, server, 'assistant@demo.example');
  await seat(assistant, 'Hiro T.').waitFor();
  await openChild(assistant, 'Hiro T.');
  const panel = await openChild(door, 'Hiro T.');
  const keys = await keysOf(panel, 'Tapes', 'Measured', 'Measured');
  await keys.getByRole('button', { name: 'There', exact: true }).click();
  await expect(seat(assistant, 'Hiro T.')).toHaveAccessibleName(/Tapes a little lit/);
  await expect(assistant.getByText('measured, ready to place')).toBeVisible();
});

test('after the connection was cut a page catches up', async ({ door, server, browser }) => {
  await signIn(door);
  const assistant = await another(browser, server, 'assistant@demo.example');
  await seat(assistant, 'Hiro T.').waitFor();
  await assistant.context().setOffline(true);
  // Every connection of both pages is cut, and only one of them comes back at once.
  await server.stop();
  await server.start();
  const panel = await openChild(door, 'Hiro T.');
  const keys = await keysOf(panel, 'Tapes', 'Measured', 'Measured');
  await keys.getByRole('button', { name: 'There', exact: true }).click();
  await expect(seat(door, 'Hiro T.')).toHaveAccessibleName(/Tapes a little lit/);
  await expect(seat(assistant, 'Hiro T.')).toHaveAccessibleName(/Tapes nothing seen yet/);
  await assistant.context().setOffline(false);
  await expect(seat(assistant, 'Hiro T.')).toHaveAccessibleName(/Tapes a little lit/);
});
