import { readFileSync } from 'node:fs';
import type { Page } from '@playwright/test';
import { expect, lookAtAll, seat, signIn, test } from './app.ts';

const ROSTER = new URL('../../demo/lunchtime-beginners.csv', import.meta.url).pathname;

/** Opens a step of setting up the class that the demo leaves to be set up. */
async function setUp(page: Page, step: string): Promise<void> {
  await signIn(page);
  await page.getByText('36 children').waitFor();
  await page.getByRole('link', { name: 'Set-up' }).click();
  // The room, which is there until then, has a link of this name as well: to the other class's room.
  await page.getByRole('navigation', { name: 'Set-up' }).waitFor();
  await page.getByRole('link', { name: 'Lunchtime beginners' }).click();
  await page.getByRole('heading', { name: 'Lunchtime beginners' }).waitFor();
  await page.getByRole('navigation', { name: 'Set-up' }).getByRole('link', { name: step }).click();
}

async function importDemoRoster(page: Page): Promise<void> {
  await page.getByRole('link', { name: 'Import a file' }).click();
  await page.locator('input[type=file]').setInputFiles(ROSTER);
  await page.getByLabel('Office no.').click();
  await page.getByRole('option', { name: 'School number' }).click();
  await page.getByRole('button', { name: 'Import 18 children' }).click();
  await expect(page.getByText('18 children', { exact: true })).toBeVisible();
}

const step = (page: Page, name: string) =>
  page.getByRole('navigation', { name: 'Set-up' }).getByRole('link', { name }).click();

test('a class is set up in one sitting: import, measure, match, seat, print', async ({ page }) => {
  await setUp(page, 'Roster');
  await expect(page.getByText('Nobody is in this class yet')).toBeVisible();
  await importDemoRoster(page);

  // Measure one child of each instrument; Enter keeps and goes on.
  await step(page, 'Fit');
  const child = page.getByRole('region', { name: 'The child' });
  const measures: [name: string, typed: [label: string, value: string][], size: string][] = [
    ['Ada Be.', [['Arm, mm', '552'], ['Height, mm', '1390']], 'Violin 3/4'],
    ['Celina D.', [['Arm, mm', '510']], 'Viola 12'],
    ['Bruno C.', [['Height, mm', '1362'], ['Finger span, mm', '137'], ['Knee, mm', '358']], 'Cello 3/4'],
    ['Esi F.', [['Height, mm', '1470']], 'Bass 1/2'],
  ];
  for (const [name, typed, size] of measures) {
    await page.getByRole('region', { name: 'The line' }).getByRole('button', { name: new RegExp(`^${name}`) }).click();
    await child.getByRole('heading', { name }).waitFor();
    for (const [label, value] of typed) await child.getByLabel(label, { exact: true }).fill(value);
    await expect(child.getByText(size, { exact: true })).toBeVisible();
    await child.getByLabel(typed[0]?.[0] ?? '', { exact: true }).press('Enter');
    await expect(child.getByRole('heading', { name })).toHaveCount(0);
  }
  await expect(page.getByRole('radio', { name: 'To measure (14)' })).toBeVisible();

  await step(page, 'Match');
  await expect(page.getByText('Measure first').first()).toBeVisible();
  await page.getByRole('button', { name: /^Give out \d instruments$/ }).click();
  await expect(page.getByRole('button', { name: 'Every pair is as proposed' })).toBeDisabled();
  const esi = page.getByRole('row', { name: /Esi F\./ });
  await expect(esi).toContainText('has it already');
  await esi.getByRole('button', { name: /^Keep B-/ }).click();
  await expect(esi).toContainText('kept by you');

  await step(page, 'Seats');
  await page.getByRole('button', { name: 'One row less' }).click();
  await expect(page.getByRole('group', { name: /^Row \d$/ })).toHaveCount(3);
  await expect(page.getByRole('group', { name: 'Without a chair' })).toHaveCount(0);
  await page.getByRole('button', { name: 'Save these seats' }).click();
  await expect(page.getByRole('button', { name: 'Save these seats' })).toBeDisabled();
  const printing = page.waitForEvent('download');
  await page.getByRole('button', { name: 'Chart, podium’s side' }).or(page.getByRole('link', { name: 'Chart, podium’s side' })).click();
  const chart = await printing;
  expect(chart.suggestedFilename()).toBe('seats-Lunchtime-beginners.pdf');
  expect(readFileSync(await chart.path()).subarray(0, 5).toString()).toBe('%PDF-');

  await page.getByRole('link', { name: 'Room' }).click();
  await expect(page.getByText('18 children')).toBeVisible();
});

test('a new class goes from the roster file to the end of its first round, and nobody looks twice at what was set up', async ({
  page,
}) => {
  await setUp(page, 'Roster');
  await importDemoRoster(page);
  await step(page, 'Fit');
  await page.getByRole('region', { name: 'The line' }).getByRole('button', { name: /^Bruno C\./ }).click();
  const child = page.getByRole('region', { name: 'The child' });
  await child.getByRole('heading', { name: 'Bruno C.' }).waitFor();
  await child.getByLabel('Finger span, mm', { exact: true }).fill('137');
  await child.getByLabel('Height, mm', { exact: true }).fill('1362');
  await child.getByLabel('Height, mm', { exact: true }).press('Enter');
  await expect(page.getByRole('radio', { name: 'To measure (17)' })).toBeVisible();
  await step(page, 'Match');
  await page.getByRole('button', { name: 'Give out 1 instrument' }).click();
  await expect(page.getByRole('button', { name: 'Every pair is as proposed' })).toBeDisabled();

  await page.getByRole('link', { name: 'Round' }).click();
  const stops = page.getByRole('list', { name: 'Stops' }).getByRole('listitem').filter({ hasText: 'not visited yet' });
  await stops.first().waitFor();
  const many = await stops.count();
  // The order of the work: size and support first, and the seat; of the one who was measured the size is known.
  for (const stop of await stops.all()) await expect(stop).toContainText(/Size fits|Support|Seat and stand/);
  await expect(stops.filter({ hasText: 'Bruno C.' })).not.toContainText('Size fits');
  await expect(stops.filter({ hasNotText: 'Bruno C.' }).first()).toContainText('Size fits');
  await page.getByRole('button', { name: 'Walk the round' }).click();
  for (let place = 0; place < many; place += 1) {
    await expect(page.getByRole('heading', { name: `${place} of ${many} seen` })).toBeVisible();
    await lookAtAll(page);
    await page.getByRole('button', { name: place < many - 1 ? /^Next: / : 'Done' }).click();
  }
  await page.getByRole('button', { name: 'End the round' }).click();
  await expect(page.getByRole('heading', { name: `${many} children seen in` })).toBeVisible();
  await page.getByRole('link', { name: 'Room' }).click();
  await expect(page.getByText(/18 children .* strings in work, 0 due again/)).toBeVisible();
});

test('importing the same file again changes nothing, and an import is undone as one step', async ({ page }) => {
  await setUp(page, 'Roster');
  await importDemoRoster(page);
  await page.getByRole('link', { name: 'Import a file' }).click();
  await page.locator('input[type=file]').setInputFiles(ROSTER);
  await expect(page.getByRole('button', { name: 'Nothing to import' })).toBeDisabled();
  await expect(page.getByRole('status')).toContainText('18 as they are');
  await expect(page.getByRole('row', { name: /Recorder/ })).toContainText('left out');
  await page.getByRole('link', { name: 'Back to the roster' }).click();
  await page.getByRole('button', { name: /^Undo the import of/ }).click();
  await expect(page.getByText('Undone: 18 removed')).toBeVisible();
  await expect(page.getByText('Nobody is in this class yet')).toBeVisible();
});

test('whoever goes on while a file is being imported stays where they went', async ({ page }) => {
  await setUp(page, 'Roster');
  await page.getByRole('link', { name: 'Import a file' }).click();
  await page.locator('input[type=file]').setInputFiles(ROSTER);
  const agree = page.getByRole('button', { name: 'Import 18 children' });
  await agree.waitFor();
  let go: () => void = () => undefined;
  const held = new Promise<void>((resolve) => (go = resolve));
  await page.route('**/roster/import?**', async (route) => {
    await held;
    await route.continue();
  });
  // What Fit asks first is answered from before the import and arrives after it.
  const imported = page.waitForResponse(/roster\/import/);
  await page.route(
    '**/fit',
    async (route) => {
      const response = await route.fetch();
      go();
      await imported;
      await route.fulfill({ response }).catch(() => undefined);
    },
    { times: 1 },
  );
  await agree.click();
  await step(page, 'Fit');
  await expect(page).toHaveURL(/set-up\/fit$/);
  expect((await imported).ok()).toBe(true);
  await expect(page.getByRole('radio', { name: 'To measure (18)' })).toBeVisible();
  await expect(page).toHaveURL(/set-up\/fit$/);
});

test('a child is moved by mouse and by keyboard, and a locked one stays', async ({ page, server }) => {
  await signIn(page);
  await page.getByText('36 children').waitFor();
  await page.getByRole('link', { name: 'Set-up' }).click();
  await step(page, 'Seats');
  const row = (number: number) => page.getByRole('group', { name: `Row ${number}`, exact: true });
  const names = (number: number) => row(number).locator('button .name').allTextContents();
  await expect(row(1).getByRole('button')).toHaveCount(6);
  const amara = row(1).getByRole('button', { name: /^Amara O\./ });
  const chiyo = row(1).getByRole('button', { name: /^Chiyo N\./ });
  await amara.hover();
  await page.mouse.down();
  const to = await chiyo.boundingBox();
  if (!to) throw new Error('Chiyo has a chair');
  await page.mouse.move(to.x + to.width / 2, to.y + to.height / 2, { steps: 8 });
  await page.mouse.up();
  await expect.poll(() => names(1)).toEqual(['Chiyo N.', 'Benedikt F.', 'Amara O.', 'Dariusz K.', 'Elowen P.', 'Femi A.']);
  await expect(row(1).getByRole('button').first()).toHaveAccessibleName(/number 1 of the walk/);

  const femi = row(1).getByRole('button', { name: /^Femi A\./ });
  // Each key waits for what is said about the one before, as somebody who listens would.
  await femi.focus();
  await page.keyboard.press('Space');
  await page.getByText('Over row 1, seat 6').waitFor({ state: 'attached' });
  await page.keyboard.press('ArrowLeft');
  await page.getByText('Over row 1, seat 5').waitFor({ state: 'attached' });
  await page.keyboard.press('Space');
  await expect.poll(async () => (await names(1))[4]).toBe('Femi A.');

  await row(1).getByRole('button', { name: /^Femi A\./ }).click();
  await page.getByRole('button', { name: 'Lock', exact: true }).click();
  let go: () => void = () => undefined;
  const held = new Promise<void>((resolve) => (go = resolve));
  await page.route('**/seats', async (route) => {
    if (route.request().method() === 'POST') await held;
    await route.continue();
  });
  const save = page.getByRole('button', { name: 'Save these seats' });
  await page.getByRole('button', { name: 'Propose seats' }).click();
  // While a proposal is on its way it is not known what would be saved.
  await expect(save).toBeDisabled();
  go();
  await expect(save).toBeEnabled();
  await expect.poll(async () => (await names(1))[4]).toBe('Femi A.');
  await expect(femi).toHaveAccessibleName(/locked/);
  await save.click();
  // The button rests as soon as it was pressed; the seats are stored a moment later.
  await expect.poll(() => server.sql("select row_number || ' ' || seat_number from seat where locked")).toBe('1 5');
  await expect(save).toBeDisabled();
});

test('what cannot be is told beside its field, in millimetres and in inches', async ({ page }) => {
  await signIn(page);
  await page.getByText('36 children').waitFor();
  await page.getByRole('link', { name: 'Set-up' }).click();
  await step(page, 'Fit');
  const child = page.getByRole('region', { name: 'The child' });
  await child.getByLabel('Height, mm', { exact: true }).fill('15000');
  await expect(child.getByText('15000 mm cannot be')).toBeVisible();
  await child.getByRole('radio', { name: 'in', exact: true }).click();
  await child.getByLabel('Height, in', { exact: true }).fill('55');
  await child.getByLabel('Arm, in', { exact: true }).fill('22');
  await expect(child.getByText('Violin 3/4', { exact: true })).toBeVisible();

  await step(page, 'Instruments');
  await page.getByRole('button', { name: 'Add an instrument' }).click();
  const dialog = page.getByRole('dialog', { name: 'A new instrument' });
  await dialog.getByLabel('Tag').fill('v-01');
  await dialog.getByRole('button', { name: 'Save' }).click();
  await expect(dialog.getByText('Another instrument has this tag').first()).toBeVisible();
  await expect(dialog.getByLabel('Tag')).toHaveValue('v-01');
});

test('an instrument’s tag opens its page with who has it', async ({ page, server }) => {
  await signIn(page);
  await page.getByText('36 children').waitFor();
  const id = server.sql("select asset_id from asset where tag = 'C-08'");
  const classId = /class\/([^/]+)/.exec(page.url())?.[1] ?? '';
  await page.goto(`${server.url}/class/${classId}/set-up/instruments/${id}`);
  const dialog = page.getByRole('dialog', { name: /^C-08/ });
  await expect(dialog.getByText('until now')).toBeVisible();
  await dialog.getByRole('button', { name: /^Given back by/ }).click();
  await expect(dialog.getByText('until now')).toHaveCount(0);
});

test('two children swap instruments, and the tapes of each are looked at before they count', async ({ page, server }) => {
  await signIn(page);
  await page.getByText('36 children').waitFor();
  const holder = (tag: string) =>
    server.sql(`select c.name from asset a join loan l using (program_id, asset_id) join child c using (program_id, child_id)
                where a.tag = '${tag}' and l.until is null`);
  const [one, two] = [holder('C-01'), holder('C-02')];
  const tapes = async (name: string) => /Tapes [^;.]*/.exec((await seat(page, name).getAttribute('aria-label')) ?? '')?.[0];
  expect(await tapes(one)).not.toContain('to put right');
  await page.getByRole('link', { name: 'Set-up' }).click();
  await step(page, 'Instruments');
  await page.getByRole('link', { name: 'C-01' }).click();
  const dialog = page.getByRole('dialog', { name: /^C-01/ });
  await dialog.getByLabel(`Swap ${one} with`).click();
  await page.getByRole('option', { name: `${two}, has C-02` }).click();
  await expect(dialog.getByText(`${two}, First-year strings`)).toBeVisible();
  expect([holder('C-01'), holder('C-02')]).toEqual([two, one]);
  await dialog.getByRole('button', { name: 'Close' }).click();
  await page.getByRole('link', { name: 'Room' }).click();
  await seat(page, one).waitFor();
  const flagged = expect.stringContaining('tapes to put right');
  // The room shows what it knew until it has read the class again.
  await expect.poll(async () => [await tapes(two), await tapes(one)]).toEqual([flagged, flagged]);
});

test('a file that is far too large is told before anything is sent', async ({ page }) => {
  await setUp(page, 'Roster');
  await page.getByRole('link', { name: 'Import a file' }).click();
  const asked: string[] = [];
  page.on('request', (request) => asked.push(request.url()));
  await page.locator('input[type=file]').evaluate((input: HTMLInputElement) => {
    const files = new DataTransfer();
    files.items.add(new File([new Uint8Array(64 * 1024 * 1024)], 'whole-school.csv'));
    input.files = files.files;
    input.dispatchEvent(new Event('change', { bubbles: true }));
  });
  await expect(page.getByText('whole-school.csv has 64 MB; 32 MB is the most')).toBeVisible();
  expect(asked.filter((url) => url.includes('roster/import'))).toEqual([]);
});

test('a class is found in a district’s export by typing, after a first look was stopped', async ({ page }) => {
  await setUp(page, 'Roster');
  await page.getByRole('link', { name: 'Import a file' }).click();
  const rows = Array.from({ length: 6000 }, (_, child) => `Family${child},Given${child},Strings ${child % 300},violin`);
  const buffer = Buffer.from(['Last name,First name,Class,Instrument', ...rows].join('\n'));
  const file = { name: 'district.csv', mimeType: 'text/csv', buffer };
  // The server does not come to an answer.
  await page.route('**/roster/import?*', () => new Promise(() => undefined));
  await page.locator('input[type=file]').setInputFiles(file);
  await expect(page.getByText('Being sent')).toBeVisible();
  await page.getByRole('button', { name: 'Stop' }).click();
  await expect(page.getByRole('button', { name: 'Stop' })).toHaveCount(0);
  await page.unroute('**/roster/import?*');

  await page.locator('input[type=file]').setInputFiles(file);
  await expect(page.getByText('There are 6000 rows in 300 groups of this file.')).toBeVisible();
  await expect(page.getByRole('button', { name: 'Nothing to import' })).toBeDisabled();
  await page.getByRole('combobox', { name: 'Groups of the file' }).fill('strings 299');
  await page.getByRole('option', { name: 'Strings 299 (20)' }).click();
  await page.keyboard.press('Escape');
  await page.getByRole('button', { name: 'Import 20 children' }).click();
  await expect(page.getByText('20 children', { exact: true })).toBeVisible();
});

test('a child’s data is removed only after its name was typed', async ({ page, server }) => {
  await signIn(page);
  await page.getByText('36 children').waitFor();
  await page.getByRole('link', { name: 'Set-up' }).click();
  // Not the child's seat, which the room shows until the list has come.
  await page.getByRole('button', { name: 'Zeno P.', exact: true }).click();
  const dialog = page.getByRole('dialog', { name: 'Zeno P.' });
  await dialog.getByRole('button', { name: 'Remove this child’s data' }).click();
  await dialog.getByRole('button', { name: 'Remove for good' }).click();
  await expect(dialog.getByText('Type the name as it stands here').first()).toBeVisible();
  await dialog.getByLabel('Type Zeno P.').fill('Zeno P.');
  await dialog.getByRole('button', { name: 'Remove for good' }).click();
  await expect(dialog).toHaveCount(0);
  await expect(page.getByText('35 children')).toBeVisible();
  expect(server.sql("select count(*) from child where name = 'Zeno P.'")).toBe('0');
});
