import { cpSync, mkdtempSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { expect, test as base, type BrowserContext, type Page } from '@playwright/test';
import { besideServer, PASSWORD, tokenFor } from '../support/people.ts';
import { startTestServer, type TestServer } from '../support/server.ts';
import { seriousFindings } from './axe.ts';
import { phraseRows } from './fixtures.ts';
import { packSentBack } from './packs.ts';

/** Two people and a guest in three browsers, from the invitation to a pack that went out, came back changed and was merged. */

const test = base.extend<object, { server: TestServer; ownerLink: string }>({
  server: [
    async ({ browserName: _ }, use) => {
      const dataDirectory = mkdtempSync(join(tmpdir(), 'basket-test-'));
      cpSync(process.env.DEMO_LIBRARY!, dataDirectory, { recursive: true });
      const server = await startTestServer({ dataDirectory, environment: { ACCOUNTS: 'on' } });
      await use(server);
      await server.remove();
    },
    { scope: 'worker', timeout: 60_000 },
  ],
  ownerLink: [
    async ({ server }, use) => {
      const library = await besideServer(server);
      const token = await tokenFor(library, 'owner');
      await library.close();
      await use(`${server.address}/join#${token}`);
    },
    { scope: 'worker' },
  ],
});

async function comesIn(context: BrowserContext, link: string, name: string): Promise<Page> {
  const page = await context.newPage();
  await page.goto(link);
  await page.getByLabel('Name').fill(name);
  await page.getByLabel('Choose a password').fill(PASSWORD);
  await page.keyboard.press('Enter');
  await expect(page.getByRole('heading', { name: 'Come in' })).toHaveCount(0);
  return page;
}

async function linkFor(owner: Page, who: string, role: string, basket?: string): Promise<string> {
  await owner.goto('/people');
  await owner.getByLabel('Who is it for').fill(who);
  await owner.getByLabel('As', { exact: true }).selectOption(role);
  if (basket) await owner.getByLabel(basket).check();
  await owner.getByRole('button', { name: 'Make a link' }).click();
  return owner.getByLabel(new RegExp(`Send this to ${who}`)).inputValue();
}

test('an owner lets a member and a guest in; a pack goes out, comes back changed, and is merged by the member', async ({
  browser,
  server,
  ownerLink,
}, info) => {
  test.setTimeout(120_000);
  const room = () => browser.newContext({ baseURL: server.address, viewport: { width: 1280, height: 800 }, acceptDownloads: true }); // prettier-ignore
  const [one, two, three] = await Promise.all([room(), room(), room()]);

  const stranger = await (await room()).newPage();
  await stranger.goto('/library');
  await expect(stranger.getByRole('heading', { name: 'Nobody is here yet' })).toBeVisible();
  const ida = await comesIn(one, ownerLink, 'Ida');
  await expect(ida.getByRole('link', { name: /^Library/ })).toBeVisible();
  await stranger.goto('/library');
  await expect(stranger.getByRole('heading', { name: 'Sign in' })).toBeVisible();
  expect(await seriousFindings(stranger)).toEqual([]);
  await stranger.getByLabel('Name').fill('Ida');
  await stranger.getByLabel('Password', { exact: true }).fill('not the right one');
  await stranger.keyboard.press('Enter');
  await expect(stranger.getByRole('alert')).toContainText('do not belong together');

  const memberLink = await linkFor(ida, 'Jonas', 'member');
  expect(memberLink).toContain('/join#');
  const jonas = await comesIn(two, memberLink, 'Jonas');
  // The list of people follows by itself.
  await expect(ida.getByRole('cell', { name: 'Jonas' })).toBeVisible();
  expect(await seriousFindings(ida)).toEqual([]);

  // Two at one basket: each sees that the other is there, and what they do.
  await ida.goto('/handoff');
  await ida.getByRole('link', { name: /For the copyist/ }).click();
  await expect(ida.getByRole('button', { name: 'Download ZIP' })).toBeVisible();
  await jonas.goto(ida.url());
  await expect(jonas.getByText('Ida is here too')).toBeVisible();
  await expect(ida.getByText('Jonas is here too')).toBeVisible();
  const name = ida.getByRole('textbox', { name: 'Name of the basket' });
  await name.fill('For the copyist, act one');
  await name.press('Enter');
  await expect(jonas.getByRole('textbox', { name: 'Name of the basket' })).toHaveValue('For the copyist, act one'); // prettier-ignore
  await expect(jonas.getByText('Ida changed this. It is shown as it is now.')).toBeVisible();
  await jonas.getByRole('button', { name: 'Who did what' }).click();
  await expect(jonas.getByText('changed how it leaves')).toBeVisible();
  await jonas.keyboard.press('Escape');

  // The guest sees that basket and nothing else.
  const guestLink = await linkFor(ida, 'The copyist', 'guest', 'For the copyist, act one');
  const kaja = await comesIn(three, guestLink, 'Kaja');
  await expect(kaja.getByRole('heading', { name: 'For the copyist, act one' })).toBeVisible();
  await expect(kaja.getByRole('link', { name: /^Library/ })).toHaveCount(0);
  expect(await seriousFindings(kaja)).toEqual([]);
  await kaja.getByRole('button', { name: 'Lamp' }).click();
  expect(await seriousFindings(kaja, 'colors')).toEqual([]);
  await kaja.getByRole('button', { name: 'Hear Goose pedal point' }).click();
  await expect(kaja.getByRole('button', { name: 'Stop Goose pedal point' })).toBeVisible();
  const back = info.outputPath('back.zip');
  await packSentBack(kaja, 'Take it as a pack', /Goose-pedal.*\.mid$/, back);
  await kaja.getByLabel('A pack to be sent back for For the copyist, act one').setInputFiles(back);
  await expect(kaja.getByText(/Sent back\. It waits/)).toBeVisible();

  // The member finds it where packs wait, under her name, and takes what she changed as a child.
  await jonas.goto('/handoff/came-back');
  await expect(jonas.getByText('sent by Kaja')).toBeVisible();
  await jonas.getByRole('link', { name: 'For the copyist, act one' }).click();
  await expect(jonas.getByText('1 changed by them')).toBeVisible();
  await jonas.keyboard.press('Control+s');
  await expect(jonas.getByText('1 phrase taken.')).toBeVisible();

  // Shut out, a guest is out at once; what she did stays on record.
  await ida.goto('/people');
  await ida.getByRole('row', { name: /Kaja/ }).getByRole('button', { name: 'Shut out' }).click();
  await expect(ida.getByText('may not come in')).toBeVisible();
  await kaja.reload();
  await expect(kaja.getByRole('heading', { name: 'Sign in' })).toBeVisible();
  await expect(ida.getByText(/sent a pack back/)).toBeVisible();
});

test('a session that ends closes nothing: one signs in again over the view', async ({ browser, server }) => {
  const library = await besideServer(server);
  const token = await tokenFor(library, 'member');
  await library.close();
  const context = await browser.newContext({
    baseURL: server.address,
    viewport: { width: 1280, height: 800 },
  });
  const page = await comesIn(context, `/join#${token}`, 'Oda');
  await page.goto('/library?text=two-step');
  await expect(phraseRows(page).first()).toBeVisible();
  // The session ends elsewhere.
  await page.request.delete('/api/session', { headers: { origin: server.address } });
  await page.getByRole('searchbox').fill('goose');
  await expect(page.getByRole('dialog', { name: 'Sign in again' })).toBeVisible();
  await page.getByRole('dialog').getByLabel('Password', { exact: true }).fill(PASSWORD);
  await page.keyboard.press('Enter');
  await expect(page.getByRole('dialog')).toHaveCount(0);
  await expect(page.getByRole('searchbox')).toHaveValue('goose');
  // A link that was used opens nothing.
  await page.goto(`/join#${token}`);
  await expect(page.getByText(/was used already/)).toBeVisible();
});
