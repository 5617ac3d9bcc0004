import { writeMidiFile } from '../../src/core/midi/write.ts';
import { bandFile } from '../../src/core/standins/band.ts';
import { passFiles } from '../../src/core/standins/performance.ts';
import { standInById } from '../../src/core/standins/stand-ins.ts';
import { expect, test } from './fixtures.ts';

const midi = (name: string, bytes: Uint8Array) => ({
  name,
  mimeType: 'audio/midi',
  buffer: Buffer.from(bytes),
});

test('takes are ticked and edited together, set aside and brought back; each can be taken back', async ({
  page,
}) => {
  await page.goto('/capture?search=stall');
  const rows = page.getByRole('row').filter({ has: page.getByRole('link') });
  await expect(rows).toHaveCount(2);
  await page.getByRole('checkbox', { name: 'Choose all that are loaded' }).check();
  await page.getByRole('button', { name: 'Edit', exact: true }).click();
  const dialog = page.getByRole('dialog', { name: 'Edit 2 takes' });
  await expect(dialog.getByRole('button', { name: 'Change' })).toBeDisabled();
  await dialog.getByLabel('Where they come from').fill('Winter tape');
  await dialog.getByRole('button', { name: 'Change' }).click();
  await expect(rows.filter({ hasText: 'Winter tape' })).toHaveCount(2);
  await page.getByRole('button', { name: 'Take back the change' }).click();
  await expect(rows.filter({ hasText: 'Winter tape' })).toHaveCount(0);

  await page.getByRole('group', { name: 'Chosen takes' }).getByRole('button', { name: 'Set aside' }).click();
  await expect(page.getByText('No take fits this')).toBeVisible();
  await page.getByLabel('Which takes').selectOption('aside');
  await expect(rows).toHaveCount(2);
  await page.getByRole('button', { name: 'Take back setting aside' }).click();
  await page.getByLabel('Which takes').selectOption('');
  await expect(rows).toHaveCount(2);
});

test('passes of one performance are offered as one, joined, and opened with an instrument a part', async ({
  page,
}) => {
  const band = standInById('band');
  const passes = passFiles({ ...band.play({ ...band.defaults, seed: 71 }), title: 'Pier' });
  await page.goto('/capture');
  await page
    .getByLabel('MIDI files')
    .setInputFiles(passes.map(({ name, midi: file }) => midi(`${name}.mid`, writeMidiFile(file))));
  const intake = page.getByRole('region', { name: 'Intake' });
  await expect(intake).toContainText(`${passes.length} files look like passes of one performance`);
  await intake.getByRole('button', { name: 'Join to one take' }).click();
  await expect(page.getByLabel('Name of the take')).toHaveValue('Pier');
  await expect(page.getByRole('list', { name: 'Parts' }).getByRole('listitem')).toHaveCount(passes.length);
  await page.goto('/capture?search=pier&filter=aside');
  await expect(page.getByRole('status').first()).toHaveText(`${passes.length} takes`);
});

test('of one file, parts that are unticked are set aside, and come back when they are ticked again', async ({
  page,
}) => {
  const file = bandFile({ chart: 'C | F | G | C', style: 'river', bpm: 101, seed: 72, title: 'Jetty' });
  await page.goto('/capture');
  await page.getByLabel('MIDI files').setInputFiles([midi('jetty.mid', writeMidiFile(file))]);
  const choice = page.getByRole('group', { name: 'What of it is taken' });
  const keys = choice.getByRole('checkbox', { name: /^Keys/ });
  await expect(keys).toBeChecked();
  // The tick goes when the move is made, a moment after the click.
  await keys.click();
  await expect(keys).not.toBeChecked();
  await expect(choice.getByText('aside', { exact: true })).toBeVisible();
  await page.getByRole('region', { name: 'Intake' }).getByRole('link', { name: 'jetty.mid' }).click();
  const tally = page.getByRole('region', { name: 'Tally' });
  await expect(tally).not.toContainText(' 0 set aside');
  await expect(tally).toContainText('balanced');
  await page.goto('/capture');
  await keys.click();
  await expect(keys).toBeChecked();
  await page.getByRole('region', { name: 'Intake' }).getByRole('link', { name: 'jetty.mid' }).click();
  await expect(tally).toContainText('0 set aside');
});

test('a press on a column orders the takes, the next turns them round; columns are hidden and stay so', async ({
  page,
}) => {
  await page.goto('/capture');
  const table = page.getByRole('table', { name: 'Takes' });
  const head = table.getByRole('columnheader', { name: 'Notes' });
  const notes = async () => {
    const at = await table.getByRole('columnheader').allTextContents();
    const cells = await table
      .getByRole('row')
      .filter({ has: page.getByRole('link') })
      .all();
    const texts = await Promise.all(cells.slice(0, 8).map((row) => row.getByRole('cell').nth(at.indexOf('Notes')).innerText())); // prettier-ignore
    return texts.map((text) => Number(text.replace(',', '')));
  };
  await head.getByRole('button').click();
  await expect(page).toHaveURL(/sort=notes/);
  await expect(head).toHaveAttribute('aria-sort', 'descending');
  await expect.poll(async () => (await notes()).every((count, k, all) => k === 0 || count <= all[k - 1]!)).toBe(true); // prettier-ignore
  const most = (await notes())[0]!;
  await page.keyboard.press('Enter');
  await expect(head).toHaveAttribute('aria-sort', 'ascending');
  await expect.poll(async () => (await notes())[0]).toBeLessThan(most);
  expect((await notes()).every((count, k, all) => k === 0 || count >= all[k - 1]!)).toBe(true);

  await page.getByRole('button', { name: 'Columns' }).click();
  await page.getByRole('checkbox', { name: 'Meter' }).uncheck();
  await page.keyboard.press('Escape');
  await page.reload();
  await expect(head).toHaveAttribute('aria-sort', 'ascending');
  await expect(table.getByRole('columnheader', { name: 'Meter' })).toHaveCount(0);
});

test('what is out of its range is told where it is typed, and nothing is changed', async ({ page }) => {
  await page.goto('/capture?search=stall');
  await page.getByRole('checkbox', { name: 'Choose all that are loaded' }).check();
  await page.getByRole('button', { name: 'Edit', exact: true }).click();
  const dialog = page.getByRole('dialog', { name: 'Edit 2 takes' });
  await dialog.getByLabel('BPM').fill('5000');
  await expect(dialog.getByRole('alert')).toHaveText('BPM from 20 to 400.');
  await expect(dialog.getByRole('button', { name: 'Change' })).toBeDisabled();
  await dialog.getByLabel('BPM').fill('118');
  await expect(dialog.getByRole('alert')).toHaveCount(0);
  await dialog.getByRole('button', { name: 'Change' }).click();
  await expect(dialog).toHaveCount(0);
});
