import { test as base, expect, type Browser, type Locator, type Page } from '@playwright/test';
import { DEMO, Server } from '../server.ts';

export { expect };

/** A journey: a page of a running server with the demo school. */
export const test = base.extend<{ template: string; server: Server }>({
  template: [DEMO, { option: true }],
  server: async ({ template }, use) => {
    const server = await Server.over(template);
    await use(server);
    await server.remove();
  },
  page: async ({ page, server }, use) => {
    const errors: string[] = [];
    page.on('pageerror', (error) => errors.push(String(error)));
    await page.goto(server.url);
    await use(page);
    expect(errors, 'errors that the page did not catch').toEqual([]);
  },
});

export async function signIn(page: Page, email = 'director@demo.example'): Promise<void> {
  await page.getByLabel('E-mail').fill(email);
  await page.getByLabel('Password').fill('bright-row-demo');
  await page.getByRole('button', { name: 'Sign in' }).click();
}

/** A second person at the same school, in a browser of their own. */
export async function another(browser: Browser, server: Server, email: string): Promise<Page> {
  const page = await (await browser.newContext()).newPage();
  await page.goto(server.url);
  await signIn(page, email);
  return page;
}

export function seat(page: Page, name: string): Locator {
  return page.getByRole('button', { name: new RegExp(`^${name},`) });
}

export async function openChild(page: Page, name: string): Promise<Locator> {
  await seat(page, name).click();
  const panel = page.getByRole('complementary', { name });
  await panel.getByRole('region', { name: 'Ladders' }).waitFor();
  return panel;
}

/** Opens a stage whatever state it is in, and answers the keys of one of its checkpoints. */
export async function keysOf(panel: Locator, strand: string, stage: string, checkpoint: string): Promise<Locator> {
  const ladder = panel.getByRole('region', { name: strand });
  const chip = ladder.getByRole('button', { name: new RegExp(`^Stage \\d, ${stage},`) });
  if ((await chip.getAttribute('aria-pressed')) === 'false') await chip.click();
  return panel.getByRole('group', { name: `Level of ${checkpoint}` });
}

/** Waits until the server has confirmed everything and the page has read it back. */
export async function settled(server: Server, observations: number): Promise<void> {
  await expect.poll(() => Number(server.sql('select count(*) from observation'))).toBe(observations);
}

export function observationsOf(server: Server): number {
  return Number(server.sql('select count(*) from observation'));
}

/** One tap for each thing to look at, whatever kind it is: not the same child until the next one is there. */
export async function lookAtAll(page: Page): Promise<number> {
  let taps = 0;
  for (const keys of await page.getByRole('group', { name: /^Level of / }).all()) {
    const key = keys.getByRole('button', { name: /^3 Alone|^There$/ });
    await key.click();
    await expect(key).toHaveAttribute('aria-pressed', 'true');
    taps += 1;
  }
  for (const still of await page.getByRole('button', { name: 'Still there' }).all()) {
    await still.click();
    await expect(still).toHaveAttribute('aria-pressed', 'true');
    taps += 1;
  }
  return taps;
}

/** Everything that opens without network is on the device: the pages, and the last answers of the server. */
export async function onDevice(page: Page): Promise<void> {
  await page.evaluate(async () => {
    await navigator.serviceWorker.ready;
  });
  const keptKinds = () =>
    page.evaluate(
      () =>
        new Promise<string[]>((resolve) => {
          const open = indexedDB.open('bright-row');
          open.onsuccess = () => {
            const get = open.result.transaction('answers').objectStore('answers').get('answers');
            get.onsuccess = () => {
              open.result.close();
              const kept = get.result as { value: { state: { queries: { queryKey: string[] }[] } } } | undefined;
              resolve(kept?.value.state.queries.map(({ queryKey }) => queryKey[1] ?? '') ?? []);
            };
          };
        }),
    );
  await expect.poll(keptKinds).toEqual(expect.arrayContaining(['/api/session', '/api/classes/{class}/room', '/api/classes/{class}/round', '/api/classes/{class}/rules']));
}

/**
 * The first child's card of a round. On some days what is looked at from afar comes before it, as the demo's meetings fall: it is left for
 * another time.
 */
export async function atTheFirstChair(page: Page): Promise<void> {
  const chair = page.getByRole('button', { name: 'Skip', exact: true });
  const afar = page.getByRole('button', { name: 'Not now', exact: true });
  for (;;) {
    await chair.or(afar).first().waitFor();
    if (await chair.isVisible()) return;
    const shown = page.getByRole('heading', { level: 2 }).first();
    const scan = (await shown.textContent()) ?? '';
    await afar.click();
    await expect(shown).not.toHaveText(scan);
  }
}
