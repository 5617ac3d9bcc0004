import type { Page } from 'playwright-core';

/** The view that records, as tests and benchmarks go about in it. */

/** Opens it, and lets it look for devices. */
export async function openLive(page: Page, address = ''): Promise<void> {
  await page.goto(`${address}/capture/live`);
  await page.getByRole('button', { name: 'Look for devices' }).click();
}

/** Records without a click, so that what was sent can be counted to the millisecond; from here on it is recorded. */
export async function recordFreely(page: Page): Promise<void> {
  await page.getByRole('region', { name: 'Recording' }).getByLabel('Bars by').selectOption({ label: 'none' });
  await page.getByRole('button', { name: 'Record', exact: true }).click();
  await page
    .getByRole('button', { name: 'Stop', exact: true })
    .and(page.locator(':enabled'))
    .first()
    .waitFor();
}
