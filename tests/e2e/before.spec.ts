import type { Page } from '@playwright/test';
import { zipSync } from 'fflate';
import { writeMidiFile } from '../../src/core/midi/write.ts';
import { bandFile } from '../../src/core/standins/band.ts';
import { expect, test } from './fixtures.ts';

const band = (seed: number) =>
  writeMidiFile(bandFile({ chart: 'Dm | Gm | A7 | Dm', style: 'river', bpm: 84 + seed, seed, title: `Barge ${seed}` })); // prettier-ignore

const archive = zipSync({
  'barges/first.mid': band(1),
  'barges/second.mid': band(2),
  'barges/third.mid': band(3),
  'barges/letter.mid': new TextEncoder().encode('no music'),
  'barges/crate.zip': zipSync({ 'fourth.mid': band(4) }),
});

/** The archive, chosen by a command of the palette. */
async function listenBefore(page: Page) {
  const chosen = page.waitForEvent('filechooser');
  await expect(page.getByRole('table', { name: 'Takes' })).toBeVisible();
  await page.keyboard.press('Control+k');
  await page.getByPlaceholder('What do you want to do?').fill('listen to files before');
  await page.keyboard.press('Enter');
  await (
    await chosen
  ).setFiles({ name: 'barges.zip', mimeType: 'application/zip', buffer: Buffer.from(archive) });
  return page.getByRole('dialog', { name: 'Listen before it is taken in' });
}

test('what an archive holds is heard before it is taken in; what is ticked is taken, by keyboard alone', async ({
  page,
}) => {
  await page.goto('/capture');
  const dialog = await listenBefore(page);
  await expect(dialog.getByRole('status')).toHaveText('5 files in all, 4 can be taken in');
  await expect(dialog.getByRole('row').filter({ hasText: 'letter.mid' })).toContainText(
    'not a Standard MIDI File',
  );
  await expect(dialog.getByRole('row').filter({ hasText: 'fourth.mid' })).toContainText(
    'barges.zip/barges/crate.zip',
  );
  const take = dialog.getByRole('button', { name: /^Take in \d/ });
  await expect(take).toBeDisabled();

  await page.keyboard.press('ArrowDown');
  await page.keyboard.press('Space');
  const bar = page.getByRole('contentinfo');
  await expect(bar).toContainText('first.mid');
  await page.keyboard.press('x');
  // While it sounds, the arrows change what is heard.
  await page.keyboard.press('ArrowDown');
  await expect(bar).toContainText('second.mid');
  await page.keyboard.press('ArrowDown');
  await page.keyboard.press('ArrowDown');
  await page.keyboard.press('x');
  await expect(take).toHaveText('Take in 1 file');
  await page.keyboard.press('ArrowDown');
  await expect(bar).toContainText('fourth.mid');
  await page.keyboard.press('x');
  await expect(take).toHaveText('Take in 2 files');
  await take.focus();
  await page.keyboard.press('Enter');
  await expect(dialog).toHaveCount(0);
  const takes = page.getByRole('table', { name: 'Takes' });
  await expect(takes.getByRole('link', { name: /first/ })).toHaveCount(1);
  await expect(takes.getByRole('link', { name: /fourth/ })).toHaveCount(1);
  await expect(takes.getByRole('link', { name: /second|third/ })).toHaveCount(0);

  // The next time it says what is here already, and all means what is not.
  const again = await listenBefore(page);
  await expect(again.getByRole('status')).toHaveText(
    '5 files in all, 4 can be taken in, 2 of them here already',
  );
  await expect(again.getByRole('row').filter({ hasText: 'here already' })).toHaveText([/first/, /fourth/]);
  await again.getByRole('checkbox', { name: 'All that is not here yet' }).check();
  await expect(again.getByRole('button', { name: /^Take in \d/ })).toHaveText('Take in 2 files');
  await expect(again.getByRole('checkbox', { name: /second/ })).toBeChecked();
  await expect(again.getByRole('checkbox', { name: /first/ })).not.toBeChecked();
});
