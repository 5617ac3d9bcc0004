import { cpSync, mkdtempSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { test as base, expect, type Page } from '@playwright/test';
import { watchPage } from '../../scripts/quiet-page.mjs';
import { startTestServer } from '../support/server.ts';

/** A folder with a copy of the demo library, which was made once for all workers. */
export function demoCopy(): string {
  const folder = mkdtempSync(join(tmpdir(), 'basket-test-'));
  cpSync(process.env.DEMO_LIBRARY!, folder, { recursive: true });
  return folder;
}

/** A page on the worker's own server that fails the test when anything goes wrong unseen. */
export const test = base.extend<{ page: Page; wrongOnPurpose: RegExp | null }, { address: string }>({
  /** What a test makes go wrong to see what becomes of it. */
  wrongOnPurpose: [null, { option: true }],
  address: [
    async ({ browserName: _ }, use) => {
      const dataDirectory = demoCopy();
      const server = await startTestServer({ dataDirectory });
      await use(server.address);
      await server.remove();
    },
    { scope: 'worker', timeout: 60_000 },
  ],
  baseURL: async ({ address }, use) => use(address),
  page: async ({ page, wrongOnPurpose }, use) => {
    watchPage(page);
    const problems: string[] = [];
    page.on('pageerror', (error) => problems.push(error.message));
    page.on('console', (message) => {
      // Refused files are answered with 422: that is the point of those tests.
      const expected = /status of 4\d\d/.test(message.text()) || wrongOnPurpose?.test(message.text());
      if (message.type() === 'error' && !expected) problems.push(message.text());
    });
    await use(page);
    expect(problems).toEqual([]);
  },
});

export { expect };

/** The rows of the library's list. */
export function phraseRows(page: Page) {
  return page.getByRole('listbox', { name: /phrases$/ }).getByRole('option');
}

/** The list of parts of a take, ready to be worked on. */
export function strands(page: Page) {
  return page.getByRole('list', { name: 'Parts' });
}
