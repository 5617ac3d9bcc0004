import { writeMidiFile } from '../../src/core/midi/write.ts';
import { expect, strands, test } from './fixtures.ts';
import { fileOf, trackOf, type NoteSpec } from '../support/midi.ts';
import type { Page } from '@playwright/test';

async function openTake(page: Page, search: string, name: string): Promise<void> {
  await page.goto(`/capture?search=${search}`);
  await page.getByRole('link', { name }).click();
  await expect(strands(page).getByRole('listitem')).toHaveCount(9);
  // What the analysis proposes comes a moment later, and stands above the strands.
  await expect(page.getByRole('group', { name: 'Chord line' })).toBeVisible();
}

const worth = (page: Page) => page.getByRole('region', { name: 'Worth a look' });
const tally = (page: Page) => page.getByRole('region', { name: 'Tally' });

test('by keyboard alone: a take with six mishaps becomes clean strands, and all can be taken back', async ({
  page,
}) => {
  await openTake(page, 'storm', 'Storm on the crossing');
  await expect(worth(page)).toContainText('Worth a look, 6');
  // One after the other: the doubles are refused first and asked for again, the rest is accepted.
  await page.keyboard.press('p');
  await expect(worth(page).locator('[aria-current=true]')).toContainText('3 tracks of one bass');
  await page.keyboard.press('y');
  await expect(strands(page).getByRole('listitem')).toHaveCount(7);
  await page.keyboard.press('p');
  await expect(worth(page).locator('[aria-current=true]')).toContainText('"Kit" on channel 1 is a drum kit');
  await page.keyboard.press('x');
  await expect(worth(page)).toContainText('Worth a look, 4');
  await page.keyboard.press('Control+z');
  await expect(worth(page)).toContainText('Worth a look, 5');
  await page.keyboard.press('Shift+Y');
  await expect(worth(page)).toContainText('Worth a look, 2');
  await expect(tally(page)).toContainText(/set aside: \d+ doubled, 32 click/);
  // The bar that nobody asked for, which the analysis has found, and the layer: joined to the part it doubles.
  await expect(worth(page).locator('[aria-current=true]')).toContainText('1 bar after the chart');
  await page.keyboard.press('y');
  await expect(worth(page)).toContainText('Worth a look, 1');
  await expect(tally(page)).toContainText('tail bars');
  await page.keyboard.press('y');
  await expect(worth(page)).toHaveCount(0);
  await expect(strands(page).getByRole('listitem')).toHaveCount(5);
  // Two bars of all parts, chosen and set aside by keys.
  await page.keyboard.press('ArrowUp');
  for (let i = 0; i < 5; i++) await page.keyboard.press('ArrowUp');
  for (let i = 0; i < 4; i++) await page.keyboard.press('Shift+ArrowDown');
  for (let i = 0; i < 7; i++) await page.keyboard.press('ArrowRight');
  for (let i = 0; i < 2; i++) await page.keyboard.press('Shift+ArrowLeft');
  await expect(page.getByLabel('Bars', { exact: true })).toHaveValue('7');
  await expect(page.getByLabel('to', { exact: true })).toHaveValue('8');
  const saved = page.waitForResponse((answer) => answer.url().endsWith('/moves'));
  await page.keyboard.press('b');
  await saved;
  await expect(tally(page)).toContainText('bars 7 to 8');
  await expect(tally(page)).toContainText('balanced');
  await expect(strands(page).getByRole('button', { name: /^(Kit|Bass|Keys|Guitar|Pad)$/ })).toHaveCount(5);

  const history = page.getByRole('region', { name: 'History' });
  await expect(history.getByRole('listitem')).toHaveCount(6);
  await page.reload();
  await expect(history.getByRole('listitem')).toHaveCount(6);
  await history.getByRole('button', { name: 'as it was captured' }).press('Enter');
  await expect(strands(page).getByRole('listitem')).toHaveCount(9);
  await expect(tally(page)).toContainText('0 set aside');
  await page.keyboard.press('Control+y');
  await expect(strands(page).getByRole('listitem')).toHaveCount(7);
});

test('by mouse: another take with six mishaps; strands are dropped on each other, notes are taken along', async ({
  page,
}) => {
  await openTake(page, 'riot', 'Riot among the baskets');
  const row = (name: string) =>
    strands(page)
      .getByRole('listitem')
      .filter({ has: page.getByRole('button', { name, exact: true }) });
  const drop = async (from: string, onto: string) => {
    const start = (await row(from).getByRole('button', { name: from, exact: true }).boundingBox())!;
    const end = (await row(onto).getByRole('button', { name: onto, exact: true }).boundingBox())!;
    await page.mouse.move(start.x + 20, start.y + 8);
    await page.mouse.down();
    await page.mouse.move(start.x + 24, start.y + 20, { steps: 4 });
    await page.mouse.move(end.x + 20, end.y + 8, { steps: 8 });
    await page.mouse.up();
  };
  await drop('Bass pickup', 'Bass');
  await expect(strands(page).getByRole('listitem')).toHaveCount(8);
  await drop('Bass ending', 'Bass');
  await expect(strands(page).getByRole('listitem')).toHaveCount(7);
  await worth(page)
    .getByRole('button', { name: /^As drums/ })
    .click();
  await worth(page)
    .getByRole('button', { name: /^Keep as wood block/ })
    .click();
  await worth(page)
    .getByRole('button', { name: /^Set "Pad layer" aside/ })
    .click();
  await worth(page)
    .getByRole('button', { name: /^Set aside: 1 bar after the chart/ })
    .click();
  await expect(worth(page)).toHaveCount(0);
  await expect(strands(page).getByRole('listitem')).toHaveCount(6);

  // The note that never ended, taken out of the bass by a box around it: a part of its own, then set aside.
  await page.getByRole('group', { name: 'Dragging chooses' }).getByRole('button', { name: 'notes' }).click();
  const strand = (await page.locator('[data-strand=Bass]').boundingBox())!;
  await page.mouse.move(strand.x + strand.width * 0.62, strand.y + 4);
  await page.mouse.down();
  await page.mouse.move(strand.x + strand.width * 0.7, strand.y + strand.height - 4, { steps: 5 });
  await page.mouse.up();
  const notes = page.getByRole('region', { name: 'Chosen notes' });
  await expect(notes).toContainText(/\d+ notes? chosen/);
  await notes.getByRole('button', { name: 'Give to a part' }).click();
  await page.getByRole('dialog').getByRole('button', { name: 'A part of their own' }).click();
  await expect(row('Bass, taken out')).toBeVisible();
  await row('Bass, taken out').getByRole('button', { name: 'What to do with Bass, taken out' }).click();
  await page.getByRole('menuitem', { name: 'Set aside' }).click();
  await expect(strands(page).getByRole('listitem')).toHaveCount(6);
  await expect(tally(page)).toContainText('balanced');
  await expect(tally(page)).toContainText('not wanted');
});

test('a keyboard part is taken apart into two hands and given back note by note; a kit into its pieces', async ({
  page,
}) => {
  // Roots and fifths under a tune that goes up and down the scale.
  const roots = [48, 45, 41, 43];
  const scale = [67, 69, 71, 72, 74, 76, 77, 79, 77, 76, 74, 72];
  const left = Array.from({ length: 32 }, (_, i): NoteSpec => {
    return [i * 480, 440, roots[(i >> 2) % 4]! + (i % 2) * 7, 80];
  });
  const right = Array.from({ length: 64 }, (_, i): NoteSpec => [i * 240, 200, scale[i % 12]!, 90]);
  const kit: NoteSpec[] = Array.from({ length: 64 }, (_, i) => [
    i * 240,
    60,
    [36, 42, 38, 42][i % 4]!,
    100,
    9,
  ]);
  const bytes = writeMidiFile(fileOf([trackOf([...left, ...right]), trackOf(kit)]));
  await page.goto('/capture');
  await page
    .getByLabel('MIDI files')
    .setInputFiles([{ name: 'Gangway.mid', mimeType: 'audio/midi', buffer: Buffer.from(bytes) }]);
  await page.getByRole('region', { name: 'Intake' }).getByRole('link', { name: 'Gangway' }).click();
  await expect(worth(page)).toContainText('is two hands: take it apart?');
  await page.keyboard.press('d');
  const dialog = page.getByRole('dialog');
  await expect(dialog.getByRole('region', { name: 'What comes of it' })).toContainText('64 notes');
  await dialog.getByRole('button', { name: 'Take apart' }).click();
  const rows = strands(page).getByRole('listitem');
  await expect(rows).toHaveCount(3);
  await expect(rows.filter({ hasText: 'left hand' })).toContainText('32');

  await rows
    .filter({ hasText: 'left hand' })
    .getByRole('button', { name: 'Acoustic Grand Piano, left hand', exact: true })
    .click();
  await page.keyboard.press('Control+a');
  await expect(page.getByRole('region', { name: 'Chosen notes' })).toContainText('32 notes chosen');
  await page.keyboard.press('g');
  await page
    .getByRole('dialog')
    .getByRole('button', { name: /right hand/ })
    .click();
  await expect(rows).toHaveCount(2);

  await strands(page).getByRole('button', { name: 'Drum kit', exact: true }).click();
  await page.keyboard.press('d');
  await dialog.getByRole('button', { name: 'Take apart' }).click();
  await expect(rows).toHaveCount(4);
  const [one] = await Promise.all([
    page.waitForEvent('download'),
    page.getByRole('link', { name: 'Export .mid' }).click(),
  ]);
  expect(one.suggestedFilename()).toBe('Drum-kit-kick.mid');
});

test('a take of one clean part is kept from its row, and says what was done', async ({ page }) => {
  await page.goto('/capture?search=oar');
  await page.getByRole('button', { name: 'Keep Oar song kit' }).click();
  await expect(page.getByText(/is kept in the library/)).toBeVisible();
  await expect(page.getByText(/notes moved/)).toBeVisible();
  await page.getByRole('button', { name: 'Take back keeping it' }).click();
  await expect(page.getByRole('button', { name: 'Keep Oar song kit' })).toBeVisible();
});
