import { createRequire } from 'node:module';
import { readFileSync } from 'node:fs';
import type { Page } from '@playwright/test';
import { EMPTY } from '../server.ts';
import { atTheFirstChair, expect, openChild, signIn, test } from './app.ts';

const source = readFileSync(createRequire(import.meta.url).resolve('axe-core/axe.min.js'), 'utf8');

interface Finding {
  id: string;
  help: string;
  nodes: { target: unknown; failureSummary?: string }[];
}

/** No colour is on its way to another. It asks again and again: what runs where nothing is shown, as in a closed `details`, never says that it has finished. */
async function still(page: Page): Promise<void> {
  await page.waitForFunction(() =>
    document.getAnimations().every((animation) => animation.effect?.getComputedTiming().endTime === Infinity),
  );
}

const ALL = { type: 'tag', values: ['wcag2a', 'wcag2aa', 'wcag21a', 'wcag21aa', 'wcag22aa', 'best-practice'] };
const COLOURS = { type: 'rule', values: ['color-contrast', 'link-in-text-block'] };

/** Every finding of axe by these rules on the page as it stands, as lines of text. */
async function findingsBy(page: Page, rules: typeof ALL): Promise<string[]> {
  await still(page);
  // A page that was loaded anew has lost it.
  if (!(await page.evaluate('"axe" in window'))) await page.evaluate(source);
  const found = (await page.evaluate(
    `axe.run(document, { runOnly: ${JSON.stringify(rules)}, resultTypes: ["violations"] }).then((r) => r.violations)`,
  )) as Finding[];
  return found.flatMap(({ id, help, nodes }) =>
    nodes.map(({ target, failureSummary }) => `${id}: ${help} ${JSON.stringify(target)} ${failureSummary ?? ''}`),
  );
}

/** Every rule in the dark theme; in the light one the colours, all that differs, where the window is widest: they are the same in all. */
async function findings(page: Page): Promise<string[]> {
  const found: string[] = [];
  // What the last tap brought under the pointer would fade a tip in or out at some moment.
  await page.mouse.move(0, 0);
  const widest = (page.viewportSize()?.width ?? 0) >= SIZES[0].width;
  for (const [colorScheme, rules] of [['dark', ALL], ['light', COLOURS]] as const) {
    if (colorScheme === 'light' && !widest) continue;
    await page.emulateMedia({ colorScheme });
    await page.locator(`html[data-theme=${colorScheme}]`).waitFor();
    found.push(...(await findingsBy(page, rules)).map((line) => `${colorScheme}: ${line}`));
  }
  return found;
}

const SIZES = [
  { width: 1280, height: 800 },
  { width: 820, height: 1180 },
  { width: 390, height: 844 },
] as const;

/** A phone keeps it behind More. */
async function toPage(page: Page, name: string, width: number): Promise<void> {
  if (width >= 600) {
    await page.getByRole('link', { name }).click();
    return;
  }
  await page.getByRole('button', { name: 'More', exact: true }).click();
  const item = page.getByRole('menuitem', { name });
  await item.waitFor();
  expect(await findings(page), 'more').toEqual([]);
  await item.click();
}

for (const viewport of SIZES) {
  test.describe(`${viewport.width} x ${viewport.height}`, () => {
    test.use({ colorScheme: 'light', viewport });

    test('axe finds nothing on the screens of a class', async ({ page }) => {
      await page.getByLabel('Password').waitFor();
      expect(await findings(page), 'sign-in').toEqual([]);
      await signIn(page);
      await page.getByText('36 children').waitFor();
      expect(await findings(page), 'room').toEqual([]);
      await page.getByRole('button', { name: 'Flagged', exact: true }).click();
      await page.getByRole('button', { name: 'Bow grip', exact: true }).click();
      expect(await findings(page), 'room, narrowed').toEqual([]);
      await page.getByRole('button', { name: 'All four', exact: true }).click();
      await page.getByRole('button', { name: 'Flagged', exact: true }).click();
      const panel = await openChild(page, 'Noor H.');
      await expect(panel.getByRole('region', { name: 'It hurts' })).toBeVisible();
      await panel.getByRole('group', { name: /^Level of/ }).first().getByRole('button').first().click();
      await expect(panel.getByRole('button', { name: /^Undo/ })).toBeVisible();
      expect(await findings(page), 'child').toEqual([]);
      await panel.getByRole('radio', { name: 'History' }).click();
      await panel.getByRole('list', { name: 'History' }).waitFor();
      expect(await findings(page), 'history').toEqual([]);
      await page.keyboard.press('?');
      await page.getByRole('dialog', { name: 'Keys' }).waitFor();
      expect(await findings(page), 'keys').toEqual([]);
    });

    test('axe finds nothing on a child’s page, from symptom to cause, approach and lessons', async ({ page }) => {
      await signIn(page);
      const panel = await openChild(page, 'Priya T.');
      await panel.getByRole('radio', { name: 'This child', exact: true }).click();
      await panel.getByText('Lax joint').waitFor();
      expect(await findings(page), 'this child').toEqual([]);
      await panel.getByRole('link', { name: 'Whole page' }).click();
      await page.getByRole('region', { name: 'Now' }).waitFor();
      expect(await findings(page), 'whole page').toEqual([]);
      await page.getByRole('button', { name: /as a drawing, large$/ }).first().click();
      await page.getByRole('dialog').getByRole('img').first().waitFor();
      expect(await findings(page), 'drawing').toEqual([]);
      await page.getByRole('dialog').getByRole('button', { name: 'Mirror' }).click();
      await page.getByRole('button', { name: 'Camera on' }).waitFor();
      expect(await findings(page), 'mirror').toEqual([]);
      await page.getByRole('button', { name: 'Back' }).click();
      await page.getByRole('dialog').waitFor({ state: 'detached' });
      await page.getByRole('button', { name: 'For this child', exact: true }).first().click();
      await page.getByRole('dialog').waitFor();
      expect(await findings(page), 'accommodation').toEqual([]);
      await page.keyboard.press('Escape');
      await page.getByRole('dialog').waitFor({ state: 'detached' });
      await page.getByRole('button', { name: 'What do you hear or see?' }).click();
      await page.getByRole('button', { name: 'Scroll sinks' }).click();
      await page.getByRole('list', { name: 'Causes' }).getByText('First help').first().waitFor();
      expect(await findings(page), 'symptoms').toEqual([]);
      await page.keyboard.press('Escape');
      await page.getByRole('dialog').waitFor({ state: 'detached' });
      await page.getByRole('link', { name: 'Lessons' }).click();
      await page.getByRole('region', { name: 'Small groups' }).waitFor();
      await page.getByText('Who').first().click();
      expect(await findings(page), 'lessons').toEqual([]);
      await page.getByRole('link', { name: 'Next lesson' }).click();
      await page.getByRole('list', { name: 'Blocks' }).waitFor();
      expect(await findings(page), 'next lesson').toEqual([]);
      await page.getByRole('link', { name: /^Lead / }).first().click();
      await page.getByRole('region', { name: 'Everybody' }).waitFor();
      expect(await findings(page), 'lead').toEqual([]);
      await page.getByRole('button', { name: /^Leave/ }).click();
      await toPage(page, 'Home', viewport.width);
      await page.getByRole('button', { name: /^Week and sheets of/ }).first().click();
      await page.getByRole('dialog').getByRole('row').first().waitFor();
      expect(await findings(page), 'week').toEqual([]);
      await page.keyboard.press('Escape');
      await page.getByRole('dialog').waitFor({ state: 'detached' });
      expect(await findings(page), 'cards').toEqual([]);
      await page.getByRole('link', { name: 'Back again' }).click();
      const how = page.getByRole('group', { name: /^How it was for/ }).last();
      await how.getByRole('button', { name: 'Hurts' }).click();
      await page.getByRole('group', { name: /^At what it hurts/ }).waitFor();
      expect(await findings(page), 'back again').toEqual([]);
      await page.getByRole('link', { name: 'Practice week' }).click();
      await page.getByLabel('Minutes a day').waitFor();
      expect(await findings(page), 'practice week').toEqual([]);
      await page.getByRole('link', { name: 'Languages' }).click();
      await page.getByLabel('Add a language').fill('Span');
      await page.getByRole('option', { name: 'Spanish', exact: true }).click();
      await page.getByRole('region', { name: 'Spanish' }).waitFor();
      expect(await findings(page), 'languages').toEqual([]);
      await toPage(page, 'Approach', viewport.width);
      const nose = page.getByRole('radio', { name: /^Bow first/ });
      await nose.click();
      await page.getByRole('region', { name: 'Before it is kept' }).getByRole('list').waitFor();
      expect(await findings(page), 'schools').toEqual([]);
      await page.getByRole('link', { name: 'Checklist' }).click();
      await page.getByRole('button', { name: 'Change Rest position' }).click();
      await page.getByRole('dialog', { name: 'Rest position' }).waitFor();
      expect(await findings(page), 'checkpoint').toEqual([]);
      await page.keyboard.press('Escape');
      await page.getByRole('dialog').waitFor({ state: 'detached' });
      expect(await findings(page), 'checklist').toEqual([]);
      await page.getByRole('button', { name: 'Change Music ready' }).click();
      await page.getByRole('dialog', { name: 'Music ready' }).waitFor();
      await page.getByLabel('Drawn as').click();
      await page.getByRole('option', { name: 'Bow arm' }).click();
      await page.getByRole('slider').first().waitFor();
      expect(await findings(page), 'own checkpoint').toEqual([]);
      await page.keyboard.press('Escape');
      await page.getByRole('link', { name: 'Drills' }).click();
      await page.getByRole('button', { name: 'Change Prepared fingers' }).click();
      await page.getByRole('dialog', { name: 'Prepared fingers' }).waitFor();
      expect(await findings(page), 'drill').toEqual([]);
      await page.keyboard.press('Escape');
      await page.getByRole('dialog').waitFor({ state: 'detached' });
      expect(await findings(page), 'drills').toEqual([]);
      await page.getByRole('link', { name: 'Calendar', exact: true }).click();
      await page.getByText(/meetings in all/).waitFor();
      expect(await findings(page), 'calendar').toEqual([]);
      await page.getByRole('link', { name: 'As a file' }).click();
      await page.getByRole('heading', { name: 'Take one in' }).waitFor();
      expect(await findings(page), 'file').toEqual([]);
    });

    test('axe finds nothing on how the class grew', async ({ page }) => {
      await signIn(page);
      await toPage(page, 'Term', viewport.width);
      await page.getByRole('img', { name: /^How bright the room was/ }).waitFor();
      expect(await findings(page), 'growth').toEqual([]);
      for (const [part, shown] of [
        ['Where it waits', page.getByRole('heading', { name: 'Did it help?' })],
        ['Waits and slips', page.getByRole('table', { name: 'Slips' })],
        ['Children', page.getByRole('table', { name: 'Children' })],
        ['Said and came', page.getByRole('table', { name: 'Said and came' })],
        ['Reports', page.getByRole('region', { name: 'For the office' })],
        ['New year', page.getByRole('table', { name: 'Still out' })],
      ] as const) {
        await page.getByRole('link', { name: part, exact: true }).click();
        await shown.waitFor();
        expect(await findings(page), part).toEqual([]);
      }
    });

    test('axe finds nothing at the bench, on templates and on the note map', async ({ page }) => {
      await signIn(page);
      await page.getByText('36 children').waitFor();
      await page.getByRole('link', { name: 'Tapes', exact: true }).click();
      await page.getByRole('link', { name: 'V-16', exact: true }).waitFor();
      expect(await findings(page), 'bench').toEqual([]);
      await page.getByRole('link', { name: 'V-16', exact: true }).click();
      await page.getByRole('region', { name: 'Fingerboard' }).waitFor();
      await page.getByLabel('How to prove marker 1').selectOption('tuner');
      await page.getByRole('button', { name: 'Bridge moved' }).click();
      expect(await findings(page), 'instrument').toEqual([]);
      await page.getByRole('link', { name: 'Lay it step by step' }).click();
      await page.getByRole('button', { name: 'Next: marker 3' }).waitFor();
      expect(await findings(page), 'tune').toEqual([]);
      await page.getByRole('button', { name: 'Next: marker 3' }).click();
      expect(await findings(page), 'lay').toEqual([]);
      await page.getByRole('link', { name: 'Templates' }).click();
      await page.getByRole('img', { name: /^Sheet 1 of/ }).waitFor();
      expect(await findings(page), 'templates').toEqual([]);
      await page.getByRole('link', { name: 'Note map' }).click();
      await page.getByRole('region', { name: 'Who is ready' }).waitFor();
      expect(await findings(page), 'tune').toEqual([]);
      await page.getByRole('radio', { name: 'A note, or a tune of our own' }).click();
      await page.getByRole('radio', { name: 'A tune', exact: true }).click();
      expect(await findings(page), 'build').toEqual([]);
      await page.getByRole('link', { name: 'How markers lie' }).click();
      await page.getByRole('button', { name: 'Lay markers like this' }).waitFor();
      expect(await findings(page), 'how markers lie').toEqual([]);
    });

    test('axe finds nothing where a page listens, and on the trainer', async ({ page, server }) => {
      await page.goto(`${server.url}/?microphone=simulated`);
      await signIn(page);
      const panel = await openChild(page, 'Priya T.');
      await panel.getByRole('button', { name: 'What do you hear or see?' }).click();
      const dialog = page.getByRole('dialog');
      await dialog.getByRole('button', { name: 'Listen', exact: true }).click();
      await dialog.getByRole('button', { name: 'Does it ring? How is the tone?' }).click();
      await dialog.getByText('Take it as').waitFor();
      expect(await findings(page), 'ring and tone').toEqual([]);
      await dialog.getByRole('radio', { name: 'The hand, finger by finger' }).check();
      await dialog.getByRole('button', { name: /^Listen to the hand/ }).click();
      await dialog.getByText('Take it as').waitFor();
      expect(await findings(page), 'hand').toEqual([]);
      await page.keyboard.press('Escape');
      await dialog.waitFor({ state: 'detached' });
      await page.getByRole('link', { name: 'Lessons' }).click();
      await page.getByRole('link', { name: 'Tuning' }).click();
      await page.getByRole('button', { name: 'Tune by the microphone' }).click();
      await page.getByRole('img', { name: /cents low/ }).waitFor();
      expect(await findings(page), 'tuning').toEqual([]);
      await page.getByRole('link', { name: 'Train the ear' }).click();
      await page.getByRole('button', { name: 'Play a sound' }).click();
      await page.getByRole('button', { name: 'A thud' }).click();
      await page.getByText(/of 1 sound heard/).waitFor();
      expect(await findings(page), 'trainer').toEqual([]);
    });

    test('axe finds nothing on a round, from start to summary', async ({ page }) => {
      await signIn(page);
      await page.getByText('36 children').waitFor();
      await page.getByRole('link', { name: 'Round' }).click();
      await expect(page.getByRole('button', { name: 'Walk the round' })).toBeEnabled();
      if (viewport.width < 600) await page.getByRole('button', { name: 'Change', exact: true }).click();
      await page.getByRole('radio', { name: 'Pin', exact: true }).click();
      await page.getByRole('button', { name: /^Hamza B\./ }).click();
      await page.getByRole('button', { name: /more on the list: next time$/ }).first().click();
      await page.getByText(/^Not this time/).click();
      expect(await findings(page), 'start').toEqual([]);
      await page.getByRole('link', { name: 'The term ahead' }).click();
      await page.getByRole('table', { name: 'When most come to what' }).waitFor({ timeout: 60_000 });
      expect(await findings(page), 'term ahead').toEqual([]);
      await page.getByRole('link', { name: 'Back to the round' }).click();
      await page.getByRole('button', { name: 'Walk the round' }).click();
      await atTheFirstChair(page);
      await page.getByRole('button', { name: 'Note', exact: true }).click();
      await page.getByRole('button', { name: 'Look at more' }).click();
      await page.getByRole('button', { name: 'Listen', exact: true }).click();
      await page.getByRole('button', { name: 'Does it ring? How is the tone?' }).waitFor();
      await page.getByRole('button', { name: 'Hurts' }).click();
      await page.getByRole('button', { name: /^2 Prompted|^Still there$/ }).first().click();
      await page.getByRole('button', { name: 'Proof' }).first().click();
      expect(await findings(page), 'walk').toEqual([]);
      await page.getByRole('button', { name: 'Together' }).click();
      await page.getByRole('group', { name: 'I take' }).waitFor();
      expect(await findings(page), 'together').toEqual([]);
      await page.getByRole('button', { name: 'From afar' }).click();
      await page.getByRole('radiogroup', { name: 'What' }).getByRole('radio').first().click();
      expect(await findings(page), 'what from afar').toEqual([]);
      await page.getByRole('group', { name: 'Whom' }).getByRole('button', { name: 'Row 2', exact: true }).click();
      await page.getByRole('group', { name: 'Row 2' }).getByRole('button').first().click();
      expect(await findings(page), 'from afar').toEqual([]);
      await page.getByRole('button', { name: 'Not now' }).click();
      await page.getByRole('button', { name: 'End', exact: true }).click();
      await page.getByRole('region', { name: 'Next time' }).getByRole('listitem').first().waitFor();
      expect(await findings(page), 'summary').toEqual([]);
    });

    test('axe finds nothing on the pages of a school, an account and an invitation', async ({ page, server }) => {
      await signIn(page);
      await page.getByText('36 children').waitFor();
      const program = server.sql('select program_id from program');
      const open = async (path: string, there: string) => {
        await page.goto(`${server.url}${path}`);
        await page.getByText(there, { exact: true }).first().waitFor();
      };
      await open(`/school/${program}/classes`, 'Add a class');
      expect(await findings(page), 'classes').toEqual([]);
      await open(`/school/${program}/classes/taken`, 'Choose the file (.zip)');
      expect(await findings(page), 'taking in').toEqual([]);
      await open(`/school/${program}/people`, 'Invite a colleague');
      expect(await findings(page), 'people').toEqual([]);
      await page.getByRole('button', { name: 'Invite a colleague' }).click();
      await page.getByRole('dialog', { name: 'Invite a colleague' }).waitFor();
      expect(await findings(page), 'inviting').toEqual([]);
      await page.getByRole('radio', { name: 'Owner' }).check();
      await page.getByRole('button', { name: 'Make the link' }).click();
      await page.getByRole('img', { name: 'The link as a code for a camera' }).waitFor();
      expect(await findings(page), 'a link').toEqual([]);
      const link = await page.getByRole('textbox', { name: 'The link' }).inputValue();
      await open(`/school/${program}/keeping`, 'How long things are kept');
      expect(await findings(page), 'keeping').toEqual([]);
      await open(`/school/${program}/audit`, 'Who did what');
      expect(await findings(page), 'audit').toEqual([]);
      await open('/account', 'Devices signed in');
      expect(await findings(page), 'account').toEqual([]);
      await page.goto(link);
      await page.getByRole('button', { name: /^Come in as/ }).waitFor();
      expect(await findings(page), 'invitation').toEqual([]);
      await page.goto(`${server.url}/new-password#none`);
      await page.getByRole('button', { name: 'Set it' }).waitFor();
      expect(await findings(page), 'a new password').toEqual([]);
    });

    test('axe finds nothing on the steps of setting up', async ({ page }) => {
      await signIn(page);
      await page.getByText('36 children').waitFor();
      await page.getByRole('link', { name: 'Set-up' }).click();
      const go = (name: string) =>
        page.getByRole('navigation', { name: 'Set-up' }).getByRole('link', { name }).click();
      await page.getByRole('button', { name: 'Amara O.', exact: true }).waitFor();
      expect(await findings(page), 'roster').toEqual([]);
      await page.getByRole('button', { name: 'Amara O.', exact: true }).click();
      await page.getByRole('dialog', { name: 'Amara O.' }).waitFor();
      expect(await findings(page), 'entry').toEqual([]);
      await page.getByRole('button', { name: 'Close' }).click();
      await page.getByRole('link', { name: 'Import a file' }).click();
      await page.locator('input[type=file]').setInputFiles({
        name: 'roster.csv',
        mimeType: 'text/csv',
        buffer: Buffer.from('Name,Instrument\nAda King,viola\nBen Otis,tuba\n'),
      });
      await page.getByRole('button', { name: 'Import 1 child' }).waitFor();
      expect(await findings(page), 'import').toEqual([]);
      await go('Fit');
      await page.getByText(/is from \d+ mm on/).waitFor();
      expect(await findings(page), 'fit').toEqual([]);
      await go('Instruments');
      await page.getByRole('link', { name: 'A-01' }).click();
      await page.getByRole('dialog', { name: /^A-01/ }).waitFor();
      expect(await findings(page), 'instrument').toEqual([]);
      await page.getByRole('button', { name: 'Close' }).click();
      await page.getByRole('dialog').waitFor({ state: 'detached' });
      expect(await findings(page), 'instruments').toEqual([]);
      await go('Match');
      await page.getByText('has it already').first().waitFor();
      expect(await findings(page), 'match').toEqual([]);
      await go('Seats');
      await page.getByRole('button', { name: /^Hiro T\./ }).click();
      expect(await findings(page), 'seats').toEqual([]);
      await go('Supplies');
      await page.getByLabel(/^In store, Tape/).waitFor();
      expect(await findings(page), 'supplies').toEqual([]);
    });

    test.describe('nobody yet', () => {
      test.use({ template: EMPTY });
      test('axe finds nothing on the way to a first class', async ({ page }) => {
        await page.getByLabel('School or program').fill('Hill Street strings');
        await page.getByLabel('Your name').fill('Mr Okonedo');
        await page.getByLabel('E-mail').fill('okonedo@hill.example');
        expect(await findings(page), 'first run').toEqual([]);
        await page.getByLabel('Password').fill('four words and a bow');
        await page.getByRole('button', { name: 'Begin' }).click();
        await page.getByRole('button', { name: 'Add the class' }).click();
        await page.getByText('Type a name').waitFor();
        expect(await findings(page), 'new class').toEqual([]);
        await page.getByLabel('Name of the class').fill('Morning strings');
        await page.getByRole('button', { name: 'Mon' }).click();
        await page.getByRole('button', { name: 'Add the class' }).click();
        await page.getByRole('link', { name: 'Add children' }).waitFor();
        expect(await findings(page), 'empty room').toEqual([]);
        await page.getByRole('link', { name: 'Add children' }).click();
        await page.getByLabel('First name and a letter').waitFor();
        expect(await findings(page), 'new children').toEqual([]);
      });
    });
  });
}
