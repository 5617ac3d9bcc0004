import { expect, test } from './fixtures.ts';
import type { Page } from '@playwright/test';

/** A comp: passes side by side, the best bars of them as one take. */

async function openDemo(page: Page): Promise<void> {
  await page.goto('/split/comp');
  await page.getByRole('link', { name: 'Market chase, the best bars' }).click();
  await expect(page.getByRole('grid', { name: 'Passes and bars' })).toBeVisible();
  await expect(cell(page, 1, 1)).toBeVisible();
}

const cell = (page: Page, pass: number, bar: number) =>
  page.getByRole('gridcell', { name: `Market chase, pass ${pass}, bar ${bar}:` }).getByRole('button');

test('by keyboard: a bar is taken, starred, taken back; suggested; what is taken becomes a take that says whence', async ({
  page,
}) => {
  await openDemo(page);
  // What stands out is told: the chord that was asked, and the one that sounded.
  for (let k = 0; k < 3; k++) await page.keyboard.press('ArrowRight');
  await page.keyboard.press('ArrowDown');
  await expect(page.getByText('Asked Asus4, sounded A.')).toBeVisible();
  await page.keyboard.press('Enter');
  await expect(cell(page, 2, 4)).toHaveAttribute('aria-pressed', 'true');
  await page.keyboard.press('Control+z');
  await expect(cell(page, 2, 4)).toHaveAttribute('aria-pressed', 'false');
  await page.keyboard.press('s');
  await expect(page.getByRole('gridcell', { name: 'Market chase, pass 2, bar 4: off the chart, starred' })).toBeVisible(); // prettier-ignore
  await page.keyboard.press('s');
  // One part alone: the bass of two bars from the third pass.
  await page.keyboard.press('.');
  await page.keyboard.press('.');
  await expect(page.getByRole('button', { name: 'Bass', exact: true })).toHaveAttribute('aria-pressed', 'true'); // prettier-ignore
  await page.keyboard.press('ArrowDown');
  await page.keyboard.press('Shift+ArrowRight');
  await page.keyboard.press('Enter');
  await expect(cell(page, 3, 4)).toHaveAttribute('aria-pressed', 'true');
  await expect(cell(page, 3, 5)).toHaveAttribute('aria-pressed', 'true');
  await page.keyboard.press(',');
  await page.keyboard.press(',');
  // What sounds goes on while the pass under the cursor changes.
  await page.keyboard.press(' ');
  await expect(page.getByText('Bars 4 to 5, pass 3')).toBeVisible();
  await page.keyboard.press('ArrowDown');
  await expect(page.getByText('Bars 4 to 5, pass 4')).toBeVisible();
  await page.keyboard.press(' ');
  await page.keyboard.press('g');
  await expect(cell(page, 2, 4)).toHaveAttribute('aria-pressed', 'false');
  await expect(page.getByRole('status').filter({ hasText: /8 of 49 bars used, 41 not/ })).toBeVisible();
  await page.keyboard.press('k');
  await expect(page).toHaveURL(/\/split\/[0-9a-f-]{36}$/);
  await expect(page.getByRole('heading', { name: 'Market chase, the best bars' })).toBeVisible();
});

test('by mouse: passes are chosen among the takes, laid side by side, and drawn over; another meter is left out by name', async ({
  page,
}) => {
  await page.goto('/capture?search=market chase, pass');
  for (const pass of [1, 4, 6]) await page.getByRole('checkbox', { name: `Choose Market chase, pass ${pass}` }).click(); // prettier-ignore
  await page.getByRole('button', { name: 'Comp', exact: true }).click();
  const dialog = page.getByRole('dialog');
  await expect(dialog.getByRole('textbox', { name: 'Chart that all of them play' })).toHaveValue(/Asus4/);
  await dialog.getByRole('textbox', { name: 'Title' }).fill('Drawn over');
  await dialog.getByRole('button', { name: 'Lay them side by side' }).click();
  await expect(page.getByRole('heading', { name: 'Drawn over' })).toBeVisible();
  await expect(page.getByRole('button', { name: 'Keep as a take' })).toBeDisabled();
  const [from, to] = [await cell(page, 4, 2).boundingBox(), await cell(page, 4, 5).boundingBox()];
  await page.mouse.move(from!.x + 20, from!.y + 20);
  await page.mouse.down();
  await page.mouse.move(to!.x + 20, to!.y + 20, { steps: 8 });
  await page.mouse.up();
  for (const bar of [2, 3, 4, 5]) await expect(cell(page, 4, bar)).toHaveAttribute('aria-pressed', 'true');
  await expect(cell(page, 4, 6)).toHaveAttribute('aria-pressed', 'false');
  await expect(page.getByRole('status').filter({ hasText: /4 of 24 bars used, 20 not$/ })).toBeVisible();
  await page.reload();
  await expect(cell(page, 4, 3)).toHaveAttribute('aria-pressed', 'true');
  // A chart that is typed wrong is told; a shorter one lays the passes anew, and the bars behind it are beside.
  await page.getByRole('button', { name: 'Title, chart, tempo' }).click();
  await dialog.getByRole('textbox', { name: 'Chart' }).fill('Dm | Bb | Hx');
  await expect(dialog.getByRole('alert')).toContainText('"Hx"');
  await dialog.getByRole('textbox', { name: 'Chart' }).fill('Dm | Bb | Gm | Asus4 | Dm | F');
  await dialog.getByRole('textbox', { name: 'Title' }).fill('Shorter');
  await dialog.getByRole('button', { name: 'Change' }).click();
  await expect(page.getByRole('heading', { name: 'Shorter' })).toBeVisible();
  await expect(page.getByText('3 passes, 6 bars, 4/4')).toBeVisible();
  await expect(cell(page, 4, 3)).toHaveAttribute('aria-pressed', 'true');
});
