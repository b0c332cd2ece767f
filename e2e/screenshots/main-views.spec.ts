// Makes docs/screenshots from the demo: the main views, 1280 x 800 unless a view is for the hand.
import type { Page } from '@playwright/test';
import { openChild, seat, signIn, test } from '../journeys/app.ts';

const folder = new URL('../../docs/screenshots/', import.meta.url);

const roster = new URL('../../demo/lunchtime-beginners.csv', import.meta.url).pathname;

interface View {
  name: string;
  dark?: boolean;
  size?: { width: number; height: number };
  show: (page: Page) => Promise<unknown>;
}

const views: View[] = [
  { name: 'sign-in', show: (page) => page.getByLabel('Password').waitFor() },
  { name: 'room', show: (page) => room(page) },
  { name: 'room-dark', dark: true, show: (page) => room(page).then(() => openChild(page, 'Carys W.')) },
  {
    name: 'room-bow-grip',
    show: async (page) => {
      await room(page);
      await page.getByRole('button', { name: 'Bow grip', exact: true }).click();
      await page.getByRole('button', { name: 'Due', exact: true }).click();
    },
  },
  { name: 'child', show: (page) => room(page).then(() => openChild(page, 'Zeno P.')) },
  {
    name: 'child-history',
    show: async (page) => {
      await room(page);
      const panel = await openChild(page, 'Noor H.');
      await panel.getByRole('button', { name: 'History' }).click();
      await panel.getByRole('list', { name: 'History' }).waitFor();
    },
  },
  {
    name: 'setup-import',
    show: async (page) => {
      await setUp(page);
      await page.getByRole('link', { name: 'Lunchtime beginners' }).click();
      await page.getByRole('link', { name: 'Import a file' }).click();
      await page.locator('input[type=file]').setInputFiles(roster);
      await page.getByRole('button', { name: /^Import \d+ children/ }).waitFor();
    },
  },
  {
    name: 'setup-fit',
    show: async (page) => {
      await setUp(page, 'Fit');
      await page.getByRole('button', { name: /^Zeno P\./ }).click();
      await page.getByText('First numbers for the set-up').waitFor();
    },
  },
  {
    name: 'setup-instruments',
    show: async (page) => {
      await setUp(page, 'Instruments');
      await page.getByRole('link', { name: 'A-01' }).waitFor();
    },
  },
  {
    name: 'setup-match',
    show: async (page) => {
      await setUp(page, 'Match');
      await page.getByText('has it already').first().waitFor();
    },
  },
  {
    name: 'setup-seats',
    dark: true,
    show: async (page) => {
      await setUp(page, 'Seats');
      await page.getByRole('button', { name: /^Hiro T\./ }).click();
    },
  },
  {
    name: 'setup-supplies',
    show: async (page) => {
      await setUp(page, 'Supplies');
      await page.getByLabel(/^In store, Tape/).waitFor();
    },
  },
  {
    name: 'child-page',
    show: async (page) => {
      await room(page);
      const panel = await openChild(page, 'Priya T.');
      await panel.getByRole('link', { name: 'Whole page' }).click();
      await page.getByRole('region', { name: 'Now' }).waitFor();
    },
  },
  {
    name: 'signs',
    show: async (page) => {
      await room(page);
      const panel = await openChild(page, 'Xiomara D.');
      await panel.getByRole('button', { name: 'What do you hear or see?' }).click();
      await page.getByRole('button', { name: 'Left hand stays stuck' }).click();
      await page.getByRole('button', { name: 'Fourth finger gives way' }).click();
      await page.getByRole('list', { name: 'Causes' }).getByText('First help').first().waitFor();
    },
  },
  {
    name: 'approach',
    show: async (page) => {
      await room(page);
      await page.getByRole('link', { name: 'Approach' }).click();
      await page.getByRole('button', { name: 'Bow hand' }).click();
      await page.getByRole('radio', { name: /^Balance point/ }).click();
      await page.getByRole('region', { name: 'Texts' }).waitFor();
    },
  },
  {
    name: 'checklist',
    dark: true,
    show: async (page) => {
      await room(page);
      await page.getByRole('link', { name: 'Approach' }).click();
      await page.getByRole('link', { name: 'Checklist' }).click();
      await page.getByText('Parked under my wing').waitFor();
    },
  },
  {
    name: 'lessons',
    show: async (page) => {
      await room(page);
      await page.getByRole('link', { name: 'Lessons' }).click();
      await page.getByRole('region', { name: 'Small groups' }).waitFor();
    },
  },
  {
    name: 'tablet',
    size: { width: 820, height: 1180 },
    show: (page) => room(page).then(() => openChild(page, 'Priya T.')),
  },
  {
    name: 'phone',
    dark: true,
    size: { width: 390, height: 844 },
    show: (page) => room(page).then(() => openChild(page, 'Priya T.')),
  },
];

async function room(page: Page): Promise<void> {
  await signIn(page);
  await seat(page, 'Amara O.').waitFor();
}

async function setUp(page: Page, step?: string): Promise<void> {
  await room(page);
  await page.getByRole('link', { name: 'Set-up' }).click();
  if (step) await page.getByRole('navigation', { name: 'Set-up' }).getByRole('link', { name: step }).click();
}

for (const { name, dark, size, show } of views) {
  test.describe(name, () => {
    test.use({ viewport: size ?? { width: 1280, height: 800 }, colorScheme: dark ? 'dark' : 'light' });
    test('is drawn', async ({ door }) => {
      await show(door);
      await door.evaluate('document.fonts.ready');
      await door.mouse.move(0, 0);
      await door.screenshot({ path: new URL(`${name}.png`, folder).pathname, animations: 'disabled' });
    });
  });
}
