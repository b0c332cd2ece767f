import { expect, signIn, test } from './app.ts';

test('a wrong password is told in words and what was typed stays', async ({ door }) => {
  await door.getByLabel('E-mail').fill('director@demo.example');
  await door.getByLabel('Password').fill('not this one');
  await door.getByRole('button', { name: 'Sign in' }).click();
  await expect(door.getByRole('alert')).toContainText('do not belong together');
  await expect(door.getByLabel('E-mail')).toHaveValue('director@demo.example');
});

test('signing in opens the room, signing out closes it', async ({ door }) => {
  await signIn(door);
  await expect(door.getByRole('heading', { name: 'First-year strings' })).toBeVisible();
  await expect(door.getByText('36 children')).toBeVisible();
  await door.getByRole('button', { name: 'Sign out' }).click();
  await expect(door.getByLabel('E-mail')).toBeVisible();
  await door.goBack();
  await expect(door.getByText('36 children')).toHaveCount(0);
});

test('a session that ends while the page is open asks to sign in again and loses nothing', async ({ door, server }) => {
  await signIn(door);
  await door.getByRole('button', { name: /^Femi A\.,/ }).click();
  await door.getByRole('textbox', { name: /^Note for/ }).fill('Half a size up by spring.');
  const before = Number(server.sql('select count(*) from mark'));
  server.sql('delete from web_session');
  await door.getByRole('group', { name: /^Mark/ }).first().getByRole('button').last().click();
  const again = door.getByRole('dialog', { name: 'Sign in again' });
  await expect(again).toBeVisible();
  await signIn(door);
  await expect(again).toHaveCount(0);
  await expect.poll(() => Number(server.sql('select count(*) from mark'))).toBe(before + 1);
});
