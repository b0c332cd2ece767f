import type { BrowserContext, Page } from '@playwright/test';
import type { Server } from '../server.ts';
import { EMPTY } from '../server.ts';
import { another, atTheFirstChair, expect, keysOf, lookAtAll, openChild, seat, signIn, test } from './app.ts';

const TABLET = { width: 1024, height: 768 };

/** Every text that this browser keeps of the application, in stores and caches. */
async function keptHere(page: Page): Promise<string> {
  return page.evaluate(async () => {
    const open = indexedDB.open('bright-row');
    const db = await new Promise<IDBDatabase>((resolve, reject) => {
      open.onsuccess = () => resolve(open.result);
      open.onerror = () => reject(new Error('no store'));
    });
    const all = (name: string) =>
      new Promise<unknown>((resolve) => {
        const asked = db.transaction(name).objectStore(name).getAll();
        asked.onsuccess = () => resolve(asked.result);
      });
    const stores = await Promise.all(Array.from(db.objectStoreNames).map(all));
    db.close();
    return JSON.stringify([stores, Object.entries(localStorage), Object.entries(sessionStorage)]);
  });
}

/** A second school on the same server, whose owner has the demo's password. */
function secondSchool(server: Server): void {
  server.sql(`
    with p as (insert into program (program_id, name) values (gen_random_uuid(), 'Other strings') returning program_id),
         a as (insert into account (account_id, email, display_name, password_hash, demo)
               select gen_random_uuid(), 'other@two.example', 'The other', password_hash, false from account
               where email = 'director@demo.example' returning account_id)
    insert into membership (program_id, account_id, role) select program_id, account_id, 'owner' from p, a`);
}

/** The address in a code or link that the owner shows. */
async function shownLink(page: Page): Promise<string> {
  const link = page.getByRole('textbox', { name: 'The link' });
  await expect(page.getByRole('img', { name: 'The link as a code for a camera' })).toBeVisible();
  return link.inputValue();
}

async function toPeople(page: Page): Promise<void> {
  await page.getByRole('link', { name: 'School' }).click();
  await page.getByRole('link', { name: 'People' }).click();
}

async function aTablet(context: BrowserContext): Promise<{ context: BrowserContext; page: Page }> {
  const fresh = await context.browser()?.newContext({ viewport: TABLET });
  if (!fresh) throw new Error('no browser');
  return { context: fresh, page: await fresh.newPage() };
}

test('a substitute’s morning: a code opens the class on a tablet, and nothing of it stays', async ({ page, context, server }) => {
  await signIn(page);
  await toPeople(page);
  await page.getByRole('button', { name: 'Let a substitute in' }).click();
  await page.getByLabel(/The substitute’s name/).fill('Ms Quill');
  await page.getByRole('button', { name: 'First-year strings' }).click();
  await page.getByRole('button', { name: 'Show the code' }).click();
  const link = await shownLink(page);

  const tablet = await aTablet(context);
  await tablet.page.goto(link);
  await expect(tablet.page.getByText('lets you into First-year strings until')).toBeVisible();
  await tablet.page.getByRole('button', { name: 'Open the class' }).click();
  // The next lesson and its cautions come first.
  await expect(tablet.page.getByText('Pins are sharp')).toBeVisible();
  for (const closed of ['Set-up', 'Approach', 'School', 'Account'])
    await expect(tablet.page.getByRole('link', { name: closed })).toHaveCount(0);
  await tablet.page.getByRole('link', { name: 'Room' }).click();
  await seat(tablet.page, 'Soren L.').waitFor();

  // A round without network.
  await tablet.page.getByRole('link', { name: 'Round' }).click();
  await expect(tablet.page.getByRole('button', { name: 'Walk the round' })).toBeEnabled();
  await tablet.context.setOffline(true);
  const before = Number(server.sql('select count(*) from observation'));
  await tablet.page.getByRole('button', { name: 'Walk the round' }).click();
  await tablet.page.getByRole('timer').waitFor();
  await atTheFirstChair(tablet.page);
  const looked = await lookAtAll(tablet.page);
  expect(looked).toBeGreaterThan(0);
  await tablet.context.setOffline(false);
  await expect.poll(() => Number(server.sql('select count(*) from observation'))).toBe(before + looked);

  // Its time is over: the page closes by itself, and a reload shows nothing.
  server.sql("update membership set until = now() - interval '1 second' where role = 'substitute'");
  await tablet.page.reload();
  await expect(tablet.page.getByLabel('E-mail')).toBeVisible();
  await expect(tablet.page.getByText('Soren')).toHaveCount(0);
  expect(await keptHere(tablet.page)).not.toContain('Soren');
  const names = server.sql(`select string_agg(distinct a.display_name, ',') from observation o
    join account a on a.account_id = o.observer where o.recorded_at > now() - interval '10 minutes'`);
  expect(names).toBe('Ms Quill');
  await tablet.context.close();
});

test('what a substitute saw without network arrives after its time, and is shown to nobody meanwhile', async ({ page, context, server }) => {
  await signIn(page);
  await toPeople(page);
  await page.getByRole('button', { name: 'Let a substitute in' }).click();
  await page.getByLabel(/The substitute’s name/).fill('Mr Vane');
  await page.getByRole('button', { name: 'First-year strings' }).click();
  await page.getByRole('button', { name: 'Show the code' }).click();
  const tablet = await aTablet(context);
  await tablet.page.goto(await shownLink(page));
  await tablet.page.getByRole('button', { name: 'Open the class' }).click();
  await tablet.page.getByRole('link', { name: 'Room' }).click();
  const panel = await openChild(tablet.page, 'Soren L.');
  await tablet.context.setOffline(true);
  const before = Number(server.sql('select count(*) from observation'));
  await (await keysOf(panel, 'Hold', 'Fit', 'Size fits')).getByRole('button', { name: '2, Prompted' }).click();
  await expect(tablet.page.getByText(/1 observation kept on this device/)).toBeVisible();
  expect(await keptHere(tablet.page)).toContain('hold.size');
  server.sql("update membership set until = now() where role = 'substitute'");
  await tablet.context.setOffline(false);
  await tablet.page.reload();
  await expect(tablet.page.getByLabel('E-mail')).toBeVisible();
  await expect.poll(() => Number(server.sql('select count(*) from observation'))).toBe(before + 1);
  await expect.poll(() => keptHere(tablet.page)).not.toContain('hold.size');
  await tablet.context.close();
});

test('a colleague comes in by a link and has the class that was given', async ({ page, context }) => {
  await signIn(page);
  await toPeople(page);
  await page.getByRole('button', { name: 'Invite a colleague' }).click();
  await page.getByLabel(/Who it is for/).fill('Mr Brook');
  await page.getByRole('button', { name: 'First-year strings' }).click();
  await page.getByRole('button', { name: 'Make the link' }).click();
  const link = await shownLink(page);
  await page.getByRole('button', { name: 'Done' }).click();
  await expect(page.getByText(/Mr Brook: director, First-year strings/)).toBeVisible();
  const other = await aTablet(context);
  await other.page.goto(link);
  await other.page.getByLabel('Your name').fill('Mr Brook');
  await other.page.getByLabel('E-mail').fill('brook@demo.example');
  await other.page.getByLabel('Password').fill('password1234');
  await other.page.getByRole('button', { name: 'Make my account' }).click();
  await expect(other.page.getByText('This one is soon guessed')).toBeVisible();
  await other.page.getByLabel('Password').fill('copper lantern walks home');
  await other.page.getByRole('button', { name: 'Make my account' }).click();
  await seat(other.page, 'Soren L.').waitFor();
  await other.page.goto(link);
  await expect(other.page.getByText('This link was used')).toBeVisible();
  await other.context.close();
});

test('signing out a moment after a reading leaves nothing to read', async ({ page }) => {
  await signIn(page);
  const read = page.waitForResponse((answer) => answer.url().endsWith('/room') && answer.ok());
  await read;
  await seat(page, 'Soren L.').waitFor();
  await page.getByRole('button', { name: 'Sign out' }).click();
  await expect(page.getByLabel('E-mail')).toBeVisible();
  expect(await keptHere(page)).not.toContain('Soren');
  await page.reload();
  await expect(page.getByLabel('E-mail')).toBeVisible();
  await expect(page.getByText('36 children')).toHaveCount(0);
});

test('a session that ended on the server shows nothing after a reload, with and without network', async ({ page, context, server }) => {
  await signIn(page);
  await seat(page, 'Soren L.').waitFor();
  await expect.poll(() => keptHere(page)).toContain('Soren');
  await page.evaluate(async () => {
    await navigator.serviceWorker.ready;
  });
  server.sql('delete from web_session');
  await page.reload();
  await expect(page.getByLabel('E-mail')).toBeVisible();
  await expect(page.getByText('36 children')).toHaveCount(0);
  expect(await keptHere(page)).not.toContain('Soren');
  await context.setOffline(true);
  await page.reload();
  await expect(page.getByText('36 children')).toHaveCount(0);
  await context.setOffline(false);
});

test('somebody of another school at the same door sees nothing of the first', async ({ page, server }) => {
  secondSchool(server);
  await signIn(page);
  await openChild(page, 'Soren L.');
  await expect.poll(() => keptHere(page)).toContain('Soren');
  server.sql('delete from web_session');
  // The page that is open finds out by itself and goes out of sight.
  await page.getByRole('group', { name: /^Level of/ }).first().getByRole('button').last().click();
  await expect(page.getByRole('main', { name: 'Sign in again' })).toBeVisible();
  await expect(page.getByRole('heading', { name: 'Soren L.' })).toBeHidden();
  await signIn(page, 'other@two.example');
  await expect(page.getByText('Your first class')).toBeVisible();
  await expect(page.getByText('Soren')).toHaveCount(0);
  const kept = await keptHere(page);
  expect(kept).not.toContain('Soren');
  // What waits is kept for whoever made it, by ids, and goes on its way when they are back.
  expect(kept).toMatch(/observations.*"level"/);
  const before = Number(server.sql('select count(*) from observation'));
  await page.getByRole('button', { name: 'Sign out' }).click();
  await signIn(page);
  await expect.poll(() => Number(server.sql('select count(*) from observation'))).toBe(before + 1);
});

test('signing out in one page closes the others of the same browser', async ({ page, context }) => {
  await signIn(page);
  await seat(page, 'Soren L.').waitFor();
  const second = await context.newPage();
  await second.goto(page.url());
  await seat(second, 'Soren L.').waitFor();
  await page.getByRole('button', { name: 'Sign out' }).click();
  await expect(second.getByRole('main', { name: 'Sign in again' })).toBeVisible();
  await expect(second.getByText('36 children')).toBeHidden();
});

test.describe('an account of one’s own', () => {
  test.use({ template: EMPTY });

  test('a change of password closes the other device while it is open', async ({ page, context, server }) => {
    await page.getByLabel('School or program').fill('Hill Street strings');
    await page.getByLabel('Your name').fill('Mr Okonedo');
    await page.getByLabel('E-mail').fill('okonedo@hill.example');
    await page.getByLabel('Password').fill('four words and a bow');
    await page.getByRole('button', { name: 'Begin' }).click();
    await page.getByLabel('Name of the class').fill('Morning strings');
    await page.getByRole('button', { name: 'Mon' }).click();
    await page.getByRole('button', { name: 'Add the class' }).click();
    await expect(page.getByText('No chair is taken yet')).toBeVisible();
    const other = await aTablet(context);
    await other.page.goto(server.url);
    await other.page.getByLabel('E-mail').fill('okonedo@hill.example');
    await other.page.getByLabel('Password').fill('four words and a bow');
    await other.page.getByRole('button', { name: 'Sign in' }).click();
    await expect(other.page.getByText('No chair is taken yet')).toBeVisible();

    await page.getByRole('link', { name: 'Account' }).click();
    await expect(page.getByText('Sign out all others')).toBeVisible();
    await page.getByLabel('Present password').fill('four words and a bow');
    await page.getByLabel(/^New password/).fill('copper lantern walks home');
    await page.getByRole('button', { name: 'Change the password' }).click();
    await expect(page.getByText('Sign out all others')).toHaveCount(0);
    await expect(other.page.getByRole('main', { name: 'Sign in again' })).toBeVisible();
    await other.context.close();
  });

  test('a passkey stands in for the code, and recovery codes for the day it is lost', async ({ page, context, server }) => {
    // Browsers make passkeys for names only.
    await page.goto(server.url.replace('127.0.0.1', 'localhost'));
    const device = await context.newCDPSession(page);
    await device.send('WebAuthn.enable');
    await device.send('WebAuthn.addVirtualAuthenticator', {
      options: {
        protocol: 'ctap2',
        transport: 'internal',
        hasResidentKey: true,
        hasUserVerification: true,
        isUserVerified: true,
        automaticPresenceSimulation: true,
      },
    });
    await page.getByLabel('School or program').fill('Hill Street strings');
    await page.getByLabel('Your name').fill('Mr Okonedo');
    await page.getByLabel('E-mail').fill('okonedo@hill.example');
    await page.getByLabel('Password').fill('four words and a bow');
    await page.getByRole('button', { name: 'Begin' }).click();
    await page.getByRole('link', { name: 'Account' }).click();
    const passkeys = page.getByLabel('Passkeys', { exact: true });
    await passkeys.getByRole('button', { name: 'Add one' }).click();
    await passkeys.getByLabel(/^What you call it/).fill('Phone');
    await passkeys.getByLabel('Present password').fill('four words and a bow');
    await passkeys.getByRole('button', { name: 'Make it' }).click();
    await expect(passkeys.getByRole('listitem')).toHaveCount(8);
    const recovery = (await passkeys.getByRole('listitem').first().textContent()) ?? '';
    await passkeys.getByRole('button', { name: 'I have them' }).click();
    await expect(passkeys.getByText('Phone')).toBeVisible();

    const signOut = () => page.getByRole('button', { name: 'Sign out' }).click();
    const half = async () => {
      await page.getByRole('button', { name: 'Sign in' }).waitFor();
      await page.getByLabel('E-mail').fill('okonedo@hill.example');
      await page.getByLabel('Password').fill('four words and a bow');
      await page.getByRole('button', { name: 'Sign in' }).click();
      await expect(page.getByLabel('Code of your second device')).toBeVisible();
    };
    await signOut();
    await half();
    await page.getByRole('button', { name: 'Use a passkey' }).click();
    await page.getByRole('link', { name: 'Account' }).click();
    await expect(passkeys.getByText(/used/)).toBeVisible();
    await signOut();
    await half();
    await page.getByLabel('Code of your second device').fill(recovery);
    await page.getByRole('button', { name: 'Sign in' }).click();
    await page.getByRole('link', { name: 'Account' }).click();
    await passkeys.getByRole('button', { name: 'Remove' }).click();
    await passkeys.getByLabel('Present password').fill('four words and a bow');
    await passkeys.getByRole('button', { name: 'Remove it' }).click();
    await expect(passkeys.getByText('Phone')).toHaveCount(0);
    expect(server.sql('select count(*) from recovery_code')).toBe('0');
  });
});

test('a class that is taken from somebody goes out of sight at once', async ({ page, browser, server }) => {
  await signIn(page);
  await seat(page, 'Soren L.').waitFor();
  const theirs = await another(browser, server, 'assistant@demo.example');
  await seat(theirs, 'Soren L.').waitFor();
  const [program, account] = server
    .sql("select program_id, account_id from membership where role = 'assistant'")
    .split('|');
  const taken = await page.request.put(`${server.url}/api/programs/${String(program)}/people/${String(account)}`, {
    data: { role: 'assistant', classes: [] },
  });
  expect(taken.status()).toBe(204);
  await expect(seat(theirs, 'Soren L.')).toHaveCount(0);
  await expect(theirs.getByText(/Soren/)).toHaveCount(0);
  expect(await keptHere(theirs)).not.toContain('Soren');
  await theirs.context().close();
});

test('what is kept of a child and of the program leaves as files', async ({ page, server }) => {
  await signIn(page);
  const panel = await openChild(page, 'Soren L.');
  await panel.getByRole('link', { name: /page/ }).click();
  const [pdf] = await Promise.all([page.waitForEvent('download'), page.getByRole('link', { name: 'To print (PDF)' }).click()]);
  expect(pdf.suggestedFilename()).toBe('child-record.pdf');
  await page.getByRole('link', { name: 'School' }).click();
  await page.getByRole('link', { name: 'Keeping' }).click();
  const [zip] = await Promise.all([
    page.waitForEvent('download'),
    page.getByRole('link', { name: 'Save the archive (zip)' }).click(),
  ]);
  expect(zip.suggestedFilename()).toBe('program-archive.zip');
  await page.getByRole('link', { name: 'Audit' }).click();
  await expect(page.getByText(/archive|record/i).first()).toBeVisible();
  expect(server.sql("select count(*) from audit where deed in ('child-taken-out', 'program-taken-out')")).toBe('2');
});
