import { createRequire } from 'node:module';
import { readFileSync } from 'node:fs';
import type { Page } from '@playwright/test';
import { EMPTY } from '../server.ts';
import { expect, openChild, signIn, test } from './app.ts';

const source = readFileSync(createRequire(import.meta.url).resolve('axe-core/axe.min.js'), 'utf8');

interface Finding {
  id: string;
  help: string;
  nodes: { target: unknown; failureSummary?: string }[];
}

/** No colour is on its way to another. */
async function still(page: Page): Promise<void> {
  await page.evaluate(async () => {
    const ending = () =>
      document.getAnimations().filter((animation) => animation.effect?.getComputedTiming().endTime !== Infinity);
    // The end of one may begin another.
    for (let running = ending(); running.length > 0; running = ending()) {
      await Promise.allSettled(running.map((animation) => animation.finished));
    }
  });
}

/** Every finding of axe on the page as it stands, as lines of text. */
async function inThisTheme(page: Page): Promise<string[]> {
  await still(page);
  await page.evaluate(source);
  const found = (await page.evaluate(
    'axe.run(document, { runOnly: ["wcag2a", "wcag2aa", "wcag21a", "wcag21aa", "wcag22aa", "best-practice"] }).then((r) => r.violations)',
  )) as Finding[];
  return found.flatMap(({ id, help, nodes }) =>
    nodes.map(({ target, failureSummary }) => `${id}: ${help} ${JSON.stringify(target)} ${failureSummary ?? ''}`),
  );
}

/** The same in both themes: the way to a screen is long, a look at it is short. */
async function findings(page: Page): Promise<string[]> {
  const found: string[] = [];
  for (const colorScheme of ['dark', 'light'] as const) {
    await page.emulateMedia({ colorScheme });
    await page.locator(`html[data-theme=${colorScheme}]`).waitFor();
    found.push(...(await inThisTheme(page)).map((line) => `${colorScheme}: ${line}`));
  }
  return found;
}

const SIZES = [
  { width: 1280, height: 800 },
  { width: 820, height: 1180 },
  { width: 390, height: 844 },
];

for (const viewport of SIZES) {
  test.describe(`${viewport.width} x ${viewport.height}`, () => {
    test.use({ colorScheme: 'light', viewport });

    test('axe finds nothing on the screens of a class', async ({ door }) => {
      await door.getByLabel('Password').waitFor();
      expect(await findings(door), 'sign-in').toEqual([]);
      await signIn(door);
      await door.getByText('36 children').waitFor();
      expect(await findings(door), 'room').toEqual([]);
      await door.getByRole('button', { name: 'Flagged', exact: true }).click();
      await door.getByRole('button', { name: 'Bow grip', exact: true }).click();
      expect(await findings(door), 'room, narrowed').toEqual([]);
      await door.getByRole('button', { name: 'All four', exact: true }).click();
      await door.getByRole('button', { name: 'Flagged', exact: true }).click();
      const panel = await openChild(door, 'Noor H.');
      await expect(panel.getByRole('region', { name: 'It hurts' })).toBeVisible();
      await panel.getByRole('group', { name: /^Mark/ }).first().getByRole('button').first().click();
      await expect(panel.getByRole('button', { name: /^Undo/ })).toBeVisible();
      expect(await findings(door), 'child').toEqual([]);
      await panel.getByRole('button', { name: 'History' }).click();
      await panel.getByRole('list', { name: 'History' }).waitFor();
      expect(await findings(door), 'history').toEqual([]);
      await door.keyboard.press('?');
      await door.getByRole('dialog', { name: 'Keys' }).waitFor();
      expect(await findings(door), 'keys').toEqual([]);
    });

    test('axe finds nothing on a child’s page, from sign to cause, approach and lessons', async ({ door }) => {
      await signIn(door);
      const panel = await openChild(door, 'Priya T.');
      await panel.getByRole('button', { name: 'This child', exact: true }).click();
      await panel.getByText('Lax joint').waitFor();
      expect(await findings(door), 'this child').toEqual([]);
      await panel.getByRole('link', { name: 'Whole page' }).click();
      await door.getByRole('region', { name: 'Now' }).waitFor();
      expect(await findings(door), 'whole page').toEqual([]);
      await door.getByRole('button', { name: 'For this child', exact: true }).first().click();
      await door.getByRole('dialog').waitFor();
      expect(await findings(door), 'accommodation').toEqual([]);
      await door.keyboard.press('Escape');
      await door.getByRole('dialog').waitFor({ state: 'detached' });
      await door.getByRole('button', { name: 'What do you hear or see?' }).click();
      await door.getByRole('button', { name: 'Scroll sinks' }).click();
      await door.getByRole('list', { name: 'Causes' }).getByText('First help').first().waitFor();
      expect(await findings(door), 'signs').toEqual([]);
      await door.keyboard.press('Escape');
      await door.getByRole('dialog').waitFor({ state: 'detached' });
      await door.getByRole('link', { name: 'Lessons' }).click();
      await door.getByRole('region', { name: 'Small groups' }).waitFor();
      await door.getByText('Who').first().click();
      expect(await findings(door), 'lessons').toEqual([]);
      await door.getByRole('link', { name: 'Next lesson' }).click();
      await door.getByRole('list', { name: 'Blocks' }).waitFor();
      expect(await findings(door), 'next lesson').toEqual([]);
      await door.getByRole('link', { name: /^Lead / }).first().click();
      await door.getByRole('region', { name: 'Cello' }).waitFor();
      expect(await findings(door), 'lead').toEqual([]);
      await door.getByRole('button', { name: /^Leave/ }).click();
      await door.getByRole('link', { name: 'Approach' }).click();
      const nose = door.getByRole('radio', { name: /^Bow first/ });
      await nose.click();
      await door.getByRole('region', { name: 'Before it is kept' }).getByRole('list').waitFor();
      expect(await findings(door), 'schools').toEqual([]);
      await door.getByRole('link', { name: 'Checklist' }).click();
      await door.getByRole('button', { name: 'Change Rest position' }).click();
      await door.getByRole('dialog', { name: 'Rest position' }).waitFor();
      expect(await findings(door), 'checkpoint').toEqual([]);
      await door.keyboard.press('Escape');
      await door.getByRole('dialog').waitFor({ state: 'detached' });
      expect(await findings(door), 'checklist').toEqual([]);
      await door.getByRole('button', { name: 'Change Music ready' }).click();
      await door.getByRole('dialog', { name: 'Music ready' }).waitFor();
      expect(await findings(door), 'own checkpoint').toEqual([]);
      await door.keyboard.press('Escape');
      await door.getByRole('link', { name: 'Calendar', exact: true }).click();
      await door.getByText(/meetings in all/).waitFor();
      expect(await findings(door), 'calendar').toEqual([]);
      await door.getByRole('link', { name: 'As a file' }).click();
      await door.getByRole('heading', { name: 'Take one in' }).waitFor();
      expect(await findings(door), 'file').toEqual([]);
    });

    test('axe finds nothing at the bench, on templates and on the note map', async ({ door }) => {
      await signIn(door);
      await door.getByText('36 children').waitFor();
      await door.getByRole('link', { name: 'Tapes', exact: true }).click();
      await door.getByRole('link', { name: 'V-16', exact: true }).waitFor();
      expect(await findings(door), 'bench').toEqual([]);
      await door.getByRole('link', { name: 'V-16', exact: true }).click();
      await door.getByRole('region', { name: 'Fingerboard' }).waitFor();
      await door.getByLabel('How to prove mark 1').selectOption('tuner');
      await door.getByRole('button', { name: 'Bridge moved' }).click();
      expect(await findings(door), 'instrument').toEqual([]);
      await door.getByRole('link', { name: 'Lay it step by step' }).click();
      await door.getByRole('button', { name: 'Next: mark 3' }).waitFor();
      expect(await findings(door), 'tune').toEqual([]);
      await door.getByRole('button', { name: 'Next: mark 3' }).click();
      expect(await findings(door), 'lay').toEqual([]);
      await door.getByRole('link', { name: 'Templates' }).click();
      await door.getByRole('img', { name: /^Sheet 1 of/ }).waitFor();
      expect(await findings(door), 'templates').toEqual([]);
      await door.getByRole('link', { name: 'Note map' }).click();
      await door.getByRole('region', { name: 'Who is ready' }).waitFor();
      expect(await findings(door), 'tune').toEqual([]);
      await door.getByRole('button', { name: 'A note, or a tune of our own' }).click();
      await door.getByRole('button', { name: 'A tune', exact: true }).click();
      expect(await findings(door), 'build').toEqual([]);
      await door.getByRole('link', { name: 'How marks lie' }).click();
      await door.getByRole('button', { name: 'Lay marks like this' }).waitFor();
      expect(await findings(door), 'how marks lie').toEqual([]);
    });

    test('axe finds nothing on a round, from start to summary', async ({ door }) => {
      await signIn(door);
      await door.getByText('36 children').waitFor();
      await door.getByRole('link', { name: 'Round' }).click();
      await expect(door.getByRole('button', { name: 'Walk the round' })).toBeEnabled();
      await door.getByRole('button', { name: 'Pin', exact: true }).click();
      await door.getByRole('button', { name: /^Hamza B\./ }).click();
      await door.getByRole('button', { name: /other looks?$/ }).first().click();
      await door.getByText(/^Not this time/).click();
      expect(await findings(door), 'start').toEqual([]);
      await door.getByRole('link', { name: 'The term ahead' }).click();
      await door.getByRole('region', { name: 'The term ahead' }).waitFor();
      expect(await findings(door), 'term ahead').toEqual([]);
      await door.getByRole('link', { name: 'Back to the round' }).click();
      await door.getByRole('button', { name: 'Walk the round' }).click();
      await door.getByRole('button', { name: 'Note', exact: true }).click();
      await door.getByRole('button', { name: 'Look at more' }).click();
      await door.getByRole('button', { name: 'Hurts' }).click();
      await door.getByRole('button', { name: /^2 Prompted|^Still there$/ }).first().click();
      await door.getByRole('button', { name: 'Proof' }).first().click();
      expect(await findings(door), 'walk').toEqual([]);
      await door.getByRole('button', { name: 'Together' }).click();
      await door.getByRole('group', { name: 'I take' }).waitFor();
      expect(await findings(door), 'together').toEqual([]);
      await door.getByRole('button', { name: 'From afar' }).click();
      await door.getByRole('group', { name: 'What' }).getByRole('button').first().click();
      expect(await findings(door), 'what from afar').toEqual([]);
      await door.getByRole('group', { name: 'Whom' }).getByRole('button', { name: 'Row 2', exact: true }).click();
      await door.getByRole('group', { name: 'Row 2' }).getByRole('button').first().click();
      expect(await findings(door), 'from afar').toEqual([]);
      await door.getByRole('button', { name: 'Not now' }).click();
      await door.getByRole('button', { name: 'End', exact: true }).click();
      await door.getByRole('region', { name: 'Next time' }).getByRole('listitem').first().waitFor();
      expect(await findings(door), 'summary').toEqual([]);
    });

    test('axe finds nothing on the steps of setting up', async ({ door }) => {
      await signIn(door);
      await door.getByText('36 children').waitFor();
      await door.getByRole('link', { name: 'Set-up' }).click();
      const go = (name: string) =>
        door.getByRole('navigation', { name: 'Set-up' }).getByRole('link', { name }).click();
      await door.getByRole('button', { name: 'Amara O.' }).waitFor();
      expect(await findings(door), 'roster').toEqual([]);
      await door.getByRole('button', { name: 'Amara O.' }).click();
      await door.getByRole('dialog', { name: 'Amara O.' }).waitFor();
      expect(await findings(door), 'entry').toEqual([]);
      await door.getByRole('button', { name: 'Close' }).click();
      await door.getByRole('link', { name: 'Import a file' }).click();
      await door.locator('input[type=file]').setInputFiles({
        name: 'roster.csv',
        mimeType: 'text/csv',
        buffer: Buffer.from('Name,Instrument\nAda King,viola\nBen Otis,tuba\n'),
      });
      await door.getByRole('button', { name: 'Import 1 child' }).waitFor();
      expect(await findings(door), 'import').toEqual([]);
      await go('Fit');
      await door.getByText(/is from \d+ mm on/).waitFor();
      expect(await findings(door), 'fit').toEqual([]);
      await go('Instruments');
      await door.getByRole('link', { name: 'A-01' }).click();
      await door.getByRole('dialog', { name: /^A-01/ }).waitFor();
      expect(await findings(door), 'instrument').toEqual([]);
      await door.getByRole('button', { name: 'Close' }).click();
      await door.getByRole('dialog').waitFor({ state: 'detached' });
      expect(await findings(door), 'instruments').toEqual([]);
      await go('Match');
      await door.getByText('has it already').first().waitFor();
      expect(await findings(door), 'match').toEqual([]);
      await go('Seats');
      await door.getByRole('button', { name: /^Hiro T\./ }).click();
      expect(await findings(door), 'seats').toEqual([]);
      await go('Supplies');
      await door.getByLabel(/^In store, Tape/).waitFor();
      expect(await findings(door), 'supplies').toEqual([]);
    });

    test.describe('nobody yet', () => {
      test.use({ template: EMPTY });
      test('axe finds nothing on the way to a first class', async ({ door }) => {
        await door.getByLabel('School or program').fill('Hill Street strings');
        await door.getByLabel('Your name').fill('Mr Okonedo');
        await door.getByLabel('E-mail').fill('okonedo@hill.example');
        expect(await findings(door), 'first visit').toEqual([]);
        await door.getByLabel('Password').fill('four words and a bow');
        await door.getByRole('button', { name: 'Begin' }).click();
        await door.getByRole('button', { name: 'Add the class' }).click();
        await door.getByText('Type a name').waitFor();
        expect(await findings(door), 'new class').toEqual([]);
        await door.getByLabel('Name of the class').fill('Morning strings');
        await door.getByRole('button', { name: 'Mon' }).click();
        await door.getByRole('button', { name: 'Add the class' }).click();
        await door.getByRole('link', { name: 'Add children' }).waitFor();
        expect(await findings(door), 'empty room').toEqual([]);
        await door.getByRole('link', { name: 'Add children' }).click();
        await door.getByLabel('First name and a letter').waitFor();
        expect(await findings(door), 'new children').toEqual([]);
      });
    });
  });
}
