import { unzipSync } from 'fflate';
import { parseMidi } from 'midi-file';
import { readFileSync } from 'node:fs';
import { expect, test } from './fixtures.ts';

test("the third show's opening by keyboard, from the library to equally long files in a ZIP", async ({
  page,
}) => {
  await page.addInitScript(() => localStorage.setItem('theme', 'day'));
  await page.goto('/reuse/weave');
  await page.getByRole('textbox', { name: 'Title' }).fill('Opening');
  await page.getByRole('textbox', { name: 'Sections' }).fill('A A B');
  await page.keyboard.press('Enter');
  await expect(page.getByRole('heading', { name: 'Opening' })).toBeVisible();
  const sheet = page.getByRole('table', { name: 'The weave' });
  await expect(sheet.getByRole('columnheader')).toHaveCount(4);
  for (const role of ['drums', 'bass', 'keys'])
    await page.getByRole('combobox', { name: 'Add a part' }).selectOption(role);
  await expect(sheet.getByRole('button', { name: 'keys in A: empty' })).toHaveCount(2);
  await sheet.getByRole('button', { name: 'drums in A: empty' }).first().click();
  // By keyboard alone from here: a phrase in each cell, candidates by the full stop.
  const stitch = async () => {
    await expect(
      page.getByRole('list', { name: 'What could stand here' }).getByRole('button').first(),
    ).toBeVisible();
    await page.keyboard.press('.');
  };
  for (let column = 0; column < 3; column++) {
    for (let row = 0; row < 3; row++) {
      await stitch();
      if (row < 2) await page.keyboard.press('ArrowDown');
    }
    await page.keyboard.press('ArrowUp');
    await page.keyboard.press('ArrowUp');
    if (column < 2) await page.keyboard.press('ArrowRight');
  }
  await expect(sheet.getByRole('button', { name: /: empty$/ })).toHaveCount(0);
  await page.keyboard.press('ArrowUp');
  await page.getByRole('textbox', { name: 'Chords' }).fill('Em | Am | Hx');
  await expect(page.getByRole('alert').first()).toContainText('Bar 3: "Hx" is not a chord symbol');
  await page.getByRole('textbox', { name: 'Chords' }).fill('Em | Am | B7 | Em');
  await page.getByRole('textbox', { name: 'Chords' }).blur();
  // What is proposed is accepted together, an ending among it.
  const proposals = page.getByRole('region', { name: 'Proposals' });
  await expect(proposals.getByText(/It stops where "B" ends/)).toBeVisible();
  await proposals.getByRole('button', { name: /^Accept all/ }).click();
  await expect(page.getByRole('combobox', { name: 'ends' })).toHaveValue('ring');
  await page.keyboard.press('Control+z');
  await expect(page.getByRole('combobox', { name: 'ends' })).toHaveValue('none');
  await page.keyboard.press('Control+y');
  const status = page.getByRole('status').filter({ hasText: 'BPM' });
  await expect(status).toContainText('26 bars');
  const [download] = await Promise.all([
    page.waitForEvent('download'),
    page.getByRole('button', { name: 'Parts, ZIP' }).click(),
  ]);
  const files = unzipSync(new Uint8Array(readFileSync(await download.path())));
  expect(Object.keys(files).length).toBe(4);
  const ends = Object.values(files).flatMap((bytes) =>
    parseMidi(bytes).tracks.map((track) => track.reduce((tick, { deltaTime }) => tick + deltaTime, 0)),
  );
  expect(new Set(ends).size).toBe(1);
  // It is there again after a reload.
  await expect(status).not.toContainText('not saved yet');
  await page.reload();
  await expect(status).toContainText('26 bars');
  await page.getByRole('button', { name: 'Keep the section' }).click();
  await expect(page.getByText(/^Kept "A" as a sheaf of 3/)).toBeVisible();
});

test('the weaves of the demo open, one in two meters with a slower ending; a refused proposal stays away', async ({
  page,
}) => {
  await page.goto('/reuse');
  await page.getByRole('link', { name: 'Weaves' }).click();
  for (const title of ['Crossing by lantern', 'Stalls open', 'The goose winds the clock'])
    await expect(page.getByRole('link', { name: title })).toBeVisible();
  await page.getByRole('link', { name: 'The goose winds the clock' }).click();
  await expect(page.getByRole('status').filter({ hasText: 'BPM' })).toContainText('38 bars');
  await expect(page.getByRole('combobox', { name: 'ends' })).toHaveValue('slower');
  const proposals = page.getByRole('region', { name: 'Proposals' });
  const refuse = proposals.getByRole('button', { name: 'Refuse' });
  const before = await refuse.count();
  expect(before).toBeGreaterThan(0);
  await refuse.first().click();
  await expect(refuse).toHaveCount(before - 1);
  await expect(page.getByRole('status').filter({ hasText: 'BPM' })).not.toContainText('not saved yet');
  await page.reload();
  await expect(refuse).toHaveCount(before - 1);
});
