import { readFile } from 'node:fs/promises';
import { EMPTY, Server } from '../server.ts';
import { expect, signIn, test } from './app.ts';

test('one evening in ten minutes: where it waits, two small groups, cards for the class, a report for the office', async ({
  page,
}) => {
  await signIn(page);
  await page.getByRole('link', { name: 'Term' }).click();
  // What happened last stands below the picture, one step back is earlier.
  const then = page.getByRole('region', { name: 'What happened then' });
  await expect(then.getByRole('status')).toContainText('children visited');
  const last = await then.getByRole('status').innerText();
  await then.getByRole('button', { name: 'Earlier' }).click();
  await expect(then.getByRole('status')).not.toHaveText(last);
  await expect(page.getByRole('img', { name: /How bright the room was/ })).toBeVisible();

  await page.getByRole('link', { name: 'Where it waits' }).click();
  const waits = page.getByRole('region', { name: 'Where the class waits' });
  await expect(waits.getByRole('listitem').first()).toContainText('wait');
  const proposals = page.getByRole('region', { name: 'Groups that would help' }).getByRole('region');
  const kept = page.getByRole('region', { name: 'Groups that were kept' }).getByRole('region');
  const before = await kept.count();
  for (const more of [1, 2]) {
    const keep = proposals.first().getByRole('button', { name: 'Keep this group' });
    // The group before this one is still proposed until the class has been read again; nothing can be kept until then.
    await expect(keep).toBeEnabled();
    const name = await proposals.first().getByRole('heading').innerText();
    await keep.click();
    await expect(kept).toHaveCount(before + more);
    await expect(kept.first()).toContainText(name);
    await expect(kept.first()).toContainText('Too early to say');
  }

  await page.getByRole('link', { name: 'Home', exact: true }).click();
  const cards = page.waitForEvent('download');
  await page.getByRole('button', { name: /^\d+ cards \(PDF\)$/ }).click();
  expect((await cards).suggestedFilename()).toBe('family-cards.pdf');

  await page.getByRole('link', { name: 'Term', exact: true }).click();
  await page.getByRole('link', { name: 'Reports' }).click();
  const report = page.waitForEvent('download');
  await page.getByRole('link', { name: 'Workbook (.xlsx)' }).click();
  const file = await report;
  expect(file.suggestedFilename()).toBe('term.xlsx');
  expect((await readFile(await file.path())).subarray(0, 2).toString()).toBe('PK');
});

test('a child’s page for a talk, and what the forecast had said', async ({ page }) => {
  await signIn(page);
  await page.getByRole('link', { name: 'Term' }).click();
  await page.getByRole('link', { name: 'Children', exact: true }).click();
  const row = page.getByRole('row').filter({ hasText: 'Amara O.' });
  const talk = page.waitForEvent('download');
  await row.getByRole('link', { name: 'Page' }).click();
  const file = await talk;
  expect((await readFile(await file.path())).subarray(0, 5).toString()).toBe('%PDF-');
  await page.getByRole('link', { name: 'Said and came' }).click();
  await expect(page.getByRole('table', { name: 'Said and came' }).getByRole('row').nth(1)).toBeVisible({
    timeout: 30_000,
  });
  await page.getByRole('link', { name: 'Waits and slips' }).click();
  await expect(page.getByRole('table', { name: 'Waits' }).getByRole('row').nth(1)).toContainText('Visits');
});

test('a new year: an instrument comes back, and children move on with their history', async ({ page }) => {
  await signIn(page);
  await page.getByRole('link', { name: 'Term' }).click();
  await page.getByRole('link', { name: 'New year' }).click();
  const out = page.getByRole('table', { name: 'Still out' });
  await expect(out.getByRole('row').filter({ hasText: 'Amara O.' })).toBeVisible();
  const before = await out.getByRole('row').count();
  await page.getByRole('button', { name: /of Amara O\. is back$/ }).click();
  await expect(out.getByRole('row')).toHaveCount(before - 1);

  await page.getByLabel('To', { exact: true }).click();
  await page.getByRole('option', { name: 'Lunchtime beginners' }).click();
  // All are chosen; all but two stay here this time.
  const who = page.getByRole('group', { name: 'Who moves on' });
  const names = await who.getByRole('checkbox').count();
  for (let place = 2; place < names; place += 1) await who.getByRole('checkbox').nth(place).uncheck();
  await page.getByRole('button', { name: 'Move 2 children to Lunchtime beginners' }).click();
  await expect(page.getByText('2 of 2 moved, with everything that was seen of them.')).toBeVisible();
  await expect(who.getByRole('checkbox')).toHaveCount(names - 2);

  await page.getByRole('link', { name: 'Lunchtime beginners' }).click();
  await page.getByRole('link', { name: 'Children', exact: true }).click();
  await expect(page.getByRole('table', { name: 'Children' }).getByRole('row').nth(1)).toContainText('Amara O.');
});

test('a class is handed over to another school: the children whose families agree, with what was seen of them', async ({
  page,
  server,
  browser,
}) => {
  await signIn(page);
  await page.getByRole('link', { name: 'Term' }).click();
  await page.getByRole('link', { name: 'New year' }).click();
  const who = page.getByRole('group', { name: 'Whose family agrees' });
  await who.getByLabel('Amara O.').check();
  await who.getByRole('checkbox').nth(1).check();
  const saved = page.waitForEvent('download');
  await page.getByRole('link', { name: '2 children (.zip)' }).click();
  const file = await saved;
  expect(file.suggestedFilename()).toBe('class-archive.zip');
  const path = await file.path();
  const looks = Number(server.sql("select count(*) from observation join child using (program_id, child_id) where name = 'Amara O.'"));

  const there = await Server.over(EMPTY);
  const other = await (await browser.newContext()).newPage();
  await other.goto(there.url);
  await other.getByLabel('School or program').fill('Hill Street strings');
  await other.getByLabel('Your name').fill('Mr Okonedo');
  await other.getByLabel('E-mail').fill('okonedo@hill.example');
  await other.getByLabel('Password').fill('four words and a bow');
  await other.getByRole('button', { name: 'Begin' }).click();
  await other.getByLabel('Name of the class').waitFor();
  await other.goto(`${there.url}/school/${there.sql('select program_id from program')}/classes/taken`);
  await other.getByLabel('Choose the file (.zip)').setInputFiles(path);
  const agreed = other.getByRole('group', { name: 'Who comes' });
  await expect(agreed.getByRole('checkbox')).toHaveCount(2);
  await agreed.getByRole('checkbox').nth(1).uncheck();
  await expect(agreed.getByLabel(`Amara O., ${looks} looks`)).toBeChecked();
  await other.getByRole('button', { name: 'Take in 1 child' }).click();
  await other.getByRole('link', { name: 'Open it' }).click();
  await expect(other.getByText(/^1 child · /)).toBeVisible();
  expect(Number(there.sql('select count(*) from observation'))).toBe(looks);
  expect(there.sql("select count(*) from account where email like '%demo.example'")).toBe('0');
  await there.remove();
});
