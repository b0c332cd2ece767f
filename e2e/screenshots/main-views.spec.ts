// Makes docs/screenshots from the demo: the main views, 1280 x 800 unless a view is for the hand.
import type { Page } from '@playwright/test';
import { openChild, seat, signIn, test } from '../journeys/app.ts';

const folder = new URL('../../docs/screenshots/', import.meta.url);


interface View {
  name: string;
  dark?: boolean;
  size?: { width: number; height: number };
  show: (page: Page) => Promise<unknown>;
}

const views: View[] = [
  { name: 'room', show: (page) => room(page) },
  {
    name: 'tuning',
    dark: true,
    show: async (page) => {
      await page.goto(`${page.url()}?microphone=simulated`);
      await room(page);
      await page.getByRole('link', { name: 'Lessons' }).click();
      await page.getByRole('link', { name: 'Tuning' }).click();
      await page.getByRole('button', { name: 'Tune by the microphone' }).click();
      await page.getByRole('img', { name: /cents low/ }).waitFor();
    },
  },
  { name: 'child', show: (page) => room(page).then(() => openChild(page, 'Zeno P.')) },
  {
    name: 'setup-fit',
    show: async (page) => {
      await setUp(page, 'Fit');
      await page.getByRole('button', { name: /^Zeno P\./ }).click();
      await page.getByText('First numbers for the set-up').waitFor();
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
    name: 'child-page',
    show: async (page) => {
      await room(page);
      const panel = await openChild(page, 'Priya T.');
      await panel.getByRole('link', { name: 'Whole page' }).click();
      await page.getByRole('region', { name: 'Now' }).waitFor();
      await page.getByRole('button', { name: /as a drawing/ }).first().getByRole('img').waitFor();
    },
  },
  {
    name: 'symptoms',
    show: async (page) => {
      await room(page);
      const panel = await openChild(page, 'Xiomara D.');
      await panel.getByRole('button', { name: 'What do you hear or see?' }).click();
      await page.getByRole('button', { name: 'Left hand stays stuck' }).click();
      await page.getByRole('button', { name: 'Fourth finger gives way' }).click();
      // Both side by side: a picture shows no way.
      await page.emulateMedia({ reducedMotion: 'reduce' });
      await page.getByRole('list', { name: 'Causes' }).getByRole('img').first().waitFor();
    },
  },
  {
    name: 'approach',
    show: async (page) => {
      await room(page);
      await page.getByRole('link', { name: 'Approach' }).click();
      await page.getByRole('radio', { name: 'Bow hand', exact: true }).click();
      await page.getByRole('radio', { name: /^Empty hand/ }).click();
      await page.getByRole('region', { name: 'Texts' }).waitFor();
      await page.getByRole('img', { name: /^Pencil/ }).waitFor();
    },
  },
  {
    name: 'home',
    show: async (page) => {
      await room(page);
      await page.getByRole('link', { name: 'Home' }).click();
      await page.getByRole('table', { name: 'Children' }).waitFor();
    },
  },
  {
    name: 'term',
    show: async (page) => {
      await room(page);
      await page.getByRole('link', { name: 'Term' }).click();
      await page.getByRole('img', { name: /^How bright the room was/ }).waitFor();
    },
  },
  {
    name: 'lessons',
    show: async (page) => {
      await room(page);
      await nextLesson(page);
    },
  },
  {
    name: 'lead',
    show: async (page) => {
      await room(page);
      await page.goto(page.url().replace(/\/room.*$/, '/lead/prepared-fingers'));
      await page.getByRole('heading', { name: 'Prepared fingers' }).waitFor();
      for (let part = 0; part < 4; part += 1) await page.keyboard.press('PageDown');
      await page.getByRole('img', { name: /^bass:/ }).waitFor();
    },
  },
  {
    name: 'round',
    show: async (page) => {
      await round(page);
      await page.getByRole('list', { name: 'Stops' }).waitFor();
    },
  },
  { name: 'walk-tablet', size: { width: 820, height: 1180 }, show: (page) => walk(page) },
  {
    name: 'tapes-bench',
    show: async (page) => {
      await tapes(page);
      await page.getByRole('link', { name: 'V-16', exact: true }).waitFor();
    },
  },
  {
    name: 'tapes-instrument',
    show: async (page) => {
      await tapes(page);
      await page.getByRole('link', { name: 'V-16', exact: true }).click();
      await page.getByRole('region', { name: 'Fingerboard' }).waitFor();
    },
  },
  {
    name: 'tapes-templates',
    show: async (page) => {
      await tapes(page);
      await page.getByRole('link', { name: 'Templates' }).click();
      const sheet = page.getByRole('img', { name: /^Sheet 1 of/ });
      await sheet.evaluate((image) => (image as HTMLImageElement).decode());
    },
  },
  {
    name: 'note-map',
    dark: true,
    show: async (page) => {
      await tapes(page);
      await page.getByRole('link', { name: 'Note map' }).click();
      await page.getByRole('radio', { name: 'Frère Jacques' }).click();
      await page.getByRole('heading', { name: 'Frère Jacques' }).waitFor();
      await page.getByRole('button', { name: /^Note 4,/ }).click();
    },
  },
  {
    name: 'term-ahead',
    show: async (page) => {
      await round(page);
      await page.getByRole('link', { name: 'The term ahead' }).click();
      await page.getByRole('table', { name: 'When most come to what' }).waitFor({ timeout: 60_000 });
    },
  },
];

async function nextLesson(page: Page): Promise<void> {
  await page.getByRole('link', { name: 'Lessons' }).click();
  await page.getByRole('link', { name: 'Next lesson' }).click();
  await page.getByRole('list', { name: 'Blocks' }).waitFor();
}

async function round(page: Page): Promise<void> {
  await room(page);
  await page.getByRole('link', { name: 'Round' }).click();
  await page.getByRole('group', { name: 'Minutes for looking' }).getByRole('button', { name: '8', exact: true }).click();
  await page.getByRole('button', { name: 'Walk the round' }).waitFor();
}

/** The first child of the walk, looked at once, with a slip. */
async function walk(page: Page): Promise<void> {
  await round(page);
  await page.getByRole('button', { name: 'Walk the round' }).click();
  await page.getByRole('timer').waitFor();
  await page.getByRole('button', { name: '3 Alone' }).first().click();
  await page.getByRole('group', { name: /^Slips at/ }).first().getByRole('button').first().click();
  await page.getByRole('button', { name: 'Proof' }).first().click();
  await page.getByRole('button', { name: /as a drawing/ }).first().getByRole('img').waitFor();
}

async function tapes(page: Page): Promise<void> {
  await room(page);
  await page.getByRole('link', { name: 'Tapes', exact: true }).click();
}

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
    test('is drawn', async ({ page }) => {
      await show(page);
      await page.evaluate('document.fonts.ready');
      await page.mouse.move(0, 0);
      await page.screenshot({ path: new URL(`${name}.png`, folder).pathname, animations: 'disabled' });
    });
  });
}
