import { checkContent } from '../server.ts';
import { expect, keysOf, observationsOf, openChild, settled, signIn, test } from './app.ts';

test('from what is heard to its cause, recorded with one tap and found in the history', async ({ page, server }) => {
  await signIn(page);
  const panel = await openChild(page, 'Xiomara D.');
  const before = observationsOf(server);
  await panel.getByRole('button', { name: 'What do you hear or see?' }).click();
  const symptoms = page.getByRole('dialog', { name: /^Xiomara D\.: what do you hear or see/ });
  await symptoms.getByRole('button', { name: 'Left hand stays stuck' }).click();
  await symptoms.getByRole('button', { name: 'Fingers slow, places missed' }).click();
  const first = symptoms.getByRole('list', { name: 'Causes' }).getByRole('listitem').first();
  await expect(first).toContainText('Thumb clamped');
  await expect(first).toContainText('Tap the thumb on the neck');
  await first.getByRole('button', { name: /^Record it, Easy thumb/ }).click();
  await expect(first.getByText('Recorded on Easy thumb')).toBeVisible();
  await settled(server, before + 1);
  await symptoms.getByRole('button', { name: 'Close', exact: true }).click();
  await panel.getByRole('radio', { name: 'History' }).click();
  const newest = panel.getByRole('list', { name: 'History' }).getByRole('listitem').first();
  await expect(newest).toContainText('thumb clamped');
});

test('the instrument is named before the child at an equal score', async ({ page }) => {
  await signIn(page);
  const panel = await openChild(page, 'Femi A.');
  await panel.getByRole('button', { name: 'What do you hear or see?' }).click();
  const symptoms = page.getByRole('dialog');
  await symptoms.getByRole('button', { name: 'Buzz', exact: true }).click();
  const causes = symptoms.getByRole('list', { name: 'Causes' }).getByRole('listitem');
  await expect(causes.first()).toContainText('check first');
  // One more tap splits it: a stopped note is a finger before it is a screw.
  await symptoms.getByRole('button', { name: 'Stopped note' }).click();
  await expect(causes.first()).toContainText('Finger touches, string sounds on');
  await symptoms.getByRole('button', { name: 'Buzz', exact: true }).click();
  await expect(causes).toHaveCount(0);
});

test('a school is changed after looking at what it changes, and no observation with it', async ({ page, server }) => {
  await signIn(page);
  await page.getByText('36 children').waitFor();
  const observations = server.sql('select md5(string_agg(m::text, $$|$$ order by observation_id)) from observation m');
  await page.getByRole('link', { name: 'Approach' }).click();
  await page.getByRole('radio', { name: 'Body and instrument' }).click();
  await page.getByRole('radio', { name: /^In line with the nose/ }).click();
  const bar = page.getByRole('region', { name: 'Before it is kept' });
  await expect(bar).toContainText('Scroll level, in line with the nose');
  expect(server.sql("select count(*) from class_choice where key = 'scroll'")).toBe('0');
  await bar.getByRole('button', { name: '1 change: save' }).click();
  await expect(bar).toHaveCount(0);
  await page.getByRole('link', { name: 'Checklist' }).click();
  await expect(page.getByText('Scroll level, in line with the nose')).toBeVisible();
  await page.getByRole('link', { name: 'Room' }).click();
  const panel = await openChild(page, 'Amara O.');
  await (await keysOf(panel, 'Hold', 'Settle', 'Where it points')).waitFor();
  await panel.getByRole('button', { name: /^Where it points/ }).click();
  await expect(panel.getByText('Scroll level, in line with the nose')).toBeVisible();
  expect(server.sql('select md5(string_agg(m::text, $$|$$ order by observation_id)) from observation m')).toBe(observations);
});

test('a checkpoint of the class’s own is added, recorded, and travels in the file', async ({ page, server }) => {
  await signIn(page);
  await page.getByText('36 children').waitFor();
  await page.getByRole('link', { name: 'Approach' }).click();
  await page.getByRole('link', { name: 'Checklist' }).click();
  await page.getByRole('button', { name: 'Add a checkpoint' }).click();
  const dialog = page.getByRole('dialog', { name: 'A checkpoint of your own' });
  await dialog.getByLabel('Name').fill('Rosin away');
  await dialog.getByLabel('Look for').fill('The rosin lies in its box');
  await dialog.getByLabel('Say to the child').fill('Rosin sleeps in its box');
  await dialog.getByRole('button', { name: 'Save' }).click();
  await expect(dialog).toHaveCount(0);
  await expect(page.getByText('The rosin lies in its box')).toBeVisible();
  await page.getByRole('button', { name: 'Change Short nails' }).click();
  await page.getByRole('dialog', { name: 'Short nails' }).getByRole('radio', { name: 'Switched off' }).click();
  await page.getByRole('dialog', { name: 'Short nails' }).getByRole('button', { name: 'Save' }).click();
  await expect(page.getByText('4 s, switched off')).toBeVisible();

  await page.getByRole('link', { name: 'As a file' }).click();
  const download = page.waitForEvent('download');
  await page.getByRole('link', { name: 'Download the file' }).click();
  const file = await (await download).path();
  expect(checkContent(file)).toBe('No fault: 4 choices, 1 checkpoints reworded, 1 switched off, 2 added.');

  await page.getByRole('link', { name: 'Room' }).click();
  const panel = await openChild(page, 'Bilal S.');
  await (await keysOf(panel, 'Hold', 'Fit', 'Rosin away')).getByRole('button').last().click();
  await expect.poll(() => server.sql("select level from observation where target = 'hold.own-rosin-away'")).toBe('4');
  await expect(panel.getByRole('group', { name: 'Level of Short nails' })).toHaveCount(0);

  // The same file again changes nothing; into a class as it ships it brings everything.
  await page.getByRole('link', { name: 'Approach' }).click();
  await page.getByRole('link', { name: 'As a file' }).click();
  await page.locator('input[type=file]').setInputFiles(file);
  await expect(page.getByRole('button', { name: 'Nothing to take in' })).toBeDisabled();
  await page.getByRole('link', { name: 'Lunchtime beginners' }).click();
  await page.getByRole('link', { name: 'As a file' }).click();
  await page.locator('input[type=file]').setInputFiles(file);
  await page.getByRole('button', { name: 'Take it in' }).click();
  await expect(page.getByText('Taken in.')).toBeVisible();
  expect(server.sql("select count(*) from class where checklist_edits::text like '%rosin-away%'")).toBe('2');
});

test('pain is flagged until somebody writes what was done', async ({ page, server }) => {
  await signIn(page);
  const panel = await openChild(page, 'Femi A.');
  await panel.getByRole('button', { name: 'Hurts' }).click();
  await expect(panel.getByText(/numbness or tingling/)).toBeVisible();
  await panel.locator('li.selected').getByRole('group', { name: /^Level of/ }).getByRole('button').last().click();
  const chair = page.getByRole('button', { name: /^Femi A\.,.*it hurts/ });
  await expect(chair).toBeVisible();
  const region = panel.getByRole('region', { name: 'It hurts' });
  await region.getByLabel('What was done').fill('Rested, called the family');
  await region.getByRole('button', { name: 'Save' }).click();
  await expect(region).toHaveCount(0);
  await expect(chair).toHaveCount(0);
  expect(server.sql('select done from pain_answer order by answered_at desc limit 1')).toBe('Rested, called the family');
});

test('what was done about pain is kept although the observation is still on its way', async ({ page, server }) => {
  await signIn(page);
  const panel = await openChild(page, 'Femi A.');
  let go: () => void = () => undefined;
  const held = new Promise<void>((resolve) => (go = resolve));
  await page.route('**/observations', async (route) => {
    await held;
    await route.continue();
  });
  await panel.getByRole('button', { name: 'Hurts' }).click();
  await panel.locator('li.selected').getByRole('group', { name: /^Level of/ }).getByRole('button').last().click();
  const region = panel.getByRole('region', { name: 'It hurts' });
  await region.getByLabel('What was done').fill('Rested');
  await region.getByRole('button', { name: 'Save' }).click();
  await expect(region.getByRole('progressbar')).toBeVisible();
  go();
  await expect(region).toHaveCount(0);
  expect(server.sql('select done from pain_answer order by answered_at desc limit 1')).toBe('Rested');
});

test('a child gets what counts for it, and a stage is opened anyway', async ({ page, server }) => {
  await signIn(page);
  const panel = await openChild(page, 'Zeno P.');
  await (await keysOf(panel, 'Bow grip', 'Bow', 'Little finger')).waitFor();
  await panel.getByRole('button', { name: /^Little finger/ }).click();
  await panel.getByRole('button', { name: 'For this child' }).click();
  const dialog = page.getByRole('dialog', { name: /what counts for Zeno P\./ });
  await dialog.getByLabel('What to look for').fill('Little finger lies beside its neighbour');
  await dialog.getByLabel('Why').fill('An old injury');
  await dialog.getByRole('button', { name: 'Save' }).click();
  await expect(panel.getByText('Little finger lies beside its neighbour', { exact: true })).toBeVisible();
  await expect(panel.getByText('An old injury')).toBeVisible();

  const frame = panel.getByRole('region', { name: 'Left-hand frame' });
  await frame.getByRole('button', { name: /^Stage 4, Sound, shut/ }).click();
  await frame.getByRole('button', { name: 'Open anyway' }).click();
  await expect(frame.getByText(/^opened anyway by Ms Lindqvist/)).toBeVisible();
  const kept = "select count(*) from stage_opened where stage_id = 'frame.4' and ended_at is null";
  expect(server.sql(kept)).toBe('1');
  await frame.getByRole('button', { name: 'Let it wait' }).click();
  await expect(frame.getByText(/^opens after/)).toBeVisible();
});

test('the class is read as a whole, and a group leads to its children', async ({ page }) => {
  await signIn(page);
  await page.getByText('36 children').waitFor();
  await page.getByRole('link', { name: 'Lessons' }).click();
  const groups = page.getByRole('region', { name: 'Small groups' });
  const child = groups.getByRole('link').first();
  const name = (await child.textContent())?.replace(/(violin|viola|cello|bass)$/, '').trim() ?? '';
  await child.click();
  await expect(page.getByRole('complementary', { name })).toBeVisible();
  await page.getByRole('link', { name: 'Whole page' }).click();
  await expect(page.getByRole('region', { name: 'Now' })).toBeVisible();
  await expect(page.getByRole('img', { name: /^The last \d+ observations/ })).toBeVisible();
});

test('the next lesson is put together, kept, and led before the class without a name', async ({ page }) => {
  await signIn(page);
  await page.getByText('36 children').waitFor();
  await page.getByRole('link', { name: 'Lessons' }).click();
  await page.getByRole('link', { name: 'Next lesson' }).click();
  const blocks = page.getByRole('list', { name: 'Blocks' });
  await expect(blocks.getByRole('listitem').first()).toContainText('Tune and set up');
  await page.getByLabel('Book and page').fill('The green one, page 12');
  await page.getByRole('button', { name: 'One minute more for Book' }).click();
  const kept = page.waitForResponse((answer) => answer.request().method() === 'PUT');
  await page.getByRole('button', { name: 'Save', exact: true }).click();
  await kept;
  await expect(page.getByRole('button', { name: 'Save', exact: true })).toBeDisabled();
  await page.reload();
  await expect(page.getByLabel('Book and page')).toHaveValue('The green one, page 12');
  await page.getByRole('link', { name: /^Lead / }).first().click();
  const shown = page.getByRole('region', { name: /^(Everybody|Cello)$/ });
  await shown.waitFor();
  for (const name of ['Amara', 'Zeno', 'Priya']) await expect(page.getByText(name)).toHaveCount(0);
  const first = await shown.textContent();
  await page.keyboard.press('ArrowRight');
  await expect(shown).not.toHaveText(first ?? '');
  await page.keyboard.press('p');
  await expect(page.getByRole('status', { name: 'Count' })).toContainText('2 of');
  await page.keyboard.press('Escape');
  await blocks.waitFor();
});
