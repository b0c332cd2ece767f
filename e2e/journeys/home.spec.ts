import { readFile } from 'node:fs/promises';
import { expect, signIn, test } from './app.ts';

test('cards for the class go home, in the minutes that the class has chosen', async ({ page }) => {
  await signIn(page);
  await page.getByRole('link', { name: 'Home' }).click();
  await page.getByRole('link', { name: 'Practice week' }).click();
  await page.getByLabel('Minutes a day').fill('12');
  await page.getByRole('button', { name: 'Sat', exact: true }).click();
  await page.getByRole('button', { name: 'Save' }).click();
  await expect(page.getByRole('button', { name: 'Save' })).toBeDisabled();

  await page.getByRole('link', { name: 'Cards' }).click();
  await page.getByRole('button', { name: 'Week and sheets of Amara O.' }).click();
  const week = page.getByRole('dialog', { name: 'The week of Amara O.' });
  await expect(week.getByText('12 minutes a day')).toBeVisible();
  await expect(week.getByRole('row').first()).toContainText(' min');
  const loan = page.waitForEvent('download');
  await week.getByRole('link', { name: 'Loan to sign' }).click();
  expect((await loan).suggestedFilename()).toBe('loan-sheet.pdf');
  await week.getByRole('button', { name: 'Close' }).click();

  await page.getByRole('button', { name: 'Cello', exact: true }).click();
  const saved = page.waitForEvent('download');
  await page.getByRole('button', { name: /^\d+ cards \(PDF\)$/ }).click();
  const file = await saved;
  expect(file.suggestedFilename()).toBe('family-cards.pdf');
  expect((await readFile(await file.path())).subarray(0, 5).toString()).toBe('%PDF-');
  // One child's, from its own line.
  const one = page.waitForEvent('download');
  await page.getByRole('link', { name: 'Card', exact: true }).first().click();
  expect((await one).suggestedFilename()).toBe('family-card.pdf');
});
