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
  await sheet.getByRole('columnheader').nth(1).getByRole('button').first().click();
  await page.getByRole('button', { name: 'Keep the section' }).click();
  await expect(page.getByText(/^Kept "Opening, A" as a sheaf of 3/)).toBeVisible();
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
  // They are there once all that they are found from is.
  await expect(refuse.first()).toBeVisible();
  const before = await refuse.count();
  await refuse.first().click();
  await expect(refuse).toHaveCount(before - 1);
  await expect(page.getByRole('status').filter({ hasText: 'BPM' })).not.toContainText('not saved yet');
  await page.reload();
  await expect(refuse).toHaveCount(before - 1);
});

test('by mouse: a phrase and a whole sheaf fall onto the sheet; changes here or everywhere; a copy of its own; ways out of a clash', async ({
  page,
}) => {
  await page.goto('/reuse/weave');
  await page.getByRole('textbox', { name: 'Title' }).fill('By mouse');
  await page.getByRole('textbox', { name: 'Sections' }).fill('A: Dm | A7; B: Gm | C | F | Bb; form: A Q');
  await expect(page.getByRole('alert').first()).toContainText('no such section');
  await page.getByRole('textbox', { name: 'Sections' }).fill('A: Dm | A7; B: Gm | C | F | Bb; form: A B A');
  await page.getByRole('button', { name: 'Begin a weave' }).click();
  const sheet = page.getByRole('table', { name: 'The weave' });
  const heads = sheet.getByRole('columnheader');
  await expect(heads.nth(2)).toContainText('Gm | C | F | Bb');
  await page.getByRole('button', { name: 'From the library' }).click();
  const library = page.getByRole('region', { name: 'From the library' });
  await page.getByRole('searchbox', { name: 'Find phrases for the sheet' }).fill('stalls open');
  const sheaf = library.getByRole('button', { name: 'Sheaf of Stalls open, bass' });
  const drag = async (from: typeof sheaf, to: typeof sheaf) => {
    await from.scrollIntoViewIfNeeded();
    const a = (await from.boundingBox())!;
    await page.mouse.move(a.x + a.width / 2, a.y + a.height / 2);
    await page.mouse.down();
    await page.mouse.move(a.x - 40, a.y + 10, { steps: 4 });
    // The sheet may still be making room for what fell before: where it is let go is looked up last.
    for (const steps of [8, 2]) {
      const b = (await to.boundingBox())!;
      await page.mouse.move(b.x + b.width / 2, b.y + b.height / 2, { steps });
      // As long as a hand takes to see where it is.
      await page.waitForTimeout(150);
    }
    await page.mouse.up();
  };
  await expect(library.getByRole('listitem')).toHaveCount(3);
  await drag(sheaf, heads.nth(1));
  // Each part of the sheaf has a row of its own.
  await expect(sheet.getByRole('rowheader')).toHaveCount(3);
  await expect(sheet.getByRole('button', { name: /^bass in A: Stalls open, bass/ })).toHaveCount(1);
  const bass = library.getByRole('button', { name: /^Stalls open, bass/ }).first();
  await drag(bass, sheet.getByRole('button', { name: 'bass in B: empty' }));
  await expect(sheet.getByRole('button', { name: /^bass in B: Stalls open, bass/ })).toHaveCount(1);
  // A change holds here only, until somebody says everywhere.
  await page.getByRole('button', { name: 'This place' }).click();
  await sheet.getByRole('button', { name: /^bass in B/ }).click();
  await page.keyboard.press('m');
  await expect(page.getByText('Changed here only; its phrase stands in 2 places.')).toBeVisible();
  const silent = sheet.getByRole('button', { name: /^bass in .*silent/ });
  await expect(silent).toHaveCount(1);
  await page.getByRole('radio', { name: 'in all 2 places' }).check();
  await expect(silent).toHaveCount(2);
  await page.keyboard.press('m');
  await expect(silent).toHaveCount(0);
  await page.getByRole('button', { name: 'Its own copy' }).click();
  await expect(sheet.getByRole('button', { name: /^bass in B: Stalls open, bass, own copy/ })).toHaveCount(1);
  await expect(page.getByRole('button', { name: 'Its own copy' })).toHaveCount(0);
  // Two basses at once clash; one of them falls silent by its way.
  await page.getByRole('combobox', { name: 'Add a part' }).selectOption('bass');
  await sheet.getByRole('button', { name: 'bass 2 in A: empty' }).first().click();
  await page
    .getByRole('list', { name: 'What could stand here' })
    .getByRole('button', { name: /^Lamp pole/ })
    .click();
  await heads.nth(1).getByRole('button').first().click();
  const clashes = page.getByRole('region', { name: 'Clashes' });
  const two = clashes.getByRole('listitem').filter({ hasText: 'two basses' }).first();
  await expect(two).toBeVisible();
  await two.getByRole('button', { name: 'bass 2 silent here' }).click();
  await expect(clashes.getByRole('listitem').filter({ hasText: 'two basses' })).toHaveCount(0);
  // What it all came from is drawn.
  await expect(page.getByRole('status').filter({ hasText: 'BPM' })).not.toContainText('not saved yet');
  await page.getByRole('link', { name: 'Lineage' }).click();
  await expect(page.getByRole('heading', { name: 'Lineage of By mouse' })).toBeVisible();
  await expect(
    page.getByRole('link', { name: /^Stalls open, bass, own copy\s*a copy of its own/ }),
  ).toBeVisible();
});

test('a take laid out as a weave: a part is replaced all along by another groove, while it plays', async ({
  page,
}) => {
  await page.goto('/reuse/weave');
  await page.getByText('Or laid out as a take was').click();
  await page.getByRole('searchbox', { name: 'Find a take' }).fill('Market opening');
  await page.getByRole('button', { name: 'With its parts of Market opening' }).click();
  const sheet = page.getByRole('table', { name: 'The weave' });
  await expect(sheet.getByRole('rowheader').first()).toBeVisible();
  await expect(page.getByRole('heading', { name: 'Market opening' })).toBeVisible();
  await expect(sheet.getByRole('button', { name: /^Kit in .: Market opening, kit/ })).toHaveCount(2);
  await page.keyboard.press(' ');
  await expect(page.getByRole('button', { name: 'Stop', exact: true }).first()).toBeVisible();
  const bass = sheet.getByRole('rowheader').filter({ hasText: /^Bass$/ });
  await bass.getByRole('button').first().click();
  const candidates = page.getByRole('list', { name: 'All along in its place' }).getByRole('button');
  await expect(candidates.first()).toBeVisible();
  await page.keyboard.press('.');
  const chosen = page.getByRole('list', { name: 'All along in its place' }).locator('[aria-pressed=true]');
  await expect(chosen).toHaveCount(1);
  // It goes on playing, with the other groove from the next bar line on.
  await expect(page.getByRole('button', { name: 'Stop', exact: true }).first()).toBeVisible();
  await page.keyboard.press(' ');
});

test("another weave is there, and a colleague works on this one: parts are brought in, what they do appears, and Ctrl Z is for one's own", async ({
  page,
  baseURL,
}) => {
  await page.goto('/reuse/weave');
  await page.getByRole('link', { name: 'Stalls open' }).click();
  const sheet = page.getByRole('table', { name: 'The weave' });
  const rows = sheet.getByRole('rowheader');
  await expect(rows.first()).toBeVisible();
  const before = await rows.count();
  await page.getByRole('button', { name: 'Bring parts in' }).click();
  const dialog = page.getByRole('dialog', { name: 'Bring parts in' });
  await dialog.getByLabel('From').selectOption('Crossing by lantern');
  await dialog.getByLabel('Pad', { exact: true }).check();
  await dialog.getByRole('button', { name: 'Hear Pad' }).click();
  await dialog.getByLabel('sections that are not here, at the end').check();
  await dialog.getByRole('button', { name: 'Bring 1 part in' }).click();
  await expect(rows).toHaveCount(before + 1);
  await expect(page.getByText('not saved yet')).toHaveCount(0);
  // A colleague adds a part meanwhile.
  const path = `/api/weaves/${page.url().split('/').at(-1)}`;
  const { weave } = (await (await page.request.get(path)).json()) as { weave: { parts: object[] } };
  const part = { id: 'p77', name: 'Bells of a colleague', role: 'keys', program: null, level: 1, pan: null };
  const theirs = { ...weave, parts: [...weave.parts, part] };
  const put = await page.request.put(path, { headers: { origin: baseURL! }, data: { base: weave, weave: theirs } }); // prettier-ignore
  expect(put.status()).toBe(200);
  await expect(rows.filter({ hasText: 'Bells of a colleague' })).toBeVisible();
  // What was done here is taken back, and theirs stays.
  await page.keyboard.press('Control+z');
  await expect(rows.filter({ hasText: 'Pad' })).toHaveCount(0);
  await expect(rows.filter({ hasText: 'Bells of a colleague' })).toBeVisible();
  await expect(page.getByText('not saved yet')).toHaveCount(0);
  const kept = (await (await page.request.get(path)).json()) as { weave: { parts: { name: string }[] } };
  expect(kept.weave.parts.map(({ name }) => name)).toContain('Bells of a colleague');
  expect(kept.weave.parts.map(({ name }) => name)).not.toContain('Pad');
});
