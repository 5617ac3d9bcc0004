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
  await page.getByRole('button', { name: 'Lamp' }).click();
  await expect(page.locator('html')).toHaveAttribute('data-theme', 'lamp');
  await page.reload();
  await expect(page.locator('html')).toHaveAttribute('data-theme', 'lamp');
});
