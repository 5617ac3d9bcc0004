import type { Locator, Page } from '@playwright/test';
import { expect, phraseRows, test } from './fixtures.ts';

/** Drags something onto something else, as a hand does: off its place first, then there. */
async function drag(page: Page, what: Locator, onto: Locator): Promise<void> {
  await onto.scrollIntoViewIfNeeded();
  const [from, to] = [(await what.boundingBox())!, (await onto.boundingBox())!];
  await page.mouse.move(from.x + 220, from.y + 15);
  await page.mouse.down();
  await page.mouse.move(from.x + 240, from.y + 30, { steps: 4 });
  await page.mouse.move(to.x + to.width / 2, to.y + to.height / 2, { steps: 8 });
  await page.mouse.up();
}

test('words that are understood become marks, and a mark is taken away; the order is by fit, with its reasons', async ({
  page,
}) => {
  await page.goto('/library');
  await expect(phraseRows(page).first()).toBeVisible();
  await page.keyboard.press('/');
  await page.keyboard.type('90-120 i VI');
  await expect(page.getByText('8 phrases', { exact: true })).toBeVisible();
  await page.getByRole('button', { name: 'goes i → VI' }).click();
  await expect(page.getByRole('searchbox', { name: 'Search' })).toHaveValue('90-120');
  await page.getByRole('combobox', { name: 'Order' }).selectOption('fit');
  await expect(page).toHaveURL(/sort=fit/);
  await expect(phraseRows(page).first()).toContainText('100');
  await page.getByRole('button', { name: /^Fit \d+/ }).click();
  const reasons = page.getByRole('region', { name: 'Fit' });
  await expect(reasons).toContainText('96 BPM, as the project');
  await page.goBack();
  await expect(page).not.toHaveURL(/sort=fit/);
});

test('several are chosen by keyboard, tagged and rated at once; each can be taken back', async ({ page }) => {
  await page.goto('/library?tag=night');
  const rows = phraseRows(page);
  await expect(rows.first()).toBeVisible();
  await page.keyboard.press('x');
  await page.keyboard.press('Shift+ArrowDown');
  const bar = page.getByRole('group', { name: 'Chosen phrases' });
  await expect(bar).toContainText('2 phrases chosen');
  await bar.getByRole('textbox', { name: 'Tags' }).fill('shadow play');
  await page.keyboard.press('Enter');
  await expect(page.getByText('2 phrases tagged shadow play.')).toBeVisible();
  await expect(rows.filter({ hasText: 'shadow play' })).toHaveCount(2);
  await rows.first().click();
  await page.keyboard.press('4');
  await expect(rows.filter({ hasText: '★★★★' })).toHaveCount(2);
  await page.keyboard.press('Control+z');
  await expect(rows.filter({ hasText: '★★★★' })).toHaveCount(0);
  await page.keyboard.press('Control+z');
  await expect(rows.filter({ hasText: 'shadow play' })).toHaveCount(0);
  await page.keyboard.press('Escape');
  await expect(bar).toBeHidden();
});

test('by ear under a pin: the arrows change what is tried at the next bar, and the pin goes on', async ({
  page,
}) => {
  await page.goto('/library?text=crossing+verse');
  const rows = phraseRows(page);
  await expect(rows).toHaveCount(5);
  await page.keyboard.press('End');
  await page.keyboard.press('p');
  const pins = page.getByRole('region', { name: 'Pins' });
  await expect(pins).toContainText('Crossing verse, kit');
  await page.keyboard.press('Home');
  await page.keyboard.press(' ');
  await expect(rows.nth(0)).toHaveAttribute('data-sounding', 'true');
  await page.keyboard.press('ArrowDown');
  await expect(rows.nth(1)).toContainText('waits');
  await expect(rows.nth(1)).toHaveAttribute('data-sounding', 'true');
  await expect(rows.nth(1)).not.toContainText('waits');
  await page.keyboard.press('a');
  await expect(rows.nth(0)).toHaveAttribute('data-sounding', 'true');
  await pins.getByRole('button', { name: 'Unpin Crossing verse, kit' }).click();
  await expect(pins).toBeHidden();
});

test('a search is kept under a name and opened again', async ({ page }) => {
  await page.goto('/library?text=90-120&role=bass');
  await page.getByRole('button', { name: 'Searches' }).click();
  await page.getByRole('textbox', { name: 'Name of this search' }).fill('Walking pace');
  await page.keyboard.press('Enter');
  await expect(page.getByText('This search is kept as "Walking pace".')).toBeVisible();
  await page.goto('/library');
  await page.getByRole('button', { name: 'Searches' }).click();
  await page
    .getByRole('button', { name: /Walking pace/ })
    .first()
    .click();
  await expect(page).toHaveURL(/role=bass/);
  await page.getByRole('button', { name: 'Searches' }).click();
  await page.getByRole('button', { name: 'Forget Walking pace' }).click();
  await expect(page.getByRole('dialog')).toContainText('None is kept yet');
});

test('what is there twice is found, heard, and one of them kept; that can be taken back', async ({
  page,
}) => {
  await page.goto('/library/twice');
  const group = page.getByRole('listitem').filter({ hasText: 'Oars on the beat' });
  await expect(group).toContainText('the same notes');
  await expect(group).toContainText(/varied: \d+ of \d+ strokes differ/);
  await group.getByRole('button', { name: 'Keep this one' }).first().click();
  await expect(page.getByText('2 phrases are set aside.')).toBeVisible();
  await expect(group).toBeHidden();
  await page.keyboard.press('Control+z');
  await page.goto('/library?role=drums');
  await expect(
    phraseRows(page).filter({ hasText: /Oars on the beat|Street at dusk|Crossing verse, kit/ }),
  ).toHaveCount(3);
  // Bound as variants they stay, and each tells of the others.
  await page.goto('/library/twice');
  await group.getByRole('button', { name: 'Variants' }).click();
  await expect(page.getByText('3 phrases are variants of one.')).toBeVisible();
  await expect(group).toBeHidden();
  await page.getByRole('link', { name: 'The phrases' }).click();
  await phraseRows(page).filter({ hasText: 'Oars on the beat' }).click();
  const variants = page.getByRole('region', { name: 'Its variants' });
  await expect(variants.getByRole('listitem')).toHaveCount(2);
  // Taken back, they are there twice again: for the tests after this one, too.
  await page.keyboard.press('Control+z');
  await expect(variants).toHaveCount(0);
  await page.goto('/library/twice');
  await expect(group).toBeVisible();
});

test('a phrase is dragged onto a tag and onto the basket; a tag is renamed', async ({ page }) => {
  await page.goto('/library?text=oars');
  const row = phraseRows(page).first();
  await expect(row).toBeVisible();
  const facets = page.getByRole('complementary', { name: 'Narrow the list' });
  await drag(page, row, facets.getByLabel(/^groove/).last());
  await expect(page.getByText(/1 phrase tagged groove\./)).toBeVisible();
  await drag(page, row, page.getByRole('button', { name: 'Put into basket' }));
  await expect(page.getByText(/"Oars on the beat" (is|was already) in/)).toBeVisible();
  await page.getByRole('button', { name: 'Edit tags ...' }).click();
  await page.getByRole('textbox', { name: 'Name of groove' }).fill('beat');
  await page.keyboard.press('Enter');
  await expect(page.getByText('"groove" is called "beat".')).toBeVisible();
  await page.keyboard.press('Escape');
  await expect(facets.getByLabel(/^beat/)).toBeVisible();
  await page.keyboard.press('Control+z');
  await expect(facets.getByLabel(/^beat/)).toHaveCount(0);
});
