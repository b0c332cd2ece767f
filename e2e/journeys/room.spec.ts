import { randomUUID } from 'node:crypto';
import { expect, openChild, seat, signIn, test } from './app.ts';

test('the room is narrowed by strand, instrument, due and flagged', async ({ page }) => {
  await signIn(page);
  await seat(page, 'Amara O.').waitFor();
  const glyphs = page.getByRole('region', { name: 'Rows' }).locator('button svg');
  await expect(glyphs).toHaveCount(36);
  await page.getByRole('button', { name: 'Viola', exact: true }).click();
  await expect(glyphs).toHaveCount(8);
  await page.getByRole('button', { name: 'Bow grip', exact: true }).click();
  await expect(glyphs.first().locator('g.aside')).toHaveCount(3);
  await page.getByRole('button', { name: 'Due', exact: true }).click();
  const due = await page.getByRole('button', { name: /viola.*Bow grip [^;]*due (now|for)/ }).count();
  await expect(glyphs).toHaveCount(due);
  await page.getByRole('button', { name: 'All four' }).click();
  await page.getByRole('button', { name: 'Flagged', exact: true }).click();
  await page.getByRole('button', { name: 'Viola', exact: true }).click();
  await expect(glyphs).not.toHaveCount(36);
  await page.getByRole('button', { name: 'Flagged', exact: true }).click();
  await expect(glyphs).toHaveCount(36);
});

test('sixty children fit at 1280 x 800 without scrolling', async ({ page, server }) => {
  await signIn(page);
  await seat(page, 'Amara O.').waitFor();
  const classId = /class\/([^/]+)/.exec(page.url())?.[1] ?? '';
  const taken: [row: number, seats: number][] = [[1, 6], [2, 8], [3, 8], [4, 7], [5, 7], [6, 0]];
  const children = taken.flatMap(([row, seats]) =>
    Array.from({ length: 10 - seats }, (_, index) => ({
      id: randomUUID(),
      name: `Extra ${row}${index} Z.`,
      instrument: 'cello',
      row,
      seat: seats + index + 1,
    })),
  );
  const added = await page.request.post(`${server.url}/api/classes/${classId}/children`, { data: { children } });
  expect(added.status()).toBe(201);
  await expect(page.getByText('60 children')).toBeVisible();
  await expect(page.locator('[id^=seat-]')).toHaveCount(60);
  const outside = await page.locator('[id^=seat-]').evaluateAll((chairs) =>
    chairs.filter((chair) => {
      const box = chair.getBoundingClientRect();
      return box.top < 0 || box.left < 0 || box.right > window.innerWidth || box.bottom > window.innerHeight;
    }).length,
  );
  expect(outside).toBe(0);
  const scrolls = await page.getByRole('region', { name: 'Rows' }).evaluate((region) =>
    [region, ...Array.from(region.querySelectorAll('*'))].some((part) => {
      const overflow = getComputedStyle(part).overflowY;
      return (overflow === 'auto' || overflow === 'scroll') && part.scrollHeight > part.clientHeight + 1;
    }),
  );
  expect(scrolls).toBe(false);
});

test('an assistant sees the room but not what only a director does', async ({ page }) => {
  await signIn(page, 'assistant@demo.example');
  await seat(page, 'Amara O.').waitFor();
  await expect(page.getByRole('link', { name: 'Add children' })).toHaveCount(0);
});

test.describe('without the store of pages for times without network', () => {
  // It would give the part out before it is asked of the network.
  test.use({ serviceWorkers: 'block' });

  test('a part of the page that does not come ahead is asked for again by the tap that opens it', async ({ page }) => {
    let refused = 0;
    await page.route('**/assets/ChildPanel-*.js', async (route) => {
      refused += 1;
      await route.abort();
    });
    await signIn(page);
    await expect(seat(page, 'Femi A.')).toBeVisible();
    await expect.poll(() => refused).toBe(1);
    // The page stays as it is.
    await page.getByRole('textbox', { name: 'Find a child' }).fill('Femi');
    await page.unroute('**/assets/ChildPanel-*.js');
    await openChild(page, 'Femi A.');
    await expect(page.getByRole('textbox', { name: 'Find a child' })).toHaveValue('Femi');
  });
});
