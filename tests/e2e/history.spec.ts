import { expect, phraseRows, strands, test } from './fixtures.ts';

/** What was done last is taken back first, wherever it was done; and a history can be opened in every view. */

test('Ctrl Z names and takes back what was done last, in the take, in the library and in the house standard', async ({
  page,
}) => {
  await page.goto('/split');
  await page.getByRole('link', { name: /Winter window/ }).click();
  const parts = strands(page).getByRole('listitem');
  await expect(parts).toHaveCount(7);
  await page.keyboard.press('a');
  await expect(parts).toHaveCount(6);

  await page.keyboard.press('Alt+4');
  await expect(phraseRows(page).first()).toBeVisible();
  const name = (await phraseRows(page).first().locator('.font-bold').textContent())!;
  await page.keyboard.press('ArrowDown');
  await page.keyboard.press('ArrowUp');
  await page.keyboard.press('Delete');
  await expect(page.getByText(`"${name}" is set aside`)).toBeVisible();
  await expect(phraseRows(page).filter({ hasText: name })).toHaveCount(0);

  // The last thing was in the library: it comes back first, and is named.
  await page.keyboard.press('Control+z');
  await expect(phraseRows(page).filter({ hasText: name }).first()).toBeVisible();
  // Now the move of the take: taken back from here, and there it is.
  await page.keyboard.press('Control+z');
  await page.keyboard.press('Alt+2');
  await page.getByRole('link', { name: /Winter window/ }).click();
  await expect(parts).toHaveCount(7);
  await page.keyboard.press('Control+Shift+z');
  await expect(parts).toHaveCount(6);
  await page.keyboard.press('Control+z');
  await expect(parts).toHaveCount(7);
});

test('the history opens with its key in every view and lists what was done, the last first', async ({
  page,
}) => {
  await page.goto('/house');
  const pattern = page.getByLabel('Naming pattern of new phrases');
  const before = await pattern.inputValue();
  await pattern.fill('{take} {role}');
  await pattern.blur();
  await page.keyboard.press('Alt+4');
  await expect(phraseRows(page).first()).toBeVisible();
  await page.keyboard.press('Alt+z');
  const menu = page.getByRole('dialog', { name: 'What was done in this window' });
  await expect(menu).toContainText('naming pattern');
  await page.keyboard.press('Escape');
  await page.keyboard.press('Control+z');
  await page.goto('/house');
  await expect(pattern).toHaveValue(before);
});

test('after keeping, Ctrl Z takes back the keeping and not an older move', async ({ page }) => {
  await page.goto('/split');
  await page.getByRole('link', { name: /Winter window/ }).click();
  const parts = strands(page).getByRole('listitem');
  const count = 7;
  await expect(parts).toHaveCount(count);
  await page.keyboard.press('a');
  await expect(parts).toHaveCount(count - 1);
  const address = page.url();
  await page.keyboard.press('ArrowDown');
  await page.keyboard.press('ArrowRight');
  await page.keyboard.press('Enter');
  // What was made is opened. Taken back, the take is there again, with the move before it.
  await expect(page.getByRole('region', { name: 'Recipe' })).toBeVisible();
  const drafts = page.getByRole('link', { name: /^Normalize/ });
  const made = (await drafts.textContent())!;
  await page.keyboard.press('Control+z');
  await expect(page).toHaveURL(address);
  await expect(parts).toHaveCount(count - 1);
  await expect(drafts).not.toHaveText(made);
  await page.keyboard.press('Control+z');
  await expect(parts).toHaveCount(count);
});

test('two windows with one take: the later move is told, and can be done all the same', async ({
  page,
  context,
}) => {
  await page.goto('/split');
  await page.getByRole('link', { name: /Winter window/ }).click();
  const parts = strands(page).getByRole('listitem');
  await expect(parts).toHaveCount(7);
  const address = page.url();
  const other = await context.newPage();
  // Another browser: nothing is told from window to window.
  await other.addInitScript('globalThis.SharedWorker = undefined; globalThis.EventSource = undefined;');
  await other.goto(address);
  const otherParts = strands(other).getByRole('listitem');
  await expect(otherParts).toHaveCount(7);
  // The drawing follows at once: the move stands once the server has answered.
  const stands = page.waitForResponse((response) => /\/moves$/.test(response.url()));
  await page.keyboard.press('a');
  await expect(parts).toHaveCount(6);
  await stands;
  await other.keyboard.press('ArrowDown');
  await other.keyboard.press('a');
  await expect(other.getByText(/was changed in another window\. Nothing was done here/)).toBeVisible();
  await expect(otherParts).toHaveCount(6);
  await other.getByRole('button', { name: 'Do it all the same' }).click();
  await expect(otherParts).toHaveCount(5);
  for (let i = 0; i < 2; i++) await other.keyboard.press('Control+z');
  await other.close();
});

test("what somebody else does to a take appears without reloading, and is not taken back as if it were one's own", async ({
  page,
  baseURL,
}) => {
  await page.goto('/split');
  await page.getByRole('link', { name: /Winter window/ }).click();
  await expect(strands(page).getByRole('listitem').first()).toBeVisible();
  const id = page.url().split('/').at(-1)!;
  await page.request.post(`/api/takes/${id}/moves`, {
    headers: { origin: baseURL! },
    data: { move: { move: 'rename', part: 'p1', name: 'Named by a colleague' } },
  });
  await expect(page.getByText('Another window changed this. It is shown as it is now.')).toBeVisible();
  await expect(strands(page).getByText('Named by a colleague')).toBeVisible();
  await page.keyboard.press('Control+z');
  await expect(page.getByText(/The last change of this take is somebody else's/)).toBeVisible();
  await expect(strands(page).getByText('Named by a colleague')).toBeVisible();
  await page.getByRole('button', { name: 'Take it back all the same' }).click();
  await expect(strands(page).getByText('Named by a colleague')).toHaveCount(0);
});
