import { expect, seat, signIn, test } from './app.ts';

test('a wrong password is told in words and what was typed stays', async ({ page }) => {
  await page.getByLabel('E-mail').fill('director@demo.example');
  await page.getByLabel('Password').fill('not this one');
  await page.getByRole('button', { name: 'Sign in' }).click();
  await expect(page.getByRole('alert')).toContainText('do not belong together');
  await expect(page.getByLabel('E-mail')).toHaveValue('director@demo.example');
});

test('signing in opens the room, signing out closes it', async ({ page }) => {
  await signIn(page);
  await expect(page.getByRole('heading', { name: 'First-year strings' })).toBeVisible();
  await expect(page.getByText('36 children')).toBeVisible();
  await page.getByRole('button', { name: 'Sign out' }).click();
  await expect(page.getByLabel('E-mail')).toBeVisible();
  await page.goBack();
  await expect(page.getByText('36 children')).toHaveCount(0);
});

test('a session that ends while the page is open asks to sign in again and loses nothing', async ({ page, server }) => {
  await signIn(page);
  await page.getByRole('button', { name: /^Femi A\.,/ }).click();
  await page.getByRole('textbox', { name: /^Note for/ }).fill('Half a size up by spring.');
  const before = Number(server.sql('select count(*) from observation'));
  server.sql('delete from web_session');
  await page.getByRole('group', { name: /^Level of/ }).first().getByRole('button').last().click();
  const again = page.getByRole('main', { name: 'Sign in again' });
  await expect(again).toBeVisible();
  // Nothing of the class is in sight meanwhile.
  await expect(page.getByRole('textbox', { name: /^Note for/ })).toBeHidden();
  await signIn(page);
  await expect(again).toHaveCount(0);
  await expect.poll(() => Number(server.sql('select count(*) from observation'))).toBe(before + 1);
});

test('a Room opened with a session that has ended is there after signing in', async ({ page, context }) => {
  await signIn(page);
  await seat(page, 'Soren L.').waitFor();
  const room = page.url();
  const kept = (await context.cookies()).find(({ name }) => name === 'bright_row');
  if (!kept) throw new Error('no session');
  // What was read before stays on the device; a browser that was never here has nothing but the cookie.
  const fresh = await context.browser()?.newContext({ serviceWorkers: 'block' });
  if (!fresh) throw new Error('no browser');
  await context.request.delete(`${new URL(room).origin}/api/session`);
  await fresh.addCookies([kept]);
  const other = await fresh.newPage();
  // The browser asks for the room beside the scripts, and is refused.
  const refused = other.waitForResponse((answer) => answer.url().endsWith('/room') && answer.status() === 401);
  await other.goto(room);
  await refused;
  await signIn(other);
  await seat(other, 'Soren L.').waitFor();
  await fresh.close();
});
