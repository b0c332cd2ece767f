import { EMPTY } from '../server.ts';
import { expect, keysOf, openChild, seat, test } from './app.ts';

test.use({ template: EMPTY });

test('the first visitor makes an account, a class and its first child, and marks it', async ({ door }) => {
  await door.getByLabel('School or program').fill('Hill Street strings');
  await door.getByLabel('Your name').fill('Mr Okonedo');
  await door.getByLabel('E-mail').fill('okonedo@hill.example');
  await door.getByLabel('Password').fill('short');
  await door.getByRole('button', { name: 'Begin' }).click();
  await expect(door.getByText('Choose at least 10 characters')).toBeVisible();
  await door.getByLabel('Password').fill('four words and a bow');
  await door.getByRole('button', { name: 'Begin' }).click();

  await door.getByLabel('Name of the class').fill('Morning strings');
  await door.getByRole('button', { name: 'Add the class' }).click();
  await expect(door.getByText('choose at least one weekday')).toBeVisible();
  for (const day of ['Mon', 'Wed', 'Fri']) await door.getByRole('button', { name: day }).click();
  await door.getByRole('button', { name: 'Add the class' }).click();

  await expect(door.getByText('No chair is taken yet')).toBeVisible();
  await door.getByRole('link', { name: 'Add children' }).click();
  for (const [name, instrument] of [['Ada K.', 'Viola'], ['Ben O.', 'Cello']] as const) {
    await door.getByLabel('First name and a letter').fill(name);
    await door.getByRole('button', { name: instrument }).click();
    await door.getByRole('button', { name: 'Add', exact: true }).click();
    await expect(door.getByRole('status')).toContainText(`Added: ${name}`);
  }
  await door.getByRole('link', { name: 'To the room' }).click();
  await expect(door.getByText('2 children')).toBeVisible();
  const panel = await openChild(door, 'Ada K.');
  await (await keysOf(panel, 'Hold', 'Fit', 'Size fits')).getByRole('button', { name: '2, Prompted' }).click();
  await expect(seat(door, 'Ada K.')).toHaveAccessibleName(/Hold a little lit/);
});
