import { readFileSync } from 'node:fs';
import type { Page } from '@playwright/test';
import { expect, seat, signIn, test } from './app.ts';

const ROSTER = new URL('../../demo/lunchtime-beginners.csv', import.meta.url).pathname;

/** Opens a step of setting up the class that the demo leaves to be set up. */
async function setUp(page: Page, step: string): Promise<void> {
  await signIn(page);
  await page.getByText('36 children').waitFor();
  await page.getByRole('link', { name: 'Set-up' }).click();
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
  await expect(page.getByText('18 children')).toBeVisible();
}

const step = (page: Page, name: string) =>
  page.getByRole('navigation', { name: 'Set-up' }).getByRole('link', { name }).click();

test('a class is set up in one sitting: import, measure, match, seat, print', async ({ door }) => {
  await setUp(door, 'Roster');
  await expect(door.getByText('Nobody is in this class yet')).toBeVisible();
  await importDemoRoster(door);

  // Measure one child of each instrument; Enter keeps and goes on.
  await step(door, 'Fit');
  const child = door.getByRole('region', { name: 'The child' });
  const measures: [name: string, typed: [label: string, value: string][], size: string][] = [
    ['Ada Be.', [['Arm, mm', '552'], ['Height, mm', '1390']], 'Violin 3/4'],
    ['Celina D.', [['Arm, mm', '510']], 'Viola 12'],
    ['Bruno C.', [['Height, mm', '1362'], ['Finger span, mm', '137'], ['Knee, mm', '358']], 'Cello 3/4'],
    ['Esi F.', [['Height, mm', '1470']], 'Bass 1/2'],
  ];
  for (const [name, typed, size] of measures) {
    await door.getByRole('region', { name: 'The line' }).getByRole('button', { name: new RegExp(`^${name}`) }).click();
    await child.getByRole('heading', { name }).waitFor();
    for (const [label, value] of typed) await child.getByLabel(label, { exact: true }).fill(value);
    await expect(child.getByText(size, { exact: true })).toBeVisible();
    await child.getByLabel(typed[0]?.[0] ?? '', { exact: true }).press('Enter');
    await expect(child.getByRole('heading', { name })).toHaveCount(0);
  }
  await expect(door.getByRole('button', { name: 'To measure (14)' })).toBeVisible();

  await step(door, 'Match');
  await expect(door.getByText('Measure first').first()).toBeVisible();
  await door.getByRole('button', { name: /^Give out \d instruments$/ }).click();
  await expect(door.getByRole('button', { name: 'Every pair is as proposed' })).toBeDisabled();
  const esi = door.getByRole('row', { name: /Esi F\./ });
  await expect(esi).toContainText('has it already');
  await esi.getByRole('button', { name: /^Keep B-/ }).click();
  await expect(esi).toContainText('kept by you');

  await step(door, 'Seats');
  await door.getByRole('button', { name: 'One row less' }).click();
  await expect(door.getByRole('group', { name: /^Row \d$/ })).toHaveCount(3);
  await expect(door.getByRole('group', { name: 'Without a chair' })).toHaveCount(0);
  await door.getByRole('button', { name: 'Keep these seats' }).click();
  await expect(door.getByRole('button', { name: 'Keep these seats' })).toBeDisabled();
  const printing = door.waitForEvent('download');
  await door.getByRole('button', { name: 'Chart, podium’s side' }).or(door.getByRole('link', { name: 'Chart, podium’s side' })).click();
  const chart = await printing;
  expect(chart.suggestedFilename()).toBe('seats-Lunchtime-beginners.pdf');
  expect(readFileSync(await chart.path()).subarray(0, 5).toString()).toBe('%PDF-');

  await door.getByRole('link', { name: 'Room' }).click();
  await expect(door.getByText('18 children')).toBeVisible();
});

test('importing the same file again changes nothing, and an import is undone as one step', async ({ door }) => {
  await setUp(door, 'Roster');
  await importDemoRoster(door);
  await door.getByRole('link', { name: 'Import a file' }).click();
  await door.locator('input[type=file]').setInputFiles(ROSTER);
  await expect(door.getByRole('button', { name: 'Nothing to import' })).toBeDisabled();
  await expect(door.getByRole('status')).toContainText('18 as they are');
  await expect(door.getByRole('row', { name: /Recorder/ })).toContainText('left out');
  await door.getByRole('link', { name: 'Back to the roster' }).click();
  await door.getByRole('button', { name: /^Undo the import of/ }).click();
  await expect(door.getByText('Undone: 18 removed')).toBeVisible();
  await expect(door.getByText('Nobody is in this class yet')).toBeVisible();
});

test('a child is moved by mouse and by keyboard, and a locked one stays', async ({ door, server }) => {
  await signIn(door);
  await door.getByText('36 children').waitFor();
  await door.getByRole('link', { name: 'Set-up' }).click();
  await step(door, 'Seats');
  const row = (number: number) => door.getByRole('group', { name: `Row ${number}`, exact: true });
  const names = (number: number) => row(number).locator('button .name').allTextContents();
  await expect(row(1).getByRole('button')).toHaveCount(6);
  const amara = row(1).getByRole('button', { name: /^Amara O\./ });
  const chiyo = row(1).getByRole('button', { name: /^Chiyo N\./ });
  await amara.hover();
  await door.mouse.down();
  const to = await chiyo.boundingBox();
  if (!to) throw new Error('Chiyo has a chair');
  await door.mouse.move(to.x + to.width / 2, to.y + to.height / 2, { steps: 8 });
  await door.mouse.up();
  await expect.poll(() => names(1)).toEqual(['Chiyo N.', 'Benedikt F.', 'Amara O.', 'Dariusz K.', 'Elowen P.', 'Femi A.']);
  await expect(row(1).getByRole('button').first()).toHaveAccessibleName(/number 1 of the walk/);

  const femi = row(1).getByRole('button', { name: /^Femi A\./ });
  // Each key waits for what is said about the one before, as somebody who listens would.
  await femi.focus();
  await door.keyboard.press('Space');
  await door.getByText('Over row 1, seat 6').waitFor({ state: 'attached' });
  await door.keyboard.press('ArrowLeft');
  await door.getByText('Over row 1, seat 5').waitFor({ state: 'attached' });
  await door.keyboard.press('Space');
  await expect.poll(async () => (await names(1))[4]).toBe('Femi A.');

  await row(1).getByRole('button', { name: /^Femi A\./ }).click();
  await door.getByRole('button', { name: 'Lock', exact: true }).click();
  await door.getByRole('button', { name: 'Propose seats' }).click();
  await expect.poll(async () => (await names(1))[4]).toBe('Femi A.');
  await expect(femi).toHaveAccessibleName(/locked/);
  await door.getByRole('button', { name: 'Keep these seats' }).click();
  await expect(door.getByRole('button', { name: 'Keep these seats' })).toBeDisabled();
  expect(server.sql("select row_number || ' ' || seat_number from seat where locked")).toBe('1 5');
});

test('what cannot be is told beside its field, in millimetres and in inches', async ({ door }) => {
  await signIn(door);
  await door.getByText('36 children').waitFor();
  await door.getByRole('link', { name: 'Set-up' }).click();
  await step(door, 'Fit');
  const child = door.getByRole('region', { name: 'The child' });
  await child.getByLabel('Height, mm', { exact: true }).fill('15000');
  await expect(child.getByText('15000 mm cannot be')).toBeVisible();
  await child.getByRole('button', { name: 'in', exact: true }).click();
  await child.getByLabel('Height, in', { exact: true }).fill('55');
  await child.getByLabel('Arm, in', { exact: true }).fill('22');
  await expect(child.getByText('Violin 3/4', { exact: true })).toBeVisible();

  await step(door, 'Instruments');
  await door.getByRole('button', { name: 'Add an instrument' }).click();
  const sheet = door.getByRole('dialog', { name: 'A new instrument' });
  await sheet.getByLabel('Tag').fill('v-01');
  await sheet.getByRole('button', { name: 'Save' }).click();
  await expect(sheet.getByText('Another instrument has this tag').first()).toBeVisible();
  await expect(sheet.getByLabel('Tag')).toHaveValue('v-01');
});

test('an instrument’s tag opens its page with who has it', async ({ door, server }) => {
  await signIn(door);
  await door.getByText('36 children').waitFor();
  const id = server.sql("select asset_id from asset where tag = 'C-08'");
  const classId = /class\/([^/]+)/.exec(door.url())?.[1] ?? '';
  await door.goto(`${server.url}/class/${classId}/set-up/instruments/${id}`);
  const sheet = door.getByRole('dialog', { name: /^C-08/ });
  await expect(sheet.getByText('until now')).toBeVisible();
  await sheet.getByRole('button', { name: /^Given back by/ }).click();
  await expect(sheet.getByText('until now')).toHaveCount(0);
});

test('two children swap instruments, and the tapes of each are looked at before they count', async ({ door, server }) => {
  await signIn(door);
  await door.getByText('36 children').waitFor();
  const holder = (tag: string) =>
    server.sql(`select c.name from asset a join loan l using (program_id, asset_id) join child c using (program_id, child_id)
                where a.tag = '${tag}' and l.until is null`);
  const [one, two] = [holder('C-01'), holder('C-02')];
  const tapes = async (name: string) => /Tapes [^;.]*/.exec((await seat(door, name).getAttribute('aria-label')) ?? '')?.[0];
  expect(await tapes(one)).not.toContain('to put right');
  await door.getByRole('link', { name: 'Set-up' }).click();
  await step(door, 'Instruments');
  await door.getByRole('link', { name: 'C-01' }).click();
  const sheet = door.getByRole('dialog', { name: /^C-01/ });
  await sheet.getByLabel(`Swap ${one} with`).click();
  await door.getByRole('option', { name: `${two}, has C-02` }).click();
  await expect(sheet.getByText(`${two}, First-year strings`)).toBeVisible();
  expect([holder('C-01'), holder('C-02')]).toEqual([two, one]);
  await sheet.getByRole('button', { name: 'Close' }).click();
  await door.getByRole('link', { name: 'Room' }).click();
  await seat(door, one).waitFor();
  const flagged = expect.stringContaining('tapes to put right');
  expect([await tapes(two), await tapes(one)]).toEqual([flagged, flagged]);
});

test('a file that is far too large is told before anything is sent', async ({ door }) => {
  await setUp(door, 'Roster');
  await door.getByRole('link', { name: 'Import a file' }).click();
  const asked: string[] = [];
  door.on('request', (request) => asked.push(request.url()));
  await door.evaluate(() => {
    const input = document.querySelector<HTMLInputElement>('input[type=file]');
    const files = new DataTransfer();
    files.items.add(new File([new Uint8Array(64 * 1024 * 1024)], 'whole-school.csv'));
    if (input) input.files = files.files;
    input?.dispatchEvent(new Event('change', { bubbles: true }));
  });
  await expect(door.getByText('whole-school.csv has 64 MB; 8 MB is the most')).toBeVisible();
  expect(asked.filter((url) => url.includes('roster/import'))).toEqual([]);
});

test('a child’s data is removed only after its name was typed', async ({ door, server }) => {
  await signIn(door);
  await door.getByText('36 children').waitFor();
  await door.getByRole('link', { name: 'Set-up' }).click();
  await door.getByRole('button', { name: 'Zeno P.' }).click();
  const sheet = door.getByRole('dialog', { name: 'Zeno P.' });
  await sheet.getByRole('button', { name: 'Remove this child’s data' }).click();
  await sheet.getByRole('button', { name: 'Remove for good' }).click();
  await expect(sheet.getByText('Type the name as it stands here').first()).toBeVisible();
  await sheet.getByLabel('Type Zeno P.').fill('Zeno P.');
  await sheet.getByRole('button', { name: 'Remove for good' }).click();
  await expect(sheet).toHaveCount(0);
  await expect(door.getByText('35 children')).toBeVisible();
  expect(server.sql("select count(*) from child where name = 'Zeno P.'")).toBe('0');
});
