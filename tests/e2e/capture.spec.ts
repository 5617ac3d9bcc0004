import { writeMidiFile } from '../../src/core/midi/write.ts';
import { bandFile } from '../../src/core/standins/band.ts';
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

test('files can be dropped anywhere on the view', async ({ page }) => {
  await page.goto('/capture');
  await expect(page.getByRole('table')).toBeVisible();
  const data = await page.evaluateHandle(
    (bytes) => {
      const transfer = new DataTransfer();
      transfer.items.add(new File([new Uint8Array(bytes)], 'dropped.mid'));
      return transfer;
    },
    [...song],
  );
  await page.getByRole('table').dispatchEvent('drop', { dataTransfer: data });
  await expect(page.getByRole('region', { name: 'Intake' })).toContainText(/dropped\.mid/);
});

test('an unknown address and a take that does not exist say so', async ({ page }) => {
  await page.goto('/nowhere');
  await expect(page.getByText('There is nothing at this address')).toBeVisible();
  await page.goto('/split/00000000-0000-4000-8000-000000000000');
  await expect(page.getByText('There is no such take')).toBeVisible();
});
