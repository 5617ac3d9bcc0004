import type { Page } from 'playwright-core';

/** The take that the Live view has recorded last, once it is there: its id, and its row as the server answers it. */
export async function recordedTake(page: Page, timeout = 30_000) {
  const link = page.getByRole('region', { name: 'The take' }).getByRole('link', { name: 'Split it' });
  await link.waitFor({ timeout });
  const id = (await link.getAttribute('href'))!.split('/').at(-1)!;
  const take = new URL(`/api/takes/${id}`, page.url()).href;
  return { id, row: await (await page.request.get(take)).json() };
}
