import { expect, phraseRows, test } from './fixtures.ts';

test('found by words and facets, which are in the address and come back with the back button', async ({
  page,
}) => {
  await page.goto('/');
  await expect(page).toHaveURL(/\/library/);
  const facets = page.getByRole('complementary', { name: 'Narrow the list' });
  await facets.getByLabel(/^Bass/).click();
  await expect(facets.getByLabel(/^Bass/)).toBeChecked();
  await expect(page).toHaveURL(/role=bass/);
  await facets.getByLabel(/^3\/4/).click();
  await expect(page.getByRole('status').first()).toHaveText(/^\d phrases?$/);
  await page.goBack();
  await expect(facets.getByLabel(/^3\/4/)).not.toBeChecked();
  await page.keyboard.press('/');
  await page.keyboard.type('anchor');
  await expect(page).toHaveURL(/text=anchor/);
  await expect(phraseRows(page)).toHaveCount(1);
  await page.reload();
  await expect(page.getByLabel('Search')).toHaveValue('anchor');
  await page.getByLabel('Search').fill('no such phrase');
  await expect(page.getByText('No phrase fits all of this')).toBeVisible();
  await page.getByRole('button', { name: 'Show all' }).first().click();
  await expect(phraseRows(page).first()).toBeVisible();
});

test('gone through by ear with the keyboard alone, and put into a basket', async ({ page }) => {
  await page.goto('/library?tag=winter');
  await expect(phraseRows(page).first()).toBeVisible();
  const bar = page.getByRole('contentinfo');
  const nameAt = async (n: number) => (await phraseRows(page).nth(n).locator('.font-bold').textContent())!;
  await page.keyboard.press('Space');
  await expect(bar).toContainText(await nameAt(0));
  await expect(bar.getByRole('button', { name: 'Stop' })).toBeVisible();
  await page.keyboard.press('ArrowDown');
  await expect(bar).toContainText(await nameAt(1));
  await page.keyboard.press('ArrowDown');
  await expect(bar).toContainText(await nameAt(2));
  await page.keyboard.press('Space');
  await expect(bar.getByRole('button', { name: 'Listen' })).toBeVisible();
  await page.keyboard.press('b');
  await expect(page.getByText(/is in "|was already in "/)).toBeVisible();
  await page.keyboard.press('Enter');
  await expect(page.getByRole('region', { name: 'Recipe' })).toBeVisible();
});

test('after a click on a row, after Tab into the list, and after ticking a facet the keys go on', async ({
  page,
}) => {
  await page.goto('/library');
  const rows = phraseRows(page);
  const bar = page.getByRole('contentinfo');
  const current = page.locator('[role=option][aria-selected=true]');
  await rows.nth(2).click();
  await expect(current).toHaveAttribute('aria-posinset', '3');
  await page.keyboard.press('ArrowDown');
  await expect(current).toHaveAttribute('aria-posinset', '4');
  await page.keyboard.press('Space');
  await expect(bar.getByRole('button', { name: 'Stop' })).toBeVisible();
  await page.keyboard.press('Space');
  await expect(bar.getByRole('button', { name: 'Listen' })).toBeVisible();

  await page.getByRole('listbox', { name: /phrases$/ }).focus();
  await page.keyboard.press('ArrowUp');
  await expect(current).toHaveAttribute('aria-posinset', '3');

  const facet = page.getByRole('complementary', { name: 'Narrow the list' }).getByLabel(/^Bass/);
  await facet.click();
  await expect(facet).toBeChecked();
  await expect(current).toHaveCount(1);
  await page.keyboard.press('Space');
  await expect(facet).toBeChecked();
  await expect(bar.getByRole('button', { name: 'Stop' })).toBeVisible();
});

test('back from a phrase, the list is where it was: the row, and how far it was scrolled', async ({
  page,
}) => {
  await page.goto('/library');
  const rows = phraseRows(page);
  const list = page.getByRole('listbox', { name: /phrases$/ });
  await expect(rows.first()).toBeVisible();
  for (let i = 0; i < 25; i++) await page.keyboard.press('ArrowDown');
  const current = page.locator('[role=option][aria-selected=true]');
  const place = (await current.getAttribute('aria-posinset'))!;
  const scrolled = await list.evaluate((element) => element.scrollTop);
  expect(scrolled).toBeGreaterThan(0);
  await page.keyboard.press('Enter');
  await expect(page.getByRole('region', { name: 'Recipe' })).toBeVisible();
  await page.goBack();
  await expect(current).toHaveAttribute('aria-posinset', place);
  expect(Math.abs((await list.evaluate((element) => element.scrollTop)) - scrolled)).toBeLessThan(50);
});

test('set aside, a phrase is gone and can be looked for; brought back, it is where it was', async ({
  page,
}) => {
  await page.goto('/library?text=oars');
  const rows = phraseRows(page);
  await expect(rows.first()).toBeVisible();
  const count = await rows.count();
  await page.keyboard.press('ArrowDown');
  await page.keyboard.press('ArrowUp');
  await page.keyboard.press('Delete');
  await expect(rows).toHaveCount(count - 1);
  await page.getByLabel(/What is set aside/).click();
  await expect(rows).toHaveCount(1);
  await page.keyboard.press('ArrowDown');
  await page.keyboard.press('Delete');
  await expect(rows).toHaveCount(0);
  await page.getByLabel(/What is set aside/).click();
  await expect(rows).toHaveCount(count);
});

test('sound goes on while one moves to another view', async ({ page }) => {
  await page.goto('/library');
  await expect(phraseRows(page).first()).toBeVisible();
  await page.keyboard.press('Space');
  const bar = page.getByRole('contentinfo');
  await expect(bar.getByRole('button', { name: 'Stop' })).toBeVisible();
  await page.getByRole('link', { name: /^Hand off/ }).click();
  await expect(page.getByRole('heading', { name: 'Baskets' })).toBeVisible();
  await expect(bar.getByRole('button', { name: 'Stop' })).toBeVisible();
});

test('both themes, kept over a reload', async ({ page }) => {
  await page.goto('/library');
  await page.getByRole('button', { name: 'Lamp', exact: true }).click();
  await expect(page.locator('html')).toHaveAttribute('data-theme', 'lamp');
  await page.reload();
  await expect(page.locator('html')).toHaveAttribute('data-theme', 'lamp');
});

test.describe('a view that stops', () => {
  test.use({ wrongOnPurpose: /not iterable|is null|null \(/ });

  test('what goes wrong in a view stays in it: the frame goes on, and there is a way back', async ({
    page,
  }) => {
    // An answer of another shape than the view knows.
    await page.route('**/api/harmony*', (route) => route.fulfill({ json: { lines: null } }));
    await page.goto('/library/harmony');
    const alert = page.getByRole('alert');
    await expect(alert).toContainText('This view has stopped');
    await expect(page.getByRole('contentinfo')).toBeVisible();
    await page.unroute('**/api/harmony*');
    await page.keyboard.press('Enter');
    await expect(alert).toBeHidden();
    await expect(page.getByRole('heading', { name: /harmony/i }).first()).toBeVisible();

    await page.route('**/api/harmony*', (route) => route.fulfill({ json: { lines: null } }));
    await page.reload();
    await alert.getByRole('link', { name: 'To the library' }).click();
    await expect(phraseRows(page).first()).toBeVisible();
  });
});

test('bars of a part of a take are pinned by being heard, and go on playing while phrases are tried; each can be heard as somebody has it', async ({
  page,
}) => {
  await page.goto('/capture?search=landing');
  await page.getByRole('row').getByRole('link').first().click();
  await expect(page.getByRole('region', { name: 'Tally' })).toBeVisible();
  await page.keyboard.press('ArrowDown');
  for (let k = 0; k < 3; k++) await page.keyboard.press('ArrowRight');
  const bar = page.getByRole('contentinfo');
  await expect(bar).toContainText('bars 3');
  await bar.getByRole('button', { name: 'Pin what is heard' }).click();
  await expect(bar.getByRole('button', { name: 'Unpin what is heard' })).toBeVisible();
  await page
    .getByRole('navigation')
    .getByRole('link', { name: /^Library/ })
    .click();
  const pins = page.getByRole('region', { name: 'Pins' });
  await expect(pins.getByRole('listitem')).toHaveCount(1);
  await expect(phraseRows(page).first()).toBeVisible();
  await page.keyboard.press('ArrowDown');
  await page.keyboard.press('Space');
  await expect(bar.getByRole('button', { name: 'Stop' })).toBeVisible();
  // The recipients follow plain and its own.
  await bar.getByLabel('Fitted').selectOption({ index: 2 });
  await expect(bar.getByLabel('Fitted')).not.toHaveValue(/none|own/);
  await expect(bar.getByRole('button', { name: 'Stop' })).toBeVisible();
  // The room that the part takes counts for what suits it, though it is no phrase.
  const told = page.getByRole('group', { name: 'What is told' });
  const fit = page.getByRole('region', { name: 'Fit' });
  const room = /nobody plays this role yet|room beside what is pinned|plays where a pinned part plays/;
  await told.getByRole('button', { name: /^Fit/ }).click();
  await expect(fit).toContainText(room);
  await pins.getByRole('button', { name: 'Unpin all' }).click();
  await expect(pins).toHaveCount(0);
  await expect(fit).not.toContainText(room);
  await told.getByRole('button', { name: 'What it is' }).click();
});
