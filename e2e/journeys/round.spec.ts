import type { Page } from '@playwright/test';
import { another, expect, marksOf, settled, signIn, test } from './app.ts';

/** Everything that opens without network is on the device: the pages, and the last readings of the server. */
async function onDevice(page: Page): Promise<void> {
  await page.evaluate(async () => {
    await navigator.serviceWorker.ready;
  });
  const keptKinds = () =>
    page.evaluate(
      () =>
        new Promise<string[]>((resolve) => {
          const open = indexedDB.open('bright-row');
          open.onsuccess = () => {
            const get = open.result.transaction('readings').objectStore('readings').get('readings');
            get.onsuccess = () => {
              open.result.close();
              const kept = get.result as { value: { state: { queries: { queryKey: string[] }[] } } } | undefined;
              resolve(kept?.value.state.queries.map(({ queryKey }) => queryKey[0] ?? '') ?? []);
            };
          };
        }),
    );
  await expect.poll(keptKinds).toEqual(expect.arrayContaining(['session', 'room', 'round']));
}

async function begin(page: Page, minutes: number): Promise<void> {
  await page.getByRole('link', { name: 'Round' }).click();
  const group = page.getByRole('group', { name: 'Minutes for looking' });
  await group.getByRole('button', { name: String(minutes), exact: true }).click();
  await expect(page.getByText(`${minutes} min`, { exact: true })).toBeVisible();
  const start = page.getByRole('button', { name: 'Walk the round' });
  await expect(start).toBeEnabled();
  await start.click();
  await page.getByRole('timer').waitFor();
}

/** The card of the child that one stands before. */
const checks = (page: Page) => page.getByRole('region').filter({ has: page.getByRole('group', { name: /^Mark / }) });

/** One tap for each thing to look at, whatever kind it is: not the same child until the next one is there. */
async function lookAtAll(page: Page): Promise<number> {
  let taps = 0;
  for (const keys of await page.getByRole('group', { name: /^Mark / }).all()) {
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

const seen = (page: Page) => page.getByRole('heading', { name: /\d+ of \d+ seen/ });

test('a whole round is started and walked with the server gone, outlasts the browser, and arrives complete', async ({
  door,
  server,
  context,
}) => {
  await signIn(door);
  const before = marksOf(server);
  await door.getByText('36 children').waitFor();
  await onDevice(door);
  await server.stop();
  await door.reload();
  await door.getByText('36 children').waitFor();
  await begin(door, 5);
  const stops = Number(/of (\d+) seen/.exec((await seen(door).textContent()) ?? '')?.[1]);
  expect(stops).toBeGreaterThan(5);
  let looks = 0;
  for (let place = 0; place < stops; place += 1) {
    await expect(seen(door)).toHaveText(`${place} of ${stops} seen`);
    looks += await lookAtAll(door);
    await door.getByRole('button', { name: place < stops - 1 ? /^Next: / : 'Done' }).click();
  }
  await door.getByRole('button', { name: 'End the round' }).click();
  await expect(door.getByRole('heading', { name: `${stops} children seen in` })).toBeVisible();
  await expect(door.getByText(/still to be sent/)).toBeVisible();

  // The browser is closed before anything could be sent.
  await door.close();
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
  expect(Number(server.sql('select count(*) from mark where round_id is null'))).toBe(before);
});

test('a visit with two looks takes three taps, with a slip one more, and the taps are one mark each', async ({
  door,
  server,
}) => {
  await signIn(door);
  const before = marksOf(server);
  await begin(door, 20);
  // Somebody with a slip that can be ticked.
  const slips = door.getByRole('group', { name: /^Slips at / });
  while ((await slips.count()) === 0 || (await door.getByRole('group', { name: /^Mark / }).count()) < 2) {
    const now = await door.getByRole('heading', { level: 2 }).first().textContent();
    await door.getByRole('button', { name: 'Skip' }).click();
    await expect(door.getByRole('heading', { level: 2 }).first()).not.toHaveText(now ?? '');
  }
  const name = (await door.getByRole('heading', { level: 2 }).first().textContent()) ?? '';
  const looks = await lookAtAll(door);
  const slip = slips.first().getByRole('button').first();
  await slip.click();
  await expect(slip).toHaveAttribute('aria-pressed', 'true');
  await door.getByRole('button', { name: 'Tight' }).click();
  await door.getByRole('button', { name: /^Next: / }).click();
  await expect(door.getByRole('heading', { level: 2 }).first()).not.toHaveText(name);
  // What was tapped later replaced the mark: taken back and made anew.
  await settled(server, before + looks + 4);
  const inForce = `select count(*) from mark m where round_id is not null and retracts is null
    and not exists (select from mark r where r.program_id = m.program_id and r.retracts = m.mark_id)`;
  expect(Number(server.sql(inForce))).toBe(looks);
  const told = `select count(*) from mark m where (cardinality(slips) = 1 or says = 'tight')
    and round_id is not null and not exists (select from mark r where r.program_id = m.program_id and r.retracts = m.mark_id)`;
  expect(Number(server.sql(told))).toBeGreaterThan(0);
});

test('two walk at once: each sees what the other marked, and nobody is visited twice', async ({
  door,
  server,
  browser,
}) => {
  await signIn(door);
  await begin(door, 5);
  const assistant = await another(browser, server, 'assistant@demo.example');
  await assistant.getByText('36 children').waitFor();
  await assistant.getByRole('link', { name: 'Round' }).click();
  await assistant.getByRole('button', { name: 'Together' }).click();
  await assistant.getByRole('button', { name: /^The second half/ }).click();
  await expect(assistant.getByText('2 devices walk this round.')).toBeVisible();
  await assistant.getByRole('button', { name: 'Together' }).click();
  const stops = Number(/of (\d+) seen/.exec((await seen(door).textContent()) ?? '')?.[1]);
  for (const page of [door, assistant]) {
    for (;;) {
      const over = page.getByRole('button', { name: 'End the round' });
      const onward = page.getByRole('button', { name: /^Next: |^Done$/ });
      await over.or(onward).waitFor();
      if (await over.isVisible()) break;
      const text = await seen(page).textContent();
      await lookAtAll(page);
      await onward.click();
      await expect(seen(page)).not.toHaveText(text ?? '');
    }
  }
  await expect(seen(door)).toHaveText(`${stops} of ${stops} seen`);
  const times = `select count(*), count(distinct child_id), count(distinct account_id) from round_event
    join round_event_child using (program_id, event_id) where kind = 'visited'`;
  await expect.poll(() => server.sql(times)).toBe(`${stops}|${stops}|2`);
});

test('a session that ran out on the way loses nothing', async ({ door, server }) => {
  await signIn(door);
  const before = marksOf(server);
  await begin(door, 5);
  server.sql('delete from web_session');
  const still = door.getByRole('button', { name: 'Still there' });
  await still.or(door.getByRole('button', { name: /^3 Alone|^There$/ })).first().click();
  await door.getByText('Your session has ended').waitFor();
  await signIn(door);
  await settled(server, before + 1);
  await door.getByRole('button', { name: /^Next: / }).click();
  await expect(seen(door)).toHaveText(/^1 of/);
});

test('who signs out with marks waiting is asked, and the marks go on their way at the next sign-in', async ({
  door,
  server,
  context,
}) => {
  await signIn(door);
  const before = marksOf(server);
  await begin(door, 5);
  // The marks cannot leave, but the session can be ended.
  await context.route('**/marks', (route) => route.abort());
  const looks = await lookAtAll(door);
  const asked: string[] = [];
  door.on('dialog', (dialog) => {
    asked.push(dialog.message());
    void dialog.accept();
  });
  await door.getByRole('button', { name: 'Sign out' }).click();
  await door.getByLabel('Password').waitFor();
  expect(asked.join()).toContain(`${looks} mark`);
  expect(marksOf(server)).toBe(before);
  // Nothing of the class is left to be seen on the device.
  await expect.poll(() => door.evaluate(() => document.body.textContent)).not.toContain('First-year strings');
  await context.unroute('**/marks');
  await signIn(door);
  await settled(server, before + looks);
});

test('a child who left the class meanwhile is reported, also by the next page, and the others are kept', async ({
  door,
  server,
}) => {
  await signIn(door);
  const before = marksOf(server);
  await begin(door, 5);
  const name = (await door.getByRole('heading', { level: 2 }).first().textContent()) ?? '';
  await server.stop();
  await lookAtAll(door);
  await door.getByRole('button', { name: /^Next: / }).click();
  await expect(seen(door)).toHaveText(/^1 of/);
  const looks = await lookAtAll(door);
  server.sql(`update child set class_id = (select class_id from class where class_id <> child.class_id limit 1) where name = '${name}'`);
  await server.start();
  await settled(server, before + looks);
  const report = door.getByRole('alert').filter({ hasText: 'Taken back' });
  await expect(report).toContainText(name);
  await door.reload();
  await expect(report).toContainText('not in this class any more');
  await report.getByRole('button', { name: 'Fine' }).click();
  await expect(report).toHaveCount(0);
});

test('a row is looked at from afar: everybody stays as they are but who is tapped, who gets a visit', async ({
  door,
  server,
}) => {
  await signIn(door);
  await begin(door, 5);
  await door.getByRole('button', { name: 'From afar' }).click();
  await door.getByRole('group', { name: 'What' }).getByRole('button', { name: 'Seat and stand' }).click();
  await door.getByRole('group', { name: 'Whom' }).getByRole('button', { name: 'Row 1', exact: true }).click();
  const fine = door.getByRole('button', { name: /as before$/ });
  const many = await fine.count();
  expect(many).toBeGreaterThan(2);
  const name = ((await fine.nth(1).textContent()) ?? '').replace('as before', '');
  await fine.nth(1).click();
  await door.getByRole('button', { name: 'All fine but 1 child' }).click();
  const scanned = "select count(*) from mark where via = 'scan' and level = 3 and round_id is not null";
  await expect.poll(() => Number(server.sql(scanned))).toBe(many - 1);
  const raised = `select count(*) from standing s join mark m on m.program_id = s.program_id and m.child_id = s.child_id
    and m.target = s.checkpoint_id where m.via = 'scan' and m.round_id is not null and s.visited_at = m.observed_at`;
  expect(Number(server.sql(raised))).toBe(0);
  await door.getByRole('group', { name: 'Row 1' }).getByRole('button', { name: new RegExp(`^${name}`) }).click();
  await expect(door.getByRole('region', { name: 'Seat and stand' })).toBeVisible();
});

test('behind time the rest is planned anew, and what was done stays', async ({ door }) => {
  await door.clock.install();
  await signIn(door);
  await begin(door, 8);
  const planned = /of (\d+) seen/.exec((await seen(door).textContent()) ?? '')?.[1];
  await lookAtAll(door);
  await door.getByRole('button', { name: /^Next: / }).click();
  await expect(seen(door)).toHaveText(`1 of ${planned} seen`);
  await expect(door.getByRole('button', { name: 'Plan the rest anew' })).toHaveCount(0);
  await door.clock.fastForward('05:00');
  await door.getByRole('button', { name: 'Plan the rest anew' }).click();
  await expect(seen(door)).toHaveText(/^1 of \d+ seen$/);
  await expect(seen(door)).not.toHaveText(`1 of ${planned} seen`);
  await expect(door.getByRole('button', { name: 'Plan the rest anew' })).toHaveCount(0);
});

test('a round is walked with keys alone', async ({ door }) => {
  await signIn(door);
  await door.getByText('36 children').waitFor();
  await door.keyboard.press('r');
  await door.getByRole('button', { name: 'Walk the round' }).press('Enter');
  await seen(door).waitFor();
  const many = await checks(door).count();
  for (let place = 0; place < Math.max(1, many); place += 1) await door.keyboard.press('3');
  await door.keyboard.press('Enter');
  await expect(seen(door)).toHaveText(/^1 of/);
});

test('the term ahead follows the minutes, and a day off of the school’s file moves it', async ({ door, server }) => {
  await signIn(door);
  await door.getByText('36 children').waitFor();
  await door.getByRole('link', { name: 'Round' }).click();
  await door.getByRole('link', { name: 'The term ahead' }).click();
  const picture = door.getByRole('img', { name: /^Overdue looks/ });
  const told = await picture.getAttribute('aria-label');
  const slider = door.getByRole('slider');
  for (let minute = 0; minute < 5; minute += 1) await slider.press('ArrowRight');
  await expect(door.getByRole('heading', { name: '17 minutes a meeting' })).toBeVisible();
  await expect(picture).not.toHaveAttribute('aria-label', told ?? '');

  await door.getByRole('link', { name: 'Approach' }).click();
  await door.getByRole('link', { name: 'Calendar', exact: true }).click();
  const count = door.getByText(/meetings in all/);
  const before = Number(/^(\d+)/.exec((await count.textContent()) ?? '')?.[1]);
  const next = server.sql("select to_char(now() + interval '8 weeks', 'YYYYMMDD') || ',' || to_char(now() + interval '10 weeks', 'YYYYMMDD')");
  const [from, to] = next.split(',');
  const file = `BEGIN:VCALENDAR\r\nBEGIN:VEVENT\r\nSUMMARY:Winter break\r\nDTSTART;VALUE=DATE:${from}\r\nDTEND;VALUE=DATE:${to}\r\nEND:VEVENT\r\nEND:VCALENDAR\r\n`;
  await door.locator('input[type=file]').setInputFiles({ name: 'school.ics', mimeType: 'text/calendar', buffer: Buffer.from(file) });
  await expect(door.getByRole('status').filter({ hasText: /found in it/ })).toBeVisible();
  await door.getByRole('button', { name: 'Keep the calendar' }).click();
  await expect.poll(async () => Number(/^(\d+)/.exec((await count.textContent()) ?? '')?.[1])).toBeLessThan(before);
  expect(Number(server.sql("select count(*) from day_off where reason = 'Winter break'"))).toBeGreaterThan(0);
});
