import { another, expect, keysOf, openChild, seat, signIn, test } from './app.ts';

test('every observation in one browser shows in the other without anybody asking', async ({ page, server, browser }) => {
  await signIn(page);
  const assistant = await another(browser, server, 'assistant@demo.example');
  await seat(assistant, 'Soren L.').waitFor();
  await openChild(assistant, 'Soren L.');
  const panel = await openChild(page, 'Soren L.');
  const keys = await keysOf(panel, 'Tapes', 'Measured', 'Measured');
  const looks: [key: string, shows: RegExp][] = [
    ['There', /Tapes a little lit/],
    ['Not there', /tapes to put right/],
    ['There', /Tapes a little lit(?!.*tapes to put right)/],
  ];
  // By itself a page asks again after a minute: what shows before that was told to it.
  for (const [key, shows] of looks) {
    await keys.getByRole('button', { name: key, exact: true }).click();
    await expect(seat(assistant, 'Soren L.')).toHaveAccessibleName(shows, { timeout: 20_000 });
  }
  await expect(assistant.getByText('measured, ready to place')).toBeVisible();
});

test('after the connection was cut a page catches up', async ({ page, server, browser }) => {
  await signIn(page);
  const assistant = await another(browser, server, 'assistant@demo.example');
  await seat(assistant, 'Soren L.').waitFor();
  await assistant.context().setOffline(true);
  // Every connection of both pages is cut, and only one of them comes back at once.
  await server.stop();
  await server.start();
  const panel = await openChild(page, 'Soren L.');
  const keys = await keysOf(panel, 'Tapes', 'Measured', 'Measured');
  await keys.getByRole('button', { name: 'There', exact: true }).click();
  await expect(seat(page, 'Soren L.')).toHaveAccessibleName(/Tapes a little lit/);
  await expect(seat(assistant, 'Soren L.')).toHaveAccessibleName(/Tapes nothing seen yet/);
  await assistant.context().setOffline(false);
  await expect(seat(assistant, 'Soren L.')).toHaveAccessibleName(/Tapes a little lit/);
});
