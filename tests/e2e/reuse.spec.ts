import type { Page } from '@playwright/test';
import { unzipSync } from 'fflate';
import { readFileSync } from 'node:fs';
import { readTakes } from '../../src/core/capture/take.ts';
import { expect, phraseRows, test } from './fixtures.ts';

/** Chooses phrases of the library by their names. */
async function choose(page: Page, names: readonly string[]): Promise<void> {
  for (const name of names) {
    await page.getByRole('searchbox', { name: 'Search' }).fill(name);
    const row = phraseRows(page).and(page.getByTitle(name, { exact: true }));
    await expect(row).toBeVisible();
    await row.click();
    await page.keyboard.press('x');
    await expect(page.getByRole('group', { name: 'Chosen phrases' })).toBeVisible();
  }
}

test('a strummed guitar, a walking bass, a pad and a tune through other chords: put right, kept, packed', async ({
  page,
  address,
}) => {
  // A basket of its own: others put into those of the demo, and change them.
  const headers = { origin: address };
  const projects = await (await page.request.get('/api/projects')).json();
  const project = projects.projects.find(
    ({ keyTonic, keyMode }: Record<string, unknown>) => keyTonic === 2 && keyMode === 'minor',
  );
  const basket = await (
    await page.request.post('/api/baskets', { data: { name: 'Four ropes', projectId: project.id }, headers })
  ).json();
  await page.addInitScript((id) => localStorage.setItem('basket', id), basket.id);
  await page.goto('/library');
  await choose(page, ['Thistle strum', 'Ferry bass, low walk', 'Fog over water', 'Goose tune']);
  await expect(page.getByRole('group', { name: 'Chosen phrases' })).toContainText('4 phrases chosen');
  await page.keyboard.press('c');
  await expect(page.getByRole('heading', { name: '4 phrases' })).toBeVisible();
  await page.getByRole('textbox', { name: 'Through' }).fill('Eb | Cm Ab | Bb7 | Eb');
  const status = page.getByText(/outside.*in Eb major$/);
  await expect(status).toBeVisible();
  // What falls outside, and what clashes, is told and put right one by one, by the first of its ways.
  const rows = page.getByRole('combobox', { name: /^What to do about/ });
  await expect(rows.first()).toBeVisible();
  const before = await rows.count();
  expect(before).toBeGreaterThanOrEqual(3);
  for (let left = before - 1; left >= before - 3; left--) {
    await rows.first().selectOption({ index: 1 });
    await expect(rows).toHaveCount(left);
  }
  await page.getByRole('button', { name: /^Take back/ }).click();
  await expect(rows).toHaveCount(before - 2);
  await page.keyboard.press('Control+y');
  // As it was, and through the chords: one key, while it sounds.
  await page.keyboard.press(' ');
  await expect(page.getByRole('contentinfo')).toContainText('through Eb');
  await page.keyboard.press('c');
  await expect(page.getByRole('contentinfo')).toContainText('as it was');
  await page.keyboard.press('c');
  await page.keyboard.press(' ');
  await page.getByRole('button', { name: 'Keep 4 children' }).click();
  await expect(page.getByText('Kept 4 children, as a sheaf.')).toBeVisible();
  await expect(page.getByRole('heading', { name: 'through Eb | Cm Ab | Bb7 | Eb' })).toBeVisible();
  await page.getByRole('link', { name: 'Thistle strum', exact: true }).first().click();
  await expect(page.getByRole('heading', { name: 'Through other chords' })).toBeVisible();
  await page.goto('/library?text=through');
  await expect(phraseRows(page)).toHaveCount(4);
  await expect(phraseRows(page).filter({ hasText: 'Eb' })).toHaveCount(4);
  await page.keyboard.press('Control+Shift+A');
  await expect(page.getByRole('group', { name: 'Chosen phrases' })).toContainText('4 phrases chosen');
  await page.keyboard.press('b');
  await expect(page.getByText('4 phrases are in "Four ropes".')).toBeVisible();
  await page.goto('/handoff');
  await page.getByRole('link', { name: /^Four ropes/ }).click();
  const [download] = await Promise.all([
    page.waitForEvent('download'),
    page.getByRole('button', { name: 'Download ZIP' }).click(),
  ]);
  const files = unzipSync(new Uint8Array(readFileSync(await download.path())));
  const packed = Object.entries(files).filter(
    ([name]) => name.endsWith('.mid') && !name.includes('/together/') && /through/i.test(name),
  );
  expect(packed.length).toBe(4);
  for (const [name, bytes] of packed) {
    const [take] = readTakes(bytes);
    // The basket leaves in its project, in D minor: what is in Eb major goes to F major. The tune has notes outside left.
    const inF = [...take!.notes.pitch].filter((pitch) => [5, 7, 9, 10, 0, 2, 4].includes(pitch % 12));
    expect(inF.length / take!.notes.pitch.length, name).toBeGreaterThan(0.7);
  }
});

test('bad chords have their place; chords for a tune are taken bar by bar and kept with a bass', async ({
  page,
}) => {
  await page.goto('/library?text=goose+tune');
  await phraseRows(page)
    .and(page.getByTitle('Goose tune', { exact: true }))
    .click();
  await page.getByRole('link', { name: 'Through other chords' }).click();
  await page.getByRole('textbox', { name: 'Through' }).fill('Em | Hx');
  await expect(page.getByRole('alert')).toContainText('Bar 2: "Hx" is not a chord symbol');
  await expect(page.getByRole('button', { name: 'Keep as a child' })).toBeDisabled();
  await page.goBack();
  await page.getByRole('link', { name: 'Chords for it' }).click();
  await expect(page.getByRole('button', { name: 'Bar 1, plain: Em' })).toBeVisible();
  await page.keyboard.press('ArrowRight');
  const second = await page.getByRole('button', { name: /^Bar 2, plain/ }).getAttribute('aria-label');
  const chord = page.getByRole('textbox', { name: 'Chord of this bar' });
  await expect(chord).toHaveValue(second!.split(': ')[1]!);
  const other = await page.getByTitle('Key 1').textContent();
  await page.keyboard.press('1');
  await expect(page.getByRole('button', { name: `Bar 2, plain: ${other}` })).toBeVisible();
  await page.getByRole('textbox', { name: 'Chord of this bar' }).fill('Am9');
  await page.keyboard.press('Enter');
  await expect(page.getByRole('button', { name: 'Bar 2, plain: Am9' })).toBeVisible();
  await page.getByRole('combobox', { name: 'Bass' }).selectOption('walking');
  await page.getByRole('button', { name: 'Keep the chords and the bass' }).click();
  await expect(page.getByText('Kept the chords and the bass, as a sheaf.')).toBeVisible();
  await expect(page.getByRole('heading', { name: /chords for it: Em \| Am9/ })).toBeVisible();
  await page.keyboard.press('Control+z');
  await expect(page.getByRole('heading', { name: /chords for it: Em \| Am9/ })).toHaveCount(0);
});

test('changes from the tray: put, made longer by their edge, inverted, in a rhythm; kept, the chart of the project, into a band', async ({
  page,
}) => {
  await page.goto('/reuse');
  await page.getByRole('link', { name: 'Write changes' }).click();
  await page.getByRole('combobox', { name: 'Key of the changes' }).selectOption('C major');
  const tray = page.getByRole('region', { name: 'Chords of the key' });
  const line = page.getByRole('group', { name: 'The line of chords' });
  for (const symbol of ['C', 'Am', 'F', 'G7'])
    await tray.getByRole('button', { name: new RegExp(`^${symbol} [iIvV]`) }).click();
  await expect(line.getByRole('button')).toHaveCount(4);
  await expect(line.getByRole('button', { name: /^G7 .*4 beats$/, pressed: true })).toBeVisible();
  // Two bars long by its edge: half of a row of four bars is eight beats.
  const edge = line.locator('[data-edge="3"]');
  const box = (await edge.boundingBox())!;
  const row = (await line.boundingBox())!;
  await page.mouse.move(box.x + box.width / 2, box.y + 10);
  await page.mouse.down();
  await page.mouse.move(box.x + box.width / 2 - row.width / 8, box.y + 10, { steps: 4 });
  await page.mouse.up();
  await expect(line.getByRole('button', { name: /^G7 .*2 beats$/, pressed: true })).toBeVisible();
  await page.keyboard.press('.');
  await page.keyboard.press('.');
  await page.keyboard.press('ArrowLeft');
  await page.getByRole('combobox', { name: 'Its voices' }).selectOption('0');
  await expect(page.getByText('IV: F3 A3 C4')).toBeVisible();
  await page.getByRole('combobox', { name: 'Rhythm' }).selectOption('three three two');
  await page.getByRole('button', { name: 'Step 5: held on' }).click();
  await expect(page.getByRole('button', { name: 'Step 5: silent' })).toBeVisible();
  await page.getByRole('textbox', { name: 'The chord' }).fill('Hx');
  await expect(page.getByRole('alert')).toContainText('not a chord symbol');
  await page.getByRole('textbox', { name: 'The chord' }).fill('F6');
  await page.keyboard.press('Enter');
  await page.getByRole('textbox', { name: 'Name of the changes' }).fill('Two ropes');
  await page.getByRole('button', { name: 'Keep the changes' }).click();
  await expect(page.getByText('The changes are kept under their key.')).toBeVisible();
  await page.getByRole('button', { name: 'Keep as a phrase' }).click();
  await expect(page.getByText('Kept as a phrase in the library.')).toBeVisible();
  await page.getByRole('button', { name: "As the project's chart" }).click();
  await expect(page.getByText(/They are the chart of/)).toBeVisible();
  await page.keyboard.press('Control+z');
  await page.getByRole('button', { name: 'Play into a source' }).click();
  await expect(page.getByLabel('Chart', { exact: true })).toHaveValue('C | Am | F6 | G7');
  await page.goto('/library/harmony');
  await page
    .getByRole('region', { name: 'C major' })
    .getByRole('link', { name: /written here/ })
    .click();
  await expect(line.getByRole('button', { name: /^F6/ })).toBeVisible();
  await page.goto('/library?text=two+ropes');
  await expect(phraseRows(page)).toHaveCount(1);
});

test('an accompaniment is gone through by the arrows and kept; a layer follows', async ({ page }) => {
  await page.goto('/library?text=goose+tune');
  await phraseRows(page)
    .and(page.getByTitle('Goose tune', { exact: true }))
    .click();
  await page.getByRole('link', { name: 'Chords for it' }).click();
  const list = page.getByRole('region', { name: 'Accompaniment' });
  await expect(list.getByRole('button').first()).toBeVisible();
  await page.keyboard.press('ArrowDown');
  await expect(list.getByRole('button', { pressed: true })).toHaveCount(1);
  await page.getByRole('combobox', { name: 'Bass' }).selectOption('kick');
  await page.getByRole('combobox', { name: 'The kick of' }).selectOption({ label: 'Clock case' });
  await page.getByRole('button', { name: 'Keep what sounds with it' }).click();
  await expect(page.getByText('Kept the chords and the bass, as a sheaf.')).toBeVisible();
  await expect(page.getByText(/Kept as a child|children, as a sheaf/)).toBeVisible();
  await page.goto('/library?text=goose+tune');
  await phraseRows(page)
    .and(page.getByTitle('Goose tune', { exact: true }))
    .click();
  await page.getByRole('link', { name: 'A layer of it' }).click();
  await page.getByRole('combobox', { name: 'Its sound' }).selectOption({ label: 'Flute' });
  await page.getByRole('button', { name: 'Keep the layer' }).click();
  await expect(page.getByRole('heading', { name: 'a layer', exact: true })).toBeVisible();
});
