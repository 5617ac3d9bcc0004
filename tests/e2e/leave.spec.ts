import { execFileSync } from 'node:child_process';
import { mkdtempSync, readdirSync, readFileSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import type { Page } from '@playwright/test';
import { unzipSync } from 'fflate';
import { parseMidi } from 'midi-file';
import { expect, test } from './fixtures.ts';

/** What leaves: the one dialog, recipients and their cards, files dragged out, sheets, and the mirrored folder. */

const dialog = (page: Page) => page.getByRole('dialog', { name: 'How it leaves' });

async function openTake(page: Page) {
  await page.goto('/split');
  await page
    .getByRole('link', { name: /Ferry crossing/ })
    .first()
    .click();
  await expect(page.getByText(/^Tally/)).toBeVisible();
}

async function saved(page: Page, press: () => Promise<void>): Promise<{ name: string; bytes: Uint8Array }> {
  const [download] = await Promise.all([page.waitForEvent('download'), press()]);
  return {
    name: download.suggestedFilename(),
    bytes: new Uint8Array(readFileSync(await download.path())),
  };
}

test('a take leaves by keyboard: some bars, for somebody, as files that another reader opens; it is kept in mind', async ({
  page,
}) => {
  await openTake(page);
  await page.keyboard.press('Control+Shift+e');
  const box = dialog(page);
  await expect(box.getByRole('row')).not.toHaveCount(0);
  await box.getByLabel('For', { exact: true }).selectOption({ label: 'The percussionist' });
  await expect(box.getByText(/on other keys of their kit/)).toBeVisible();
  await box.getByLabel('to bar').fill('2');
  await box.getByLabel('As', { exact: true }).selectOption('one');
  await box.getByLabel('Count-in').selectOption('1');
  await expect(box.getByText('1 file', { exact: true })).toBeVisible();
  const { name, bytes } = await saved(page, () => box.getByRole('button', { name: 'Save the file' }).click());
  expect(name).toBe('Ferry-crossing.mid');
  const { header, tracks } = parseMidi(bytes);
  expect(header.format).toBe(0);
  expect(tracks[0]!.some((event) => event.type === 'noteOn' && event.noteNumber === 24)).toBe(true);
  await page.keyboard.press('Escape');
  await expect(box).toBeHidden();
  await page.reload();
  await expect(page.getByText(/^Tally/)).toBeVisible();
  await page.keyboard.press('Control+Shift+e');
  await expect(dialog(page).getByLabel('Count-in')).toHaveValue('1');
  await expect(dialog(page).getByLabel('For', { exact: true })).toHaveValue(/.+/);
});

test('a phrase is dragged out as a file with its name, and saved by a press where that cannot be', async ({
  page,
}) => {
  await page.goto('/library');
  const row = page.getByRole('listbox').getByRole('option').first();
  await row.hover();
  const handle = row.locator('[title^="Drag"]');
  await handle.hover();
  await expect(handle).toHaveAttribute('data-ready', '');
  const carried = await handle.evaluate((element) => {
    const data = new DataTransfer();
    element.dispatchEvent(new DragEvent('dragstart', { dataTransfer: data, bubbles: true }));
    const [file] = data.files;
    return {
      address: data.getData('DownloadURL'),
      file: file?.name,
      type: file?.type,
      size: file?.size ?? 0,
    };
  });
  expect(carried.file).toMatch(/\.mid$/);
  expect(carried.type).toBe('audio/midi');
  expect(carried.address).toBe(
    `audio/midi:${carried.file}:${carried.address.slice(carried.address.indexOf('http'))}`,
  );
  const answer = await page.request.get(carried.address.slice(carried.address.indexOf('http')));
  expect((await answer.body()).length).toBe(carried.size);
  expect(parseMidi(await answer.body()).tracks.length).toBeGreaterThan(1);
  // What is let go over the page itself is not taken in again.
  const { name } = await saved(page, () => handle.click());
  expect(name).toBe(carried.file);
});

test('a sheet is seen before it leaves: drawn, saved as MusicXML, chords as text', async ({ page }) => {
  await openTake(page);
  await page.keyboard.press('Control+Shift+e');
  const box = dialog(page);
  await box.getByRole('button', { name: 'A sheet, for those who read' }).click();
  await expect(box.locator('[data-drawn] svg')).toBeVisible({ timeout: 30_000 });
  await box.getByRole('button', { name: 'Score' }).click();
  await expect(box.getByRole('img', { name: 'Score' }).locator('[data-drawn] svg')).toBeVisible({
    timeout: 30_000,
  });
  const { name, bytes } = await saved(page, () =>
    box.getByRole('button', { name: 'Save as MusicXML' }).click(),
  );
  expect(name).toBe('Ferry-crossing-score.musicxml');
  expect(new TextDecoder().decode(bytes)).toContain('<score-partwise version="4.0">');
  await box.getByRole('button', { name: 'Chords' }).click();
  await expect(box.getByRole('img', { name: 'Chords' })).toContainText('Dm');
});

test('a kit is learned by striking its pads, taken back, and kept; what leaves for them is told before', async ({
  page,
}) => {
  await page.goto('/handoff/recipients');
  await page.getByLabel('Name of a new recipient').fill('Somebody with pads');
  await page.keyboard.press('Enter');
  await expect(page.getByRole('heading', { name: 'Somebody with pads' })).toBeVisible();
  await page.getByRole('button', { name: /Learn it by striking/ }).click();
  await page.getByTitle('A simulated pad on key 28').click();
  await page.getByRole('button', { name: 'They have none' }).click();
  await page.getByRole('button', { name: 'Enough' }).click();
  const keys = page.getByLabel('That key');
  await expect(keys).toHaveValue('28');
  await page.getByLabel('Add a role to the card').selectOption('strings');
  await page.getByLabel('Played, ms, strings').fill('-100');
  await page.getByRole('button', { name: 'Save', exact: true }).click();
  await expect(page.getByRole('button', { name: 'Saved' })).toBeVisible();
  await expect(page.getByRole('link', { name: /Somebody with pads/ })).toContainText('strings 100 ms early');
  await page.getByRole('button', { name: 'Remove', exact: true }).click();
  await expect(page.getByRole('link', { name: /Somebody with pads/ })).toHaveCount(0);
});

test('the three baskets of the demo are packed, and another program opens all of it', async ({ page }) => {
  test.slow();
  await page.goto('/handoff');
  for (const name of ['For the percussionist', 'Market, first act', 'For the copyist']) {
    await page.goto('/handoff');
    await page.getByRole('link', { name: new RegExp(name) }).click();
    const [download] = await Promise.all([
      page.waitForEvent('download', { timeout: 90_000 }),
      page.getByRole('button', { name: 'Download ZIP' }).click(),
    ]);
    const files = unzipSync(new Uint8Array(readFileSync(await download.path())));
    const midi = Object.entries(files).filter(([path]) => path.endsWith('.mid'));
    expect(midi.length).toBeGreaterThan(2);
    for (const [, bytes] of midi) expect(parseMidi(bytes).tracks.length).toBeGreaterThan(0);
    const folder = mkdtempSync(join(tmpdir(), 'basket-test-'));
    try {
      const zip = join(folder, 'pack.zip');
      await download.saveAs(zip);
      execFileSync('python3', ['-c', 'import sys, zipfile; z = zipfile.ZipFile(sys.argv[1]); assert z.testzip() is None; z.extractall(sys.argv[2])', zip, folder]); // prettier-ignore
      const out = readdirSync(folder, { recursive: true }).map(String);
      expect(out.some((path) => path.endsWith('read-me.txt'))).toBe(true);
    } finally {
      rmSync(folder, { recursive: true });
    }
  }
});

test('a basket is mirrored to a folder, which is in step and says so', async ({ page }) => {
  await page.goto('/handoff');
  await page.getByRole('link', { name: /Market, first act/ }).click();
  await page.getByLabel('mirrored to a folder').check();
  await expect(page.getByLabel('Folder of the mirror')).toHaveValue('Market-first-act');
  await page.getByRole('link', { name: 'How the mirror stands' }).click();
  await expect(page.getByText('✓ in step')).toBeVisible({ timeout: 20_000 });
  await expect(page.getByText('4 files of ours')).toBeVisible();
  await page.getByRole('button', { name: 'Tidy names' }).click();
  await expect(page.getByText('Every file has its name already.')).toBeVisible();
});
