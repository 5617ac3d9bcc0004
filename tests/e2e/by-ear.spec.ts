import { test as base, type Page } from '@playwright/test';
import { openLibrary } from '../../src/server/db/client.ts';
import { multiplyDemo } from '../support/multiplied.ts';
import { databaseFor, startTestServer } from '../support/server.ts';
import { demoCopy, expect, phraseRows } from './fixtures.ts';

/** What somebody owns far more of than they remember. */
const PHRASES = 50_000;

const test = base.extend<object, { address: string }>({
  address: [
    async ({ browserName: _ }, use) => {
      const dataDirectory = demoCopy();
      const { DATABASE_URL: databaseUrl } = await databaseFor(dataDirectory);
      const library = await openLibrary({ dataDirectory, databaseUrl });
      await multiplyDemo(library, PHRASES).finally(() => library.close());
      const server = await startTestServer({ dataDirectory });
      await use(server.address);
      await server.remove();
    },
    { scope: 'worker', timeout: 300_000 },
  ],
  baseURL: async ({ address }, use) => use(address),
});

test(`six phrases that fit under a pinned groove are found by ear among ${PHRASES.toLocaleString('en')}, by keyboard, within two minutes`, async ({
  page,
}) => {
  test.setTimeout(180_000);
  await page.goto('/library?role=drums&text=market');
  const rows = phraseRows(page);
  await expect(rows.first()).toContainText('Drums', { timeout: 30_000 });
  const before = await inBaskets(page);
  const began = Date.now();
  const doAction = async (words: string) => {
    await page.keyboard.press('ControlOrMeta+k');
    await page.keyboard.type(words);
    await expect(
      page.getByRole('option', { selected: true }).filter({ hasText: new RegExp(words, 'i') }),
    ).toBeVisible();
    await page.keyboard.press('Enter');
    await expect(page.getByRole('dialog')).toBeHidden();
  };
  await page.keyboard.press('Home');
  await page.keyboard.press('p');
  await expect(page.getByRole('region', { name: 'Pins' })).toContainText('Goes on playing');
  await doAction('show all');
  await expect(page).not.toHaveURL(/role=/);
  await doAction('order by fit');
  await expect(page).toHaveURL(/sort=fit/);
  await expect(page.getByRole('dialog')).toBeHidden();
  await page.keyboard.press('/');
  await expect(page.getByRole('searchbox', { name: 'Search' })).toBeFocused();
  const answered = page.waitForResponse((answer) => /\/api\/phrases\?.*text=keys(&|$)/.test(answer.url()));
  await page.keyboard.type('keys');
  await page.keyboard.press('Enter');
  await expect(page).toHaveURL(/sort=fit.*text=keys|text=keys.*sort=fit/);
  // What is gone through is what was found, not the list before it.
  await (await answered).finished();
  await page.waitForTimeout(500);
  await page.keyboard.press('Home');
  await page.keyboard.press(' ');
  for (let k = 0; k < 6; k++) {
    if (k > 0) await page.keyboard.press('ArrowDown');
    await expect(rows.nth(k)).toHaveAttribute('data-sounding', 'true', { timeout: 15_000 });
    const [, fit] = /\d\/\d(\d+)/.exec((await rows.nth(k).textContent()) ?? '') ?? [];
    expect(Number(fit)).toBeGreaterThanOrEqual(80);
    await page.keyboard.press('b');
  }
  await expect.poll(() => inBaskets(page)).toBe(before + 6);
  const seconds = (Date.now() - began) / 1000;
  expect(seconds).toBeLessThan(120);
});

/** Phrases that lie in baskets. */
async function inBaskets(page: Page): Promise<number> {
  const { baskets } = (await (await page.request.get('/api/baskets')).json()) as {
    baskets: { phrases: number }[];
  };
  return baskets.reduce((sum, { phrases }) => sum + phrases, 0);
}
