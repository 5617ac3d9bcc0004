import { test as base } from '@playwright/test';
import { startTestServer } from '../support/server.ts';
import { tune } from '../support/midi.ts';
import { expect, phraseRows } from './fixtures.ts';

/** A library of one's own, empty at first: the ways in, and the first phrase. */
const test = base.extend<object, { address: string }>({
  address: [
    async ({ browserName: _ }, use) => {
      const server = await startTestServer();
      await use(server.address);
      await server.remove();
    },
    { scope: 'worker', timeout: 60_000 },
  ],
  baseURL: async ({ address }, use) => use(address),
});

test('the first screen says the ways in, and where the library lies; each way leads where it says', async ({
  page,
}) => {
  await page.goto('/');
  await expect(page.getByRole('heading', { name: 'Nothing is kept yet' })).toBeVisible();
  await expect(page.locator('main')).toContainText(/Your library lies in .*basket-test-/);
  await expect(page.getByText('demo library')).toHaveCount(0);
  await expect(page.getByRole('button', { name: /Look at the demo/ })).toBeEnabled();

  await page.getByRole('link', { name: /Record a device/ }).click();
  await expect(page.getByRole('region', { name: 'Recording' })).toBeVisible();
  await page.goBack();
  await page.getByRole('link', { name: /Try a stand-in/ }).click();
  await expect(page.getByRole('region', { name: 'Band' })).toBeVisible();
  await page.goBack();
  await page.getByRole('link', { name: /Take in MIDI files/ }).click();
  await expect(page).toHaveURL(/\/capture$/);
});

test('every view of an empty library says what to do, and nothing fails', async ({ page }) => {
  const problems: string[] = [];
  page.on('pageerror', (error) => problems.push(error.message));
  page.on('console', (message) => message.type() === 'error' && problems.push(message.text()));
  for (const view of [
    '/capture',
    '/split',
    '/normalize',
    '/library',
    '/library/harmony',
    '/library/twice',
    '/handoff',
    '/house',
  ]) {
    await page.goto(view);
    await expect(page.locator('main h1, main h2').first()).toBeVisible();
  }
  expect(problems).toEqual([]);
});

test('from dropped files to a kept phrase, in the library itself', async ({ page }) => {
  await page.goto('/');
  await page.getByRole('heading', { name: 'Nothing is kept yet' }).waitFor();
  const data = await page.evaluateHandle(
    (bytes) => {
      const transfer = new DataTransfer();
      transfer.items.add(new File([new Uint8Array(bytes)], 'Low walk.mid'));
      return transfer;
    },
    [...tune(21)],
  );
  await page.locator('main').dispatchEvent('drop', { dataTransfer: data });
  await expect(page.getByText(/^1 take waits:/)).toBeVisible();
  await page.getByRole('link', { name: 'Go to your takes' }).click();
  await page
    .getByRole('link', { name: /Low walk/ })
    .first()
    .click();
  await page.getByRole('list', { name: 'Parts' }).getByRole('listitem').first().waitFor();
  await page.keyboard.press('ArrowDown');
  await page.keyboard.press('ArrowRight');
  await page.keyboard.press('Enter');
  await page.getByRole('region', { name: 'Recipe' }).waitFor();
  await page.getByRole('button', { name: 'Keep in library' }).click();
  await expect(page.getByRole('link', { name: /^Library 1$/ })).toBeVisible();
  await page.keyboard.press('Alt+4');
  await expect(phraseRows(page)).toHaveCount(1);
});
