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

test('what came back is tapped without network, and what hurts at home is flagged and leaves the card', async ({
  page,
  server,
}) => {
  await signIn(page);
  await page.getByRole('link', { name: 'Home' }).click();
  await page.getByRole('link', { name: 'Back again' }).click();
  const days = page.getByRole('group', { name: 'Days on which Amara O. practised' });
  const how = page.getByRole('group', { name: 'How it was for Amara O.' });
  const before = Number(server.sql('select count(*) from family_answer'));
  await days.getByRole('button', { name: '6' }).waitFor();
  await server.stop();
  await days.getByRole('button', { name: '6' }).click();
  await expect(days.getByRole('button', { name: '6' })).toHaveAttribute('aria-pressed', 'true');
  await how.getByRole('button', { name: 'Hurts' }).click();
  await page.getByRole('group', { name: 'At what it hurts Amara O.' }).getByRole('button', { name: 'Bow grip' }).click();
  await expect(page.getByRole('alert').filter({ hasText: 'Stop, tell the family' })).toBeVisible();
  await server.start();
  await expect.poll(() => Number(server.sql('select count(*) from family_answer'))).toBeGreaterThanOrEqual(before + 2);
  // The card leaves out what is sore.
  await page.getByRole('link', { name: 'Cards' }).click();
  const line = page.getByRole('row').filter({ hasText: 'Amara O.' });
  await expect(line).toContainText('something is sore: left out');
  await page.getByRole('button', { name: 'Week and sheets of Amara O.' }).click();
  const week = page.getByRole('dialog', { name: 'The week of Amara O.' });
  await expect(week.getByRole('list', { name: 'Came back' })).toContainText('practised on 6 days, hurts');
  await week.getByRole('button', { name: 'Close' }).click();

  // The code on a card leads to its child, and somebody writes what was done.
  const child = server.sql("select child_id from child where name = 'Amara O.'").trim();
  await page.goto(`${server.url}/card/${child}`);
  await expect(page.getByRole('button', { name: 'Hurts' })).toHaveAttribute('aria-pressed', 'true');
  await expect(page.getByRole('group', { name: /^Days on which/ })).toHaveCount(1);
  await page.goto(`${server.url}/class/${server.sql(`select class_id from child where child_id = '${child}'`).trim()}/child/${child}`);
  const pain = page.getByRole('region', { name: 'It hurts' });
  await expect(pain).toContainText('said at home');
  await pain.getByLabel('What was done').fill('Called the family; rests for a week.');
  await pain.getByRole('button', { name: 'Save' }).click();
  await expect(page.getByRole('region', { name: 'It hurt before' })).toContainText('rests for a week');
  await expect(pain).toHaveCount(0);
});

test('a card says its lines in the language of a family too, in the words of the class', async ({ page }) => {
  await signIn(page);
  await page.getByRole('link', { name: 'Home' }).click();
  await page.getByRole('link', { name: 'Languages' }).click();
  await page.getByLabel('Add a language').fill('Span');
  await page.getByRole('option', { name: 'Spanish', exact: true }).click();
  const spanish = page.getByRole('region', { name: 'Spanish' });
  await spanish.getByLabel('At home this week').fill('En casa esta semana');
  await spanish.getByLabel('Bring this card back. The code is for us.').fill('Devuelve esta hoja. El código es para nosotros.');
  await page.getByRole('button', { name: 'Save' }).click();
  await expect(page.getByRole('button', { name: 'Save' })).toBeDisabled();

  await page.getByRole('link', { name: 'Cards' }).click();
  await page.getByRole('button', { name: 'Week and sheets of Amara O.' }).click();
  const week = page.getByRole('dialog', { name: 'The week of Amara O.' });
  await week.getByLabel('Also in').click();
  await page.getByRole('option', { name: 'Spanish' }).click();
  const agreed = week.getByRole('region', { name: 'Agreed with the family' });
  await agreed.getByRole('button', { name: 'Save' }).click();
  await expect(agreed.getByRole('button', { name: 'Save' })).toBeDisabled();
  const saved = page.waitForEvent('download');
  await week.getByRole('link', { name: 'Card as a page' }).click();
  const card = await readFile(await (await saved).path(), 'utf8');
  expect(card).toContain('At home this week / En casa esta semana');
  expect(card).toContain('El código es para nosotros.');
});
