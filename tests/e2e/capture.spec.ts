import { writeMidiFile } from '../../src/core/midi/write.ts';
import { bandFile } from '../../src/core/standins/band.ts';
import type { Page } from '@playwright/test';
import { expect, test } from './fixtures.ts';

const song = Buffer.from(
  writeMidiFile(bandFile({ chart: 'C | F | G | C', style: 'market', bpm: 110, seed: 99, title: 'Quay' })),
);

test("files are read before one's eyes; a refused one is named with its reason while the rest goes on", async ({
  page,
}) => {
  await page.goto('/capture');
  const file = (name: string, buffer: Buffer) => ({ name, mimeType: 'audio/midi', buffer });
  await page.getByLabel('Where they come from').fill('Quay box');
  await page
    .getByLabel('MIDI files')
    .setInputFiles([
      file('letter.mid', Buffer.from('not music')),
      file('quay.mid', song),
      file('quay copy.mid', song),
    ]);
  const intake = page.getByRole('region', { name: 'Intake' });
  await expect(intake).toContainText('This is not a Standard MIDI File');
  await expect(intake.getByRole('listitem').nth(0)).toContainText('refused');
  await expect(intake.getByRole('listitem').nth(1)).toContainText('taken in');
  await expect(intake.getByRole('listitem').nth(1)).toContainText('format 1, 9 tracks');
  await expect(intake.getByRole('listitem').nth(2)).toContainText('already here, byte for byte');
  await expect(page.getByRole('row', { name: /quay/ })).toContainText('Quay box');
  await page.reload();
  await expect(intake).toContainText('This is not a Standard MIDI File');
});

/** What is dragged in: the song as a file of a name. */
function dragged(page: Page, name: string) {
  return page.evaluateHandle(
    ([bytes, file]) => {
      const transfer = new DataTransfer();
      transfer.items.add(new File([new Uint8Array(bytes)], file));
      return transfer;
    },
    [[...song], name] as const,
  );
}

test('files can be dropped in every view, and are taken in there', async ({ page }) => {
  for (const view of ['capture', 'split', 'normalize', 'library', 'house', 'handoff']) {
    await page.goto(`/${view}`);
    const place = page.locator('main h1, main h2, main [role=listbox]').first();
    await expect(place).toBeVisible();
    await place.dispatchEvent('drop', { dataTransfer: await dragged(page, `dropped into ${view}.mid`) });
    await expect(
      page
        .getByText(view === 'capture' ? 'dropped into capture.mid' : /^Files: 1 (taken in|already here)/)
        .first(),
    ).toBeVisible();
    await page.goto('/capture');
    await expect(page.getByRole('region', { name: 'Intake' })).toContainText(`dropped into ${view}.mid`);
  }
});

test('files that are dropped while a recording goes on are taken in, and the recording goes on', async ({
  page,
}) => {
  await page.goto('/capture/live');
  for (const sound of ['Click', 'Stand-ins sound'])
    await page.getByRole('button', { name: sound, exact: true }).click();
  await page.getByRole('checkbox', { name: 'Record Step grid', exact: true }).check();
  const recording = page.getByRole('region', { name: 'Recording' });
  await recording.getByLabel('Count-in, bars').fill('0');
  await page.getByRole('button', { name: 'Record', exact: true }).click();
  await expect(recording.getByLabel('Bar and beat')).toHaveText(/^1 \. /);
  await recording.dispatchEvent('drop', { dataTransfer: await dragged(page, 'meanwhile.mid') });
  await expect(page.getByText(/^Files: 1 (taken in|already here)/)).toBeVisible();
  await expect(recording.getByLabel('Bar and beat')).toHaveText(/^2 \. /);
  await page.keyboard.press('r');
  await expect(page.getByRole('region', { name: 'The take' })).toBeVisible();
  await page.goto('/capture');
  await expect(page.getByRole('region', { name: 'Intake' })).toContainText('meanwhile.mid');
});

test('an unknown address and a take that does not exist say so', async ({ page }) => {
  await page.goto('/nowhere');
  await expect(page.getByText('There is nothing at this address')).toBeVisible();
  await page.goto('/split/00000000-0000-4000-8000-000000000000');
  await expect(page.getByText('There is no such take')).toBeVisible();
});
