import type { Page, Route } from '@playwright/test';
import { another, atTheFirstChair, expect, lookAtAll, observationsOf, onDevice, settled, signIn, test } from './app.ts';

async function begin(page: Page, minutes: number): Promise<void> {
  await page.getByRole('link', { name: 'Round' }).click();
  const group = page.getByRole('group', { name: 'Minutes for looking' });
  await group.getByRole('button', { name: String(minutes), exact: true }).click();
  await expect(page.getByText(`${minutes} min`, { exact: true })).toBeVisible();
  const start = page.getByRole('button', { name: 'Walk the round' });
  await expect(start).toBeEnabled();
  await start.click();
  await page.getByRole('timer').waitFor();
  await atTheFirstChair(page);
}

/** The card of the child that one stands before. */
const checks = (page: Page) => page.getByRole('region').filter({ has: page.getByRole('group', { name: /^Level of / }) });

const seen = (page: Page) => page.getByRole('heading', { name: /\d+ of \d+ seen/ });

test('a whole round is started and walked with the server gone, outlasts the browser, and arrives complete', async ({
  page,
  server,
  context,
}) => {
  await signIn(page);
  const before = observationsOf(server);
  await page.getByText('36 children').waitFor();
  await onDevice(page);
  await server.stop();
  await page.reload();
  await page.getByText('36 children').waitFor();
  await begin(page, 5);
  const stops = Number(/of (\d+) seen/.exec((await seen(page).textContent()) ?? '')?.[1]);
  expect(stops).toBeGreaterThan(5);
  let looks = 0;
  for (let place = 0; place < stops; place += 1) {
    await expect(seen(page)).toHaveText(`${place} of ${stops} seen`);
    looks += await lookAtAll(page);
    await page.getByRole('button', { name: place < stops - 1 ? /^Next: / : 'Done' }).click();
  }
  await page.getByRole('button', { name: 'End the round' }).click();
  await expect(page.getByRole('heading', { name: `${stops} children seen in` })).toBeVisible();
  await expect(page.getByText(/still to be sent/)).toBeVisible();

  // The browser is closed before anything could be sent.
  await page.close();
  const again = await context.newPage();
  await again.goto(`${server.url}/`);
  await again.getByText('36 children').waitFor();
  await again.getByRole('link', { name: 'Round' }).click();
  await expect(again.getByRole('heading', { name: `${stops} children seen in` })).toBeVisible();
  await server.start();
  await settled(server, before + looks);
  await expect(again.getByText(/still to be sent/)).toHaveCount(0);
  const visited = "select count(distinct child_id) from round_event join round_event_child using (program_id, event_id) where kind = 'visited'";
  expect(Number(server.sql(visited))).toBe(stops);
  expect(Number(server.sql('select count(*) from observation where round_id is null'))).toBe(before);
});

test('a visit with two looks takes three taps, with a slip one more, and the taps are one observation each', async ({
  page,
  server,
}) => {
  await signIn(page);
  const before = observationsOf(server);
  await begin(page, 20);
  // Somebody with a slip that can be ticked.
  const slips = page.getByRole('group', { name: /^Slips at / });
  while ((await slips.count()) === 0 || (await page.getByRole('group', { name: /^Level of / }).count()) < 2) {
    const now = await page.getByRole('heading', { level: 2 }).first().textContent();
    await page.getByRole('button', { name: 'Skip' }).click();
    await expect(page.getByRole('heading', { level: 2 }).first()).not.toHaveText(now ?? '');
  }
  const name = (await page.getByRole('heading', { level: 2 }).first().textContent()) ?? '';
  const looks = await lookAtAll(page);
  const slip = slips.first().getByRole('button').first();
  await slip.click();
  await expect(slip).toHaveAttribute('aria-pressed', 'true');
  await page.getByRole('button', { name: 'Tight' }).click();
  await page.getByRole('button', { name: /^Next: / }).click();
  await expect(page.getByRole('heading', { level: 2 }).first()).not.toHaveText(name);
  // What was tapped later replaced the observation: taken back and made anew.
  await settled(server, before + looks + 4);
  const inForce = `select count(*) from observation m where round_id is not null and retracts is null
    and not exists (select from observation r where r.program_id = m.program_id and r.retracts = m.observation_id)`;
  expect(Number(server.sql(inForce))).toBe(looks);
  const told = `select count(*) from observation m where (cardinality(slips) = 1 or says = 'tight')
    and round_id is not null and not exists (select from observation r where r.program_id = m.program_id and r.retracts = m.observation_id)`;
  expect(Number(server.sql(told))).toBeGreaterThan(0);
});

test('two walk at once: each sees what the other recorded, and nobody is visited twice', async ({
  page,
  server,
  browser,
}) => {
  await signIn(page);
  await begin(page, 5);
  const assistant = await another(browser, server, 'assistant@demo.example');
  await assistant.getByText('36 children').waitFor();
  await assistant.getByRole('link', { name: 'Round' }).click();
  await assistant.getByRole('button', { name: 'Together' }).click();
  await assistant.getByRole('button', { name: /^The second half/ }).click();
  await expect(assistant.getByText('2 devices walk this round.')).toBeVisible();
  await assistant.getByRole('button', { name: 'Together' }).click();
  const stops = Number(/of (\d+) seen/.exec((await seen(page).textContent()) ?? '')?.[1]);
  for (const device of [page, assistant]) {
    // What the other one recorded is here.
    await expect(seen(device)).toHaveText((await seen(page).textContent()) ?? '');
    for (;;) {
      const over = device.getByRole('button', { name: 'End the round' });
      const onward = device.getByRole('button', { name: /^Next: |^Done$/ });
      await over.or(onward).waitFor();
      if (await over.isVisible()) break;
      const text = await seen(device).textContent();
      await lookAtAll(device);
      await onward.click();
      await expect(seen(device)).not.toHaveText(text ?? '');
    }
  }
  await expect(seen(page)).toHaveText(`${stops} of ${stops} seen`);
  const times = `select count(*), count(distinct child_id), count(distinct account_id) from round_event
    join round_event_child using (program_id, event_id) where kind = 'visited'`;
  await expect.poll(() => server.sql(times)).toBe(`${stops}|${stops}|2`);
});

test('a session that ran out on the way loses nothing', async ({ page, server }) => {
  await signIn(page);
  const before = observationsOf(server);
  await begin(page, 5);
  // That somebody stands before the first child is on its way by itself: it must not be what finds the session gone.
  await expect.poll(() => server.sql("select count(*) from round_event where kind = 'take'")).toBe('1');
  // The page itself must not notice first: the tap is what finds the session gone.
  const reading = (route: Route) =>
    route.request().method() === 'GET' && !route.request().url().endsWith('/api/session') ? route.abort() : route.continue();
  await page.route('**/api/**', reading);
  server.sql('delete from web_session');
  const still = page.getByRole('button', { name: 'Still there' });
  await still.or(page.getByRole('button', { name: /^3 Alone|^There$/ })).first().click();
  await page.getByText('Your session has ended').waitFor();
  await page.unroute('**/api/**', reading);
  await signIn(page);
  await settled(server, before + 1);
  await page.getByRole('button', { name: /^Next: / }).click();
  await expect(seen(page)).toHaveText(/^1 of/);
});

test('who signs out with observations waiting is asked, and the observations go on their way at the next sign-in', async ({
  page,
  server,
  context,
}) => {
  await signIn(page);
  const before = observationsOf(server);
  await begin(page, 5);
  // The observations cannot leave, but the session can be ended.
  await context.route('**/observations', (route) => route.abort());
  const looks = await lookAtAll(page);
  await page.getByRole('button', { name: 'Sign out' }).click();
  const asked = page.getByRole('dialog', { name: 'Sign out?' });
  await expect(asked).toContainText('not sent yet');
  // Besides the observations, that the round began may still be on its way.
  const entries = Number(/(\d+) entr/.exec((await asked.textContent()) ?? '')?.[1]);
  expect(entries - looks).toBeGreaterThanOrEqual(0);
  await asked.getByRole('button', { name: 'Sign out' }).click();
  await page.getByLabel('Password').waitFor();
  expect(observationsOf(server)).toBe(before);
  // Nothing of the class is left to be seen on the device.
  await expect.poll(() => page.evaluate(() => document.body.textContent)).not.toContain('First-year strings');
  await context.unroute('**/observations');
  await signIn(page);
  await settled(server, before + looks);
});

test('a child who left the class meanwhile is reported, also by the next page, and the others are kept', async ({
  page,
  server,
}) => {
  await signIn(page);
  const before = observationsOf(server);
  await begin(page, 5);
  const name = (await page.getByRole('heading', { level: 2 }).first().textContent()) ?? '';
  await server.stop();
  await lookAtAll(page);
  await page.getByRole('button', { name: /^Next: / }).click();
  await expect(seen(page)).toHaveText(/^1 of/);
  const looks = await lookAtAll(page);
  server.sql(`update child set class_id = (select class_id from class where class_id <> child.class_id limit 1) where name = '${name}'`);
  await server.start();
  await settled(server, before + looks);
  const report = page.getByRole('alert').filter({ hasText: 'Taken back' });
  await expect(report).toContainText(name);
  await page.reload();
  await expect(report).toContainText('not in this class any more');
  await report.getByRole('button', { name: 'Fine' }).click();
  await expect(report).toHaveCount(0);
});

test('a row is looked at from afar: everybody stays as they are but who is tapped, who gets a visit', async ({
  page,
  server,
}) => {
  await signIn(page);
  await begin(page, 5);
  await page.getByRole('button', { name: 'From afar' }).click();
  await page.getByRole('radiogroup', { name: 'What' }).getByRole('radio', { name: 'Seat and stand' }).click();
  await page.getByRole('group', { name: 'Whom' }).getByRole('button', { name: 'Row 3', exact: true }).click();
  const fine = page.getByRole('button', { name: /as before$/ });
  const many = await fine.count();
  expect(many).toBeGreaterThan(2);
  const name = ((await fine.nth(1).textContent()) ?? '').replace('as before', '');
  await fine.nth(1).click();
  await page.getByRole('button', { name: 'All fine but 1 child' }).click();
  const scanned = "select count(*) from observation where via = 'scan' and level = 3 and round_id is not null";
  await expect.poll(() => Number(server.sql(scanned))).toBe(many - 1);
  const raised = `select count(*) from standing s join observation m on m.program_id = s.program_id and m.child_id = s.child_id
    and m.target = s.checkpoint_id where m.via = 'scan' and m.round_id is not null and s.visited_at = m.observed_at`;
  expect(Number(server.sql(raised))).toBe(0);
  await page.getByRole('group', { name: 'Row 3' }).getByRole('button', { name: new RegExp(`^${name}`) }).click();
  await expect(page.getByRole('region', { name: 'Seat and stand' })).toBeVisible();
});

test('behind time the rest is planned anew, and what was done stays', async ({ page }) => {
  await page.clock.install();
  await signIn(page);
  await begin(page, 8);
  const planned = /of (\d+) seen/.exec((await seen(page).textContent()) ?? '')?.[1];
  await lookAtAll(page);
  await page.getByRole('button', { name: /^Next: / }).click();
  await expect(seen(page)).toHaveText(`1 of ${planned} seen`);
  await expect(page.getByRole('button', { name: 'Plan the rest anew' })).toHaveCount(0);
  await page.clock.fastForward('05:00');
  await page.getByRole('button', { name: 'Plan the rest anew' }).click();
  await expect(seen(page)).toHaveText(/^1 of \d+ seen$/);
  await expect(seen(page)).not.toHaveText(`1 of ${planned} seen`);
  await expect(page.getByRole('button', { name: 'Plan the rest anew' })).toHaveCount(0);
});

test('a round is walked with keys alone', async ({ page }) => {
  await signIn(page);
  await page.getByText('36 children').waitFor();
  await page.keyboard.press('r');
  await page.getByRole('button', { name: 'Walk the round' }).press('Enter');
  await atTheFirstChair(page);
  await seen(page).waitFor();
  const many = await checks(page).count();
  for (let place = 0; place < Math.max(1, many); place += 1) await page.keyboard.press('3');
  await page.keyboard.press('Enter');
  await expect(seen(page)).toHaveText(/^1 of/);
});

test('the term ahead follows the minutes, a rhythm that can be kept is taken with one tap, and a day off of the school’s file moves the term', async ({ page, server }) => {
  await signIn(page);
  await page.getByText('36 children').waitFor();
  await page.getByRole('link', { name: 'Round' }).click();
  await page.getByRole('link', { name: 'The term ahead' }).click();
  // A term is played many times: that takes some seconds, and longer beside other journeys.
  const played = { timeout: 60_000 };
  const table = page.getByRole('table', { name: 'When most come to what' });
  await expect(table).toContainText('Hold 3, Raise: begun', played);
  await expect(page.getByText(/^Most begin .+ about \d+ \w+ \(.+\)\.$/)).toBeVisible();
  const before12 = await table.textContent();
  const slider = page.getByRole('slider');
  for (let minute = 0; minute < 4; minute += 1) await slider.press('ArrowLeft');
  await expect(page.getByRole('heading', { name: '8 minutes a meeting' })).toBeVisible();
  await expect(table).not.toHaveText(before12 ?? '', played);
  await expect(page.getByText(/few for this rhythm/)).toBeVisible();
  await page.getByRole('button', { name: 'Take this rhythm' }).click(played);
  await expect.poll(() => Number(server.sql('select max(recheck_alone) from class'))).toBeGreaterThan(4);

  await page.getByRole('link', { name: 'Approach' }).click();
  await page.getByRole('link', { name: 'Calendar', exact: true }).click();
  const count = page.getByText(/meetings in all/);
  const before = Number(/^(\d+)/.exec((await count.textContent()) ?? '')?.[1]);
  const next = server.sql("select to_char(now() + interval '8 weeks', 'YYYYMMDD') || ',' || to_char(now() + interval '10 weeks', 'YYYYMMDD')");
  const [from, to] = next.split(',');
  const file = `BEGIN:VCALENDAR\r\nBEGIN:VEVENT\r\nSUMMARY:Winter break\r\nDTSTART;VALUE=DATE:${from}\r\nDTEND;VALUE=DATE:${to}\r\nEND:VEVENT\r\nEND:VCALENDAR\r\n`;
  await page.locator('input[type=file]').setInputFiles({ name: 'school.ics', mimeType: 'text/calendar', buffer: Buffer.from(file) });
  await expect(page.getByRole('status').filter({ hasText: /found in it/ })).toBeVisible();
  await page.getByRole('button', { name: 'Save the calendar' }).click();
  await expect.poll(async () => Number(/^(\d+)/.exec((await count.textContent()) ?? '')?.[1])).toBeLessThan(before);
  expect(Number(server.sql("select count(*) from day_off where reason = 'Winter break'"))).toBeGreaterThan(0);

  // An address that a calendar subscribes to, without a session, until it is ended.
  const address = page.getByRole('region', { name: 'Calendar address' });
  await address.getByRole('button', { name: 'Make an address' }).click();
  const shown = await address.getByLabel('Shown this once').inputValue();
  const subscribed = await fetch(shown);
  expect(subscribed.status).toBe(200);
  expect(await subscribed.text()).toContain('BEGIN:VCALENDAR');
  await page.reload();
  await expect(address.getByText(/^Made /)).toBeVisible();
  await expect(address.getByLabel('Shown this once')).toHaveCount(0);
  await address.getByRole('button', { name: 'End it' }).click();
  await expect(address.getByRole('button', { name: 'Make an address' })).toBeVisible();
  expect((await fetch(shown)).status).toBe(410);
});

test.describe('on a phone', () => {
  test.use({ viewport: { width: 390, height: 844 } });

  test('a round begins under the thumb, with the plan in one gesture and the rest behind Change', async ({ page }) => {
    await signIn(page);
    await page.getByRole('link', { name: 'Round' }).click();
    const start = page.getByRole('button', { name: 'Walk the round' });
    await expect(start).toBeEnabled();
    const { y, height } = (await start.boundingBox()) ?? { y: 0, height: 0 };
    expect(y).toBeGreaterThan(844 / 2);
    expect(y + height).toBeLessThan(844);
    await expect(page.getByRole('list', { name: 'Stops' }).getByRole('listitem').first()).toBeInViewport();
    await page.getByRole('combobox', { name: 'Whom' }).click();
    await page.getByRole('option', { name: 'Cellos' }).click();
    await page.getByRole('button', { name: 'One minute less' }).click();
    await expect(page.getByText('11 min', { exact: true })).toBeVisible();
    await expect(page.getByRole('radiogroup', { name: 'What' })).toHaveCount(0);
    await page.getByRole('button', { name: 'Change', exact: true }).click();
    await page.getByRole('radiogroup', { name: 'What' }).getByRole('radio', { name: 'Bow grip' }).click();
    await start.click();
    await page.getByRole('timer').waitFor();
    await atTheFirstChair(page);
    await expect(page.getByText('cello,')).toBeVisible();
    expect(await lookAtAll(page)).toBeGreaterThan(0);
    const next = page.getByRole('button', { name: /^Next: / });
    await expect(next).toBeInViewport();
    expect((await next.boundingBox())?.y ?? 0, 'under the thumb').toBeGreaterThan(844 / 2);
    await next.click();
    await expect(seen(page)).toHaveText(/^1 of/);
  });

  test('the bar of places is whole, and the rest is behind More', async ({ page }) => {
    await signIn(page);
    const bar = page.getByRole('navigation', { name: 'Pages' });
    await bar.getByRole('link', { name: 'Lessons' }).waitFor();
    expect(await bar.evaluate((nav) => nav.scrollWidth <= nav.clientWidth)).toBe(true);
    await bar.getByRole('button', { name: 'More' }).click();
    await page.getByRole('menuitem', { name: 'Dark theme' }).click();
    await expect(page.locator('html')).toHaveAttribute('data-theme', 'dark');
    await bar.getByRole('button', { name: 'More' }).click();
    await page.getByRole('menuitem', { name: 'Approach' }).click();
    await expect(page.getByRole('radio', { name: /^Bow first/ })).toBeVisible();
    await bar.getByRole('button', { name: 'More' }).click();
    await page.getByRole('menuitem', { name: 'Sign out' }).click();
    await expect(page.getByRole('button', { name: 'Sign in' })).toBeVisible();
  });
});
