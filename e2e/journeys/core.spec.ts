import { expect, seat, signIn, test } from './app.ts';

test('pages that need the core open by their address, and it is asked without the server', async ({ page }) => {
  await signIn(page);
  await seat(page, 'Soren L.').waitFor();
  const room = page.url();
  const open = async (path: string) => {
    // Whatever was loaded before is gone: the core is loaded with this very page.
    await page.goto(room.replace(/room.*/, path));
  };
  await open('round');
  await expect(page.getByRole('button', { name: 'Walk the round' })).toBeEnabled();
  await open('set-up/seats');
  await expect(page.getByRole('button', { name: 'Propose seats' })).toBeVisible();

  await open('set-up/fit');
  const writes: string[] = [];
  page.on('request', (request) => request.method() !== 'GET' && writes.push(request.url()));
  const field = page.getByRole('textbox', { name: /, mm$/ }).first();
  await field.fill('5400');
  await expect(page.getByText(/^5400 mm cannot be/)).toBeVisible();
  await field.fill('1300');
  await expect(page.getByText(/^5400 mm cannot be/)).toBeHidden();

  await open('tapes/bench');
  await page.getByRole('link', { name: /^V-04/ }).click();
  await page.getByRole('region', { name: 'Measure' }).waitFor();
  await page.reload();
  const edge = page.getByLabel(/^Marker .* \(mm\)$/).first();
  await edge.fill('41');
  await expect(page.getByText(/cents, (move|where)/).first()).toBeVisible();
  expect(writes).toEqual([]);
});
