import { expect, keysOf, marksOf, openChild, seat, settled, signIn, test } from './app.ts';

test('a mark lights the string, is undone, marked again, and found again after a restart', async ({ door, server }) => {
  await signIn(door);
  const before = marksOf(server);
  const panel = await openChild(door, 'Soren L.');
  const keys = await keysOf(panel, 'Tapes', 'Measured', 'Measured');
  await expect(seat(door, 'Soren L.')).toHaveAccessibleName(/Tapes nothing seen yet/);
  await keys.getByRole('button', { name: 'There', exact: true }).click();
  await expect(seat(door, 'Soren L.')).toHaveAccessibleName(/Tapes a little lit/);
  await expect(panel.getByRole('status')).toContainText('Measured: there');
  await settled(server, before + 1);

  await panel.getByRole('button', { name: /^Undo/ }).click();
  await expect(seat(door, 'Soren L.')).toHaveAccessibleName(/Tapes nothing seen yet/);
  await settled(server, before + 2);

  await keys.getByRole('button', { name: 'There', exact: true }).click();
  await settled(server, before + 3);
  await server.stop();
  await server.start();
  await door.reload();
  await expect(seat(door, 'Soren L.')).toHaveAccessibleName(/Tapes a little lit/);
});

test('slips and a note go with the next mark and stand in the history, from where it can be taken back', async ({
  door,
  server,
}) => {
  await signIn(door);
  const before = marksOf(server);
  await seat(door, 'Zeno P.').waitFor();
  const lit = await seat(door, 'Zeno P.').getAttribute('aria-label');
  const panel = await openChild(door, 'Zeno P.');
  const keys = await keysOf(panel, 'Bow grip', 'Hand', 'Plucking hand');
  await panel.getByRole('button', { name: /^Plucking hand/ }).click();
  await panel.getByRole('button', { name: 'Nail clicks' }).click();
  await expect(panel.getByText('keep the nails short')).toBeVisible();
  await panel.getByRole('textbox', { name: 'Note for Plucking hand' }).fill('Nails, both hands.');
  await keys.getByRole('button', { name: '2, Prompted' }).click();
  await expect(panel.getByRole('textbox', { name: 'Note for Plucking hand' })).toHaveValue('');
  await expect(seat(door, 'Zeno P.')).toHaveAccessibleName(/Bow grip [^;]*a slip being worked on/);
  await settled(server, before + 1);

  await panel.getByRole('button', { name: 'History' }).click();
  const newest = panel.getByRole('list', { name: 'History' }).getByRole('listitem').first();
  await expect(newest).toContainText('Plucking hand: Prompted, nail clicks');
  await expect(newest).toContainText('Nails, both hands.');
  await expect(newest).toContainText('Ms Lindqvist');
  await newest.getByRole('button', { name: /^Take back/ }).click();
  await expect(newest).toContainText('taken back');
  await settled(server, before + 2);
  await expect(seat(door, 'Zeno P.')).toHaveAccessibleName(lit ?? '');
});

test('a reached stage that is due is looked at with one tap', async ({ door }) => {
  await signIn(door);
  await door.getByRole('button', { name: 'Due', exact: true }).click();
  for (const chair of await door.getByRole('button', { name: /row \d, seat \d.*due (now|for)/ }).all()) {
    await chair.click();
    await door.getByRole('region', { name: 'Ladders' }).waitFor();
    const still = door.getByRole('button', { name: 'Still there' });
    const many = await still.count();
    if (many === 0) continue;
    await still.first().click();
    await expect(still).toHaveCount(many - 1);
    return;
  }
  throw new Error('the demo school has a stage that is due');
});

test('a mark that the server refuses is taken back where it can be seen', async ({ door, server }) => {
  await signIn(door);
  const before = marksOf(server);
  const panel = await openChild(door, 'Soren L.');
  const lit = await seat(door, 'Soren L.').getAttribute('aria-label');
  // A tablet whose clock is days ahead: the server does not take looks from the future.
  await door.clock.setFixedTime(Date.now() + 3 * 86_400_000);
  await (await keysOf(panel, 'Tapes', 'Measured', 'Measured')).getByRole('button', { name: 'There', exact: true }).click();
  await expect(door.getByRole('alert').filter({ hasText: 'Taken back' })).toContainText('Set the device');
  await expect(seat(door, 'Soren L.')).toHaveAccessibleName(lit ?? '');
  await expect(panel.getByRole('button', { name: /^Undo/ })).toHaveCount(0);
  expect(marksOf(server)).toBe(before);
});

test('without the server a mark is kept, shown, and sent once it answers again', async ({ door, server }) => {
  await signIn(door);
  const before = marksOf(server);
  const panel = await openChild(door, 'Elowen P.');
  await server.stop();
  await (await keysOf(panel, 'Tapes', 'Measured', 'Measured')).getByRole('button', { name: 'There', exact: true }).click();
  await expect(seat(door, 'Elowen P.')).toHaveAccessibleName(/Tapes a little lit/);
  await expect(door.getByRole('alert')).toContainText('1 mark kept on this device and sent as soon as it answers');
  await server.start();
  await settled(server, before + 1);
  await expect(door.getByRole('alert')).toHaveCount(0);
  await expect(seat(door, 'Elowen P.')).toHaveAccessibleName(/Tapes a little lit/);
});

test('without a network the page says so and sends when it is back', async ({ door, server, context }) => {
  await signIn(door);
  const before = marksOf(server);
  const panel = await openChild(door, 'Amara O.');
  await context.setOffline(true);
  const keys = await keysOf(panel, 'Hold', 'Fit', 'Size fits');
  await keys.getByRole('button', { name: '3, Alone' }).click();
  await keys.getByRole('button', { name: '4, Lasting' }).click();
  await expect(door.getByRole('alert')).toContainText('2 marks kept on this device');
  await context.setOffline(false);
  await settled(server, before + 2);
  await expect(door.getByRole('alert')).toHaveCount(0);
});
