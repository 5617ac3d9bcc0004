import { expect, phraseRows, strands, test } from './fixtures.ts';

test.beforeEach(async ({ page }) => {
  await page.goto('/capture?search=landing');
  await page.getByRole('link', { name: 'Landing stage' }).click();
  await expect(strands(page).getByRole('listitem')).toHaveCount(7);
});

test('parts are renamed, given a role, merged, set aside and brought back; the tally stays balanced; all can be taken back', async ({
  page,
}) => {
  const tally = page.getByRole('region', { name: 'Tally' });
  await strands(page).getByText('Bass pickup').click();
  await page.getByLabel('Name of the part').fill('Lead-in');
  await page.getByLabel('Name of the part').press('Enter');
  await expect(strands(page).getByText('Lead-in')).toBeVisible();
  await page.getByLabel('Role', { exact: true }).selectOption('lead');
  await expect(strands(page).getByRole('listitem').filter({ hasText: 'Lead-in' })).toContainText('Lead');

  await strands(page).getByRole('button', { name: 'Bass', exact: true }).click();
  await strands(page)
    .getByText('Lead-in')
    .click({ modifiers: ['Control'] });
  await strands(page)
    .getByText('Bass ending')
    .click({ modifiers: ['Control'] });
  await page.getByRole('button', { name: 'Merge into Bass' }).click();
  await expect(strands(page).getByRole('listitem')).toHaveCount(5);
  await expect(tally).toContainText('386 in 5 parts');

  await strands(page).getByText('Kit', { exact: true }).click();
  await page.getByRole('button', { name: 'Set aside', exact: true }).click();
  await expect(strands(page).getByRole('listitem')).toHaveCount(4);
  await expect(tally).toContainText('balanced');
  await page.getByRole('button', { name: 'Bring back' }).click();
  await expect(strands(page).getByRole('listitem')).toHaveCount(5);

  await page.reload();
  await expect(strands(page).getByRole('listitem')).toHaveCount(5);
  for (let i = 0; i < 5; i++) await page.getByRole('button', { name: /^Take back/ }).click();
  await expect(strands(page).getByRole('listitem')).toHaveCount(7);
  await expect(strands(page).getByText('Bass pickup')).toBeVisible();
  await expect(page.getByRole('button', { name: /^Take back/ })).toBeDisabled();
});

test('by keyboard: choose a part and bars, listen, solo, make a phrase', async ({ page }) => {
  await page.keyboard.press('ArrowDown');
  await expect(strands(page).getByRole('button', { name: 'Bass', exact: true })).toHaveAttribute(
    'aria-pressed',
    'true',
  );
  await page.keyboard.press('ArrowRight');
  await page.keyboard.press('ArrowRight');
  await page.keyboard.press('Shift+ArrowLeft');
  await expect(page.getByLabel('Bars', { exact: true })).toHaveValue('2');
  await expect(page.getByLabel('to', { exact: true })).toHaveValue('4');
  await page.keyboard.press('Space');
  await expect(page.getByRole('contentinfo')).toContainText('Landing stage, bars 2 to 4');
  await expect(page.getByRole('button', { name: 'Stop' })).toBeVisible();
  await page.keyboard.press('s');
  await expect(page.getByRole('button', { name: 'Solo Bass', exact: true })).toHaveAttribute(
    'aria-pressed',
    'true',
  );
  await page.keyboard.press('Space');
  await expect(page.getByRole('contentinfo').getByRole('button', { name: 'Listen' })).toBeVisible();
  await page.keyboard.press('Enter');
  await expect(page.getByRole('region', { name: 'Recipe' })).toContainText('in bars 2 to 4');
  // The way back does not depend on which of the answers comes first: here that of the phrase, now set aside.
  await page.route(/\/api\/(?!phrases\/)/, async (route) => {
    await new Promise((resolve) => setTimeout(resolve, 400));
    await route.continue();
  });
  await page.getByRole('button', { name: 'Discard draft' }).click();
  await expect(strands(page)).toBeVisible();
});

test('several parts become a sheaf, kept whole', async ({ page }) => {
  await strands(page).getByText('Keys', { exact: true }).first().click();
  await strands(page)
    .getByText('Pad', { exact: true })
    .first()
    .click({ modifiers: ['Control'] });
  await page.getByLabel('Bars', { exact: true }).fill('1');
  await page.getByLabel('to', { exact: true }).fill('4');
  await page.getByRole('button', { name: 'Make a sheaf of 2 parts' }).click();
  await page.getByRole('button', { name: 'Keep the whole sheaf of 2' }).click();
  await expect(page.getByText('The sheaf of 2 is kept in the library.')).toBeVisible();
  await page.goto('/library?text=landing');
  await expect(phraseRows(page)).toHaveCount(2);
});

test('what is chosen is said: parts, bars and notes, once a choice has rested', async ({ page }) => {
  const said = page.locator('p[role=status].sr-only');
  await strands(page).getByRole('button', { name: 'Bass', exact: true }).click();
  await page.keyboard.press('ArrowRight');
  await page.keyboard.press('Shift+ArrowRight');
  await expect(said.filter({ hasText: /^Bass, bars 1 to 5, chosen$/ })).toHaveCount(1);
  await page.keyboard.press('Shift+ArrowDown');
  await expect(said.filter({ hasText: /^Bass and .+, bars 1 to 5, chosen$/ })).toHaveCount(1);
  await page.keyboard.press('Escape');
  await page.keyboard.press('n');
  await page.keyboard.press('ArrowRight');
  await expect(said.filter({ hasText: /1 note, chosen$/ })).toHaveCount(1);
});

test('the meter is chosen for the take and from a bar on; bars are counted anew, and it can be taken back', async ({
  page,
}) => {
  const meter = page.getByRole('button', { name: /^Meter / });
  const before = (await meter.textContent())!;
  await meter.click();
  await page.getByRole('combobox', { name: 'Meter' }).selectOption('3/4');
  await page.getByRole('button', { name: 'All of it in 3/4' }).click();
  await expect(meter).toHaveText('3/4');
  await meter.click();
  await page.getByRole('combobox', { name: 'Meter' }).selectOption('6/8');
  await page.getByLabel('From bar').fill('5');
  await page.getByRole('button', { name: '6/8 from bar 5 on' }).click();
  await expect(meter).toHaveText('3/4, 6/8');
  await page.keyboard.press('Control+z');
  await expect(meter).toHaveText('3/4');
  await page.keyboard.press('Control+z');
  await expect(meter).toHaveText(before);
});

test('going on elsewhere after going back keeps what is left, and it can be gone back to', async ({
  page,
}) => {
  const history = page.getByRole('region', { name: 'History' });
  for (const name of ['One', 'Two', 'Three']) {
    await page.getByLabel('Name of the part').fill(name);
    await page.getByLabel('Name of the part').press('Enter');
    await expect(history).toContainText(`rename to "${name}"`);
  }
  await history.getByRole('button', { name: /rename to "One"/ }).click();
  await page.getByLabel('Name of the part').fill('Other');
  await page.getByLabel('Name of the part').press('Enter');
  const dropped = page.getByRole('list', { name: 'Dropped histories' });
  await expect(dropped).toContainText('2 moves after step 1, left for another way');
  await page.reload();
  // Other tests may have left histories of theirs before it.
  await dropped.getByRole('button', { name: 'Go there again' }).last().click();
  await expect(history).toContainText('rename to "Three"');
  await expect(strands(page).getByText('Three')).toBeVisible();
  await expect(dropped).toContainText('1 move after step 1, left for another way');
  await history.getByRole('button', { name: 'as it was captured' }).click();
  await expect(strands(page).getByText('Three')).toHaveCount(0);
});

test('a link over everything leads past the frame to the view', async ({ page }) => {
  await page.goto('/library');
  await expect(phraseRows(page).first()).toBeVisible();
  await page.keyboard.press('Tab');
  const skip = page.getByRole('link', { name: 'Skip to the view' });
  await expect(skip).toBeFocused();
  await page.keyboard.press('Enter');
  await page.keyboard.press('Tab');
  expect(await page.evaluate(() => document.activeElement!.closest('main')?.id)).toBe('view');
});

test('the wheel with Ctrl looks closer where the pointer is, with Shift it moves; the page itself stays as it is', async ({
  page,
}) => {
  await page.goto('/capture?search=stall');
  await page.getByRole('row').getByRole('link').first().click();
  const strands = page.locator('.notes-frame');
  await expect(strands.locator('canvas').first()).toBeVisible();
  const bars = async () => {
    const told = await strands.locator('.cursor-col-resize').first().locator('span').allTextContents();
    return told.map(Number);
  };
  const all = await bars();
  await page.evaluate(() => {
    const prevented: boolean[] = [];
    Object.assign(window, { prevented });
    const later = (event: WheelEvent) => setTimeout(() => prevented.push(event.defaultPrevented));
    window.addEventListener('wheel', later, { capture: true, passive: true });
  });
  const box = (await strands.boundingBox())!;
  await page.mouse.move(box.x + box.width - 60, box.y + 120);
  await page.keyboard.down('Control');
  for (let turn = 0; turn < 4; turn++) await page.mouse.wheel(0, -150);
  await page.keyboard.up('Control');
  await expect.poll(async () => (await bars())[0]).toBeGreaterThan(all[0]!);
  const closer = await bars();
  await page.keyboard.down('Shift');
  for (let turn = 0; turn < 4; turn++) await page.mouse.wheel(0, -400);
  await page.keyboard.up('Shift');
  await expect.poll(async () => (await bars())[0]).toBeLessThan(closer[0]!);
  const prevented = await page.evaluate(() => (window as unknown as { prevented: boolean[] }).prevented);
  expect(prevented.length).toBeGreaterThanOrEqual(8);
  expect(prevented.every(Boolean)).toBe(true);
});
