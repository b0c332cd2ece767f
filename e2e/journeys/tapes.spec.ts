import { readFile } from 'node:fs/promises';
import type { Locator, Page } from '@playwright/test';
import { validateXML } from 'xmllint-wasm';
import createVerovioModule from 'verovio/wasm';
import { VerovioToolkit } from 'verovio/esm';
import type { Server } from '../server.ts';
import { another, atTheFirstChair, expect, openChild, signIn, test } from './app.ts';

const entries = (server: Server) => Number(server.sql('select count(*) from tape_event'));

/** The bench, and an instrument on it. */
async function atBench(page: Page, tag?: string): Promise<void> {
  await page.getByRole('link', { name: 'Tapes', exact: true }).click();
  await page.getByRole('button', { name: 'Free in the store room' }).waitFor();
  if (!tag) return;
  await page.getByRole('link', { name: tag, exact: true }).click();
  await page.getByRole('heading', { name: new RegExp(`^${tag},`) }).waitFor();
}

const part = (page: Page, name: string): Locator => page.getByRole('region', { name, exact: true });

test('an instrument is measured, laid step by step and proved by ear, and lights the child’s fourth string', async ({
  page,
  server,
}) => {
  await signIn(page);
  await atBench(page, 'V-06');
  await expect(part(page, 'Fingerboard').getByText('Not measured', { exact: true })).toBeVisible();
  await page.getByRole('link', { name: 'Lay it step by step' }).click();
  await page.getByRole('heading', { name: 'Step by step' }).waitFor();
  // Inches typed as millimetres are told beside the field, and nothing is kept.
  const field = page.getByLabel('String, nut to bridge (mm)');
  await field.fill('12.1');
  await page.getByRole('button', { name: 'Save', exact: true }).click();
  await expect(page.getByText('In inches it would be 307.3 mm.')).toBeVisible();
  await field.fill('long');
  await page.getByRole('button', { name: 'Save', exact: true }).click();
  await expect(page.getByText('Type a length in millimetres, such as 328.')).toBeVisible();
  const before = entries(server);
  await field.fill('306');
  await field.press('Enter');
  await expect.poll(() => entries(server)).toBe(before + 1);
  // The anchor first, then what is heard against an open string, then the step.
  for (const [finger, next] of [
    ['3', 'Next: marker 1'],
    ['1', 'Next: marker 2'],
    ['2', 'Next'],
  ] as const) {
    await page.getByRole('button', { name: /^Next/ }).click();
    await page.getByRole('button', { name: `Marker ${finger} is on` }).click();
    await expect(page.getByRole('button', { name: `Marker ${finger} laid anew` })).toBeVisible();
    await page.getByRole('button', { name: /^Hear / }).first().click();
    await page.getByRole('button', { name: `marker ${finger} is true` }).click();
    await expect(page.getByRole('group', { name: `Hear marker ${finger}` }).getByText('true', { exact: true })).toBeVisible();
    await expect(page.getByRole('button', { name: next, exact: true })).toBeVisible();
  }
  await page.getByRole('button', { name: 'Next', exact: true }).click();
  await expect(page.getByText('Every marker is on and proved by ear.')).toBeVisible();
  await expect.poll(() => entries(server)).toBe(before + 7);
  expect(server.sql("select count(*) from tape_event where work -> 'data' ->> 'proof' = 'step'")).not.toBe('0');
  await page.getByRole('link', { name: 'Done' }).click();
  await expect(part(page, 'Fingerboard').getByText('Heard', { exact: true })).toBeVisible();
  await page.getByRole('link', { name: 'Room', exact: true }).click();
  const panel = await openChild(page, 'Elowen P.');
  await expect(panel.getByRole('region', { name: 'Tapes' }).getByText('heard', { exact: true })).toBeVisible();
});

test('a drifted marker is measured in inches, moved, heard again; the next instrument is one key away', async ({
  page,
  server,
}) => {
  await signIn(page);
  await atBench(page, 'V-16');
  await expect(part(page, 'Fingerboard').getByText(/^Marker \d is 17 cents high$/)).toBeVisible();
  await page.getByRole('radio', { name: '1/32 in', exact: true }).click();
  const measure = part(page, 'Measure');
  await measure.getByLabel('Marker 1 (in)').fill('2 29/32');
  await measure.getByLabel('Marker 2 (in)').fill('1 5/32');
  await measure.getByRole('button', { name: 'Save what was measured' }).click();
  await expect(measure.getByRole('alert')).toContainText('Marker 2 is nearer the nut than marker 1');
  const before = entries(server);
  await measure.getByLabel('Marker 1 (in)').fill('1 5/32');
  await measure.getByLabel('Marker 2 (in)').fill('2 9/32');
  await measure.getByRole('button', { name: 'Save what was measured' }).click();
  await expect.poll(() => entries(server)).toBe(before + 1);
  await expect(measure.getByText(/cents?, (move|where)/).first()).toBeVisible();
  const off = server.sql("select work -> 'data' ->> 'finger' from tape_event where (work -> 'data' -> 'heard' ->> 'cents')::float = 17");
  await part(page, 'What was found, what was done').getByRole('button', { name: `${off} comes off` }).click();
  await part(page, 'What was found, what was done').getByRole('button', { name: `${off} laid`, exact: true }).click();
  for (const finger of ['3', '1', '2']) {
    await part(page, 'Hear').getByRole('button', { name: `marker ${finger} is true` }).click();
  }
  await expect(part(page, 'Fingerboard').getByText('Holding', { exact: true })).toBeVisible();
  // What was tapped wrongly is taken back and stays legible.
  await part(page, 'What was found, what was done').getByRole('button', { name: 'New strings' }).click();
  await part(page, 'Log').getByRole('button', { name: 'Take back: New strings' }).click();
  await expect(part(page, 'Log').getByText('taken back')).toBeVisible();
  const here = page.url();
  await page.keyboard.press(']');
  await expect(page).not.toHaveURL(here);
  await page.keyboard.press('[');
  await expect(page).toHaveURL(here);
});

test('the look in a round says which marker in one tap, also without network, and the bench knows it', async ({
  page,
  server,
}) => {
  await signIn(page);
  await page.getByRole('link', { name: 'Round' }).click();
  await page.getByRole('radio', { name: 'Pin', exact: true }).click();
  await page.getByRole('button', { name: /^Ingrid S\./ }).click();
  const group = page.getByRole('group', { name: 'Minutes for looking' });
  await group.getByRole('button', { name: '20', exact: true }).click();
  await expect(page.getByText('20 min', { exact: true })).toBeVisible();
  const start = page.getByRole('button', { name: 'Walk the round' });
  await expect(start).toBeEnabled();
  await start.click();
  await atTheFirstChair(page);
  const name = page.getByRole('heading', { level: 2 }).first();
  while ((await name.textContent()) !== 'Ingrid S.') {
    const now = (await name.textContent()) ?? '';
    await page.getByRole('button', { name: 'Skip', exact: true }).click();
    await expect(name).not.toHaveText(now);
  }
  // The seconds may do more elsewhere: then the look is one tap away.
  const still = page.getByRole('region', { name: 'Still true' });
  if ((await still.count()) === 0) {
    await page.getByRole('button', { name: 'Look at more' }).click();
    await page.getByRole('button', { name: /^Still true/ }).click();
  }
  await still.waitFor();
  await server.stop();
  const before = entries(server);
  const gone = page.getByRole('button', { name: 'Marker 3 gone' });
  await gone.click();
  await expect(gone).toHaveAttribute('aria-pressed', 'true');
  await server.start();
  await expect.poll(() => entries(server)).toBe(before + 1);
  const seen = "select count(*) from observation where target like 'tape.%' and level = 0 and round_id is not null";
  await expect.poll(() => server.sql(seen)).toBe('1');
  await page.getByRole('link', { name: 'Tapes', exact: true }).click();
  await expect(page.getByRole('row', { name: /V-16/ })).toContainText('marker 3 is gone');
});

test('new strings put a set on the bench at once, and a glance takes it off again', async ({ page }) => {
  await signIn(page);
  await atBench(page, 'V-14');
  const found = part(page, 'What was found, what was done');
  await found.getByRole('button', { name: 'New strings' }).click();
  await expect(part(page, 'Fingerboard').getByText('Next: look again; due now')).toBeVisible();
  await page.getByRole('link', { name: 'All instruments' }).click();
  const row = page.getByRole('row', { name: /V-14/ });
  await expect(row).toContainText('due now');
  await row.getByRole('link').click();
  await found.getByRole('button', { name: 'All still there, still true' }).click();
  await expect(part(page, 'Fingerboard').getByText(/^Nothing to do now; again in 20 meetings$/)).toBeVisible();
});

test('a swap is looked at before it counts, and the markers stay with their instrument', async ({ page, server }) => {
  await signIn(page);
  await page.getByText('36 children').waitFor();
  const id = /class\/([^/]+)/.exec(page.url())?.[1] ?? '';
  const api = `${server.url}/api/classes/${id}`;
  const asset = (tag: string) => server.sql(`select asset_id from asset where tag = '${tag}'`);
  const child = server.sql(`select child_id from loan where until is null and asset_id = '${asset('V-10')}'`);
  const lent = await page.request.post(`${api}/loans`, { data: { pairs: [{ child, asset: asset('V-11') }] } });
  expect(lent.status()).toBe(204);
  await atBench(page);
  const row = page.getByRole('row', { name: /V-11/ });
  await expect(row).toContainText('another instrument than before');
  await row.getByRole('link').click();
  await part(page, 'What was found, what was done').getByRole('button', { name: 'The set is laid' }).click();
  await expect(part(page, 'Fingerboard').getByText('Placed', { exact: true })).toBeVisible();
  await page.getByRole('link', { name: 'All instruments' }).click();
  await page.getByRole('button', { name: 'Free in the store room' }).click();
  await expect(page.getByRole('row', { name: /V-10/ })).toContainText('holding');
});

test('a marker is taken away with its reason and comes back with one tap', async ({ page, server }) => {
  await signIn(page);
  await page.getByText('36 children').waitFor();
  const id = /class\/([^/]+)/.exec(page.url())?.[1] ?? '';
  const child = server.sql(
    "select child_id from loan join asset using (program_id, asset_id) where until is null and tag = 'V-09'",
  );
  const land = (daysAgo: number) => ({
    id: crypto.randomUUID(),
    child,
    target: 'frame.land',
    level: 3,
    observedAt: new Date(Date.now() - daysAgo * 86_400_000).toISOString(),
  });
  const sent = await page.request.post(`${server.url}/api/classes/${id}/observations`, { data: { observations: [land(8), land(1)] } });
  expect(sent.ok()).toBe(true);
  await atBench(page, 'V-09');
  const thin = part(page, 'Taking markers away');
  await expect(thin.getByText(/landed in tune with eyes away in the last 2 looks/)).toBeVisible();
  await thin.getByRole('button', { name: 'Take marker 2 (yellow) away' }).click();
  await expect(part(page, 'Fingerboard').getByText('Thinning', { exact: true })).toBeVisible();
  await thin.getByRole('button', { name: 'Marker 2 on again' }).click();
  await expect(part(page, 'Fingerboard').getByText('Holding', { exact: true })).toBeVisible();
  await thin.getByRole('button', { name: 'Take every marker away' }).click();
  await expect(part(page, 'Fingerboard').getByText('Bare', { exact: true })).toBeVisible();
});

test('templates come on counted sheets, and what is not measured says so', async ({ page }) => {
  await signIn(page);
  await atBench(page);
  await page.getByRole('link', { name: 'Templates' }).click();
  await expect(page.getByRole('heading', { name: /^\d+ strips on \d+ sheets$/ })).toBeVisible();
  await expect(page.getByRole('link', { name: 'V-06' })).toBeVisible();
  const sheet = page.getByRole('img', { name: /^Sheet 1 of \d+/ });
  await expect.poll(() => sheet.evaluate((image) => (image as HTMLImageElement).naturalWidth)).toBeGreaterThan(500);
  await page.getByRole('button', { name: 'Sheet after' }).click();
  await expect(page.getByRole('img', { name: /^Sheet 2 of \d+/ })).toBeVisible();
  await page.getByRole('radio', { name: 'Letter', exact: true }).click();
  const file = page.waitForEvent('download');
  await page.getByRole('link', { name: 'Save as PDF' }).click();
  const saved = await (await file).path();
  expect((await readFile(saved)).subarray(0, 4).toString()).toBe('%PDF');
});

test('the offset that was heard is taken with one tap, and settings that cannot be are told', async ({
  page,
  browser,
  server,
}) => {
  await signIn(page);
  await atBench(page);
  await page.getByRole('link', { name: 'How markers lie' }).click();
  const use = page.getByRole('button', { name: /^Use \d\.\d mm$/ });
  const proposed = (/\d\.\d/.exec((await use.textContent()) ?? '') ?? [''])[0];
  await use.click();
  await expect(page.getByLabel('Offset towards the nut (mm)')).toHaveValue(proposed);
  await page.getByLabel('Width of a strip (mm)').fill('9');
  await page.getByRole('button', { name: 'Lay markers like this' }).click();
  await expect(page.getByText('A strip is 2 to 6 mm wide.').first()).toBeVisible();
  await expect(page.getByLabel('Width of a strip (mm)')).toHaveValue('9');
  const assistant = await another(browser, server, 'assistant@demo.example');
  await assistant.getByText('36 children').waitFor();
  await atBench(assistant);
  await assistant.getByRole('link', { name: 'How markers lie' }).click();
  await expect(assistant.getByText('Only a director changes how markers are laid.')).toBeVisible();
});

const SCHEMA = new URL('../schema/', import.meta.url);

test('a tune is built, shown on all four, played, and leaves as MusicXML that a notation engine engraves', async ({
  page,
}) => {
  await signIn(page);
  await atBench(page);
  await page.getByRole('link', { name: 'Note map' }).click();
  await expect(page.getByRole('heading', { name: 'The star, its beginning' })).toBeVisible();
  await expect(page.getByRole('region', { name: 'Who is ready' })).toBeVisible();
  await page.getByRole('radio', { name: 'A note, or a tune of our own' }).click();
  const build = page.getByRole('region', { name: 'Build' });
  await build.getByRole('button', { name: 'G', exact: true }).click();
  await expect(page.getByRole('heading', { name: 'G', exact: true })).toBeVisible();
  // The same name, each on its own finger; the bass has it as an open string.
  for (const [instrument, place] of [
    ['Violin', '3 on D'],
    ['Cello', '4 on D'],
    ['Bass', 'open G'],
  ] as const) {
    await expect(page.getByRole('region', { name: instrument, exact: true }).getByText(place)).toBeVisible();
  }
  await page.getByRole('region', { name: 'Cello', exact: true }).getByRole('button', { name: 'Hear G' }).click();
  await build.getByRole('radio', { name: 'A tune' }).click();
  await build.getByRole('radio', { name: 'half', exact: true }).click();
  await build.getByRole('button', { name: 'F♯', exact: true }).click();
  await expect(page.getByRole('button', { name: 'Note 2, F sharp' })).toBeVisible();
  await build.getByLabel('What it is called').fill('Two notes');
  await build.getByLabel('What it is called').press('Enter');
  await expect(page.getByRole('heading', { name: 'Two notes' })).toBeVisible();

  // A tune of a notation program, with an upbeat; what of it is not taken is said.
  const abc = 'X:1\nT:The fox\nM:4/4\nL:1/4\nQ:1/4=90\nK:Bm\nB | d2 c {e}d | B4 |]\n';
  const chooser = page.waitForEvent('filechooser');
  await build.getByRole('button', { name: /^Read a tune/ }).click();
  await (await chooser).setFiles({ name: 'fox.abc', mimeType: 'text/plain', buffer: Buffer.from(abc) });
  await expect(page.getByRole('heading', { name: 'The fox' })).toBeVisible();
  await expect(page.getByText('Not taken from the file: grace notes')).toBeVisible();
  await expect(build.getByLabel('Key')).toHaveValue('Bm');
  const sound = page.waitForEvent('download');
  await page.getByRole('button', { name: 'Save the tune' }).click();
  await page.getByRole('menuitem', { name: 'Violin, sound (WAV)' }).click();
  expect((await sound).suggestedFilename()).toMatch(/^The-fox-+violin\.wav$/);

  await page.getByRole('radio', { name: 'Frère Jacques' }).click();
  await expect(page.getByRole('heading', { name: 'Frère Jacques' })).toBeVisible();
  const file = page.waitForEvent('download');
  await page.getByRole('button', { name: 'Save the tune' }).click();
  await page.getByRole('menuitem', { name: 'Score (MusicXML)', exact: true }).click();
  const xml = await readFile(await (await file).path(), 'utf8');
  const [schema, ...preload] = await Promise.all(
    ['musicxml-4.0.xsd', 'xml.xsd', 'xlink.xsd'].map(async (name) => ({
      fileName: name,
      contents: await readFile(new URL(name, SCHEMA), 'utf8'),
    })),
  );
  const checked = await validateXML({ xml: { fileName: 'tune.musicxml', contents: xml }, schema: [schema!], preload });
  expect(checked.errors).toEqual([]);
  const engraver = new VerovioToolkit(await createVerovioModule());
  expect(engraver.loadData(xml)).toBeTruthy();
  const drawing = engraver.renderToSVG(1);
  for (const name of ['Violin', 'Viola', 'Cello', 'Double bass']) expect(drawing).toContain(name);
  expect(drawing.match(/class="note"/g)?.length ?? 0).toBeGreaterThan(100);
});

test('the tape that is really there is named, and drawings and words have its colour', async ({ page, server }) => {
  await signIn(page);
  await atBench(page);
  await page.getByRole('link', { name: 'How markers lie' }).click();
  const first = page.getByLabel('Colour of finger 1');
  await first.selectOption('pink');
  await page.getByRole('button', { name: 'Lay markers like this' }).click();
  await expect
    .poll(() => server.sql("select marker_settings -> 'data' -> 'colours' -> 'fingers' ->> 0 from class where name = 'First-year strings'"))
    .toBe('pink');
  await page.getByRole('link', { name: 'Bench' }).click();
  await page.getByRole('link', { name: 'V-16', exact: true }).click();
  await expect(page.getByText('1 (pink)').first()).toBeVisible();
  await expect(part(page, 'Fingerboard').locator('[fill="#e79ab8"]')).toHaveCount(1);
});
