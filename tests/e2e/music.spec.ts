import type { Page } from '@playwright/test';
import { expect, strands, test } from './fixtures.ts';

async function open(page: Page, search: string, name: string): Promise<void> {
  await page.goto(`/capture?search=${search}`);
  await page.getByRole('link', { name }).click();
  await expect(strands(page)).toBeVisible();
  await expect(chordLine(page)).toBeVisible();
}

const worth = (page: Page) => page.getByRole('region', { name: 'Worth a look' });
const chordLine = (page: Page) => page.getByRole('group', { name: 'Chord line' });
const chords = (page: Page) => chordLine(page).getByRole('button');
const saved = (page: Page) => page.waitForResponse((answer) => answer.url().endsWith('/moves'));

test('by keyboard: a take that starts late is pulled to bar one, its chart checked, and a suspended chord mended', async ({
  page,
}) => {
  await open(page, 'tide', 'Tide turning');
  await expect(worth(page)).toContainText('Starts late by 1.5 beats: pull to bar 1?');
  await page.keyboard.press('y');
  await expect(chords(page).first()).toContainText('Dm');
  const chart = page.getByRole('list', { name: 'What the chart asks for' });
  await expect(chart.getByRole('listitem').filter({ hasText: '≠' })).not.toHaveCount(0);
  await expect(worth(page)).toContainText('asked Gsus4, sounded G: move B to C?');
  const mends = await worth(page).getByRole('button', { name: /^Move/ }).count();
  for (let left = mends; left > 0; left--) {
    const answer = saved(page);
    await worth(page).getByRole('button', { name: /^Move/ }).first().press('Enter');
    await answer;
    await expect(worth(page).getByRole('button', { name: /^Move/ })).toHaveCount(left - 1);
  }
  await expect(chart.getByRole('listitem').filter({ hasText: '≠' })).toHaveCount(0);
  await expect(chords(page).nth(1)).toContainText('Gsus4');
});

test('a chord is corrected, split and given back by keyboard; what was corrected stays and is shown', async ({
  page,
}) => {
  await open(page, 'far', 'Far bank');
  const first = (await chords(page).first().innerText()).split(/\s/)[0]!;
  await page.keyboard.press('h');
  await expect(chords(page).first()).toBeFocused();
  await page.keyboard.press('ArrowRight');
  await expect(chords(page).nth(1)).toBeFocused();
  await page.keyboard.press('ArrowLeft');
  await page.keyboard.press('Enter');
  const field = page.getByRole('textbox', { name: 'Chord' });
  await field.fill('Zz9');
  await expect(page.getByRole('alert')).toContainText('"Zz9" is not a chord symbol');
  await field.fill('Cmaj7/E');
  let answer = saved(page);
  await field.press('Enter');
  await answer;
  await expect(chords(page).first()).toContainText('Cmaj7/E');
  await expect(chords(page).first()).toHaveAttribute('title', /by hand/);
  await page.reload();
  await expect(chords(page).first()).toContainText('Cmaj7/E');

  const count = await chords(page).count();
  await chords(page).first().click();
  answer = saved(page);
  await page.getByRole('button', { name: 'Split in two' }).click();
  await answer;
  await expect(chords(page)).toHaveCount(count + 1);
  await page.keyboard.press('Control+z');
  await expect(chords(page)).toHaveCount(count);
  await page.keyboard.press('Control+z');
  await expect(chords(page).first()).toContainText(first);
  await expect(chords(page).first()).not.toHaveAttribute('title', /by hand/);
});

test('a take played to no click is put on its bars, and back as captured', async ({ page }) => {
  await open(page, 'lamps', 'Lamps going out');
  await expect(worth(page)).toContainText('put the take on the bars it is played in, 4/4');
  await worth(page)
    .getByRole('button', { name: /^On its bars/ })
    .click();
  await expect(page.getByRole('img', { name: /Tempo from \d+ to \d+ BPM/ })).toBeVisible();
  await expect(chords(page)).toHaveCount(12);
  await page.getByRole('button', { name: 'as captured', exact: true }).click();
  await expect(page.getByRole('img', { name: /Tempo from/ })).toHaveCount(0);
  await expect(worth(page)).toContainText('put the take on the bars');
});

test('loops: listened to, the seam heard, kept by a key, all at once; each can be taken back', async ({
  page,
}) => {
  await open(page, 'ferry band', 'Ferry band');
  const loops = page.getByRole('region', { name: 'Loops' });
  await expect(loops).toContainText('Bars 1 to 4');
  await expect(loops).toContainText('Clean seam');
  const bar = page.getByRole('contentinfo');
  await page.keyboard.press('r');
  await expect(bar.getByRole('button', { name: 'Stop' })).toBeVisible();
  await expect(page.getByLabel('to', { exact: true })).toHaveValue('4');
  await page.keyboard.press('Shift+R');
  await expect(bar).toContainText('the seam');
  await page.keyboard.press('Control+ ');
  await page.keyboard.press('k');
  await expect(page.getByText('A loop, bars 1 to 4, is kept')).toBeVisible();
  await loops.getByRole('button', { name: /Keep the best loop of all 5 parts/ }).click();
  // The one that the key has kept is not kept twice.
  await expect(page.getByText(/^4 loops are kept/)).toBeVisible();
  await expect(page.getByText('1 of them were kept already.')).toBeVisible();
  await page.getByRole('button', { name: 'Take back keeping' }).first().click();
});

test('a section is named, and its changes are kept and found again under the harmony of the library', async ({
  page,
}) => {
  await open(page, 'two banks', 'Two banks, two keys');
  await expect(page.getByRole('group', { name: 'Sections' }).getByRole('button')).toHaveCount(2);
  await page.getByRole('button', { name: /^Section B/ }).click();
  await page.getByRole('textbox', { name: 'Name', exact: true }).fill('Far shore');
  await page.getByRole('button', { name: 'Set', exact: true }).click();
  await page.getByRole('button', { name: /^Section Far shore/ }).click();
  await page.getByRole('button', { name: 'Keep the changes' }).click();
  await expect(page.getByText(/The changes ".*Far shore.*" are kept/)).toBeVisible();

  await page.goto('/library');
  await expect(page.getByRole('link', { name: 'Harmony' })).toBeVisible();
  await page.keyboard.press('h');
  const kept = page.getByRole('complementary', { name: 'Kept changes' });
  await expect(kept).toContainText('Eb major');
  const names = kept.getByLabel('Name of the changes');
  await expect(names).toHaveCount(4);
  const values = await names.evaluateAll((fields) =>
    fields.map((field) => (field as HTMLInputElement).value),
  );
  expect(values).toContain('Two banks, two keys, Far shore, bars 9 to 16');
  await kept.getByRole('button', { name: 'Listen' }).first().press('Enter');
  await expect(page.getByRole('contentinfo').getByRole('button', { name: 'Stop' })).toBeVisible();
  await page.keyboard.press('Control+ ');
  // Every figure leads to its phrases; the parts of a sheaf are counted once, and all of them are listed.
  const moves = page.getByRole('region', { name: 'Common moves' }).getByRole('link').first();
  const count = Number((await moves.innerText()).match(/\d+$/)![0]);
  await moves.press('Enter');
  const found = page.getByRole('status').filter({ hasText: /\d phrases/ });
  await expect(found).not.toHaveText('38 phrases');
  expect(Number((await found.innerText()).match(/\d+/)![0])).toBeGreaterThanOrEqual(count);
  await page.getByRole('button', { name: /^goes / }).click();
  await expect(page.getByRole('button', { name: /^goes / })).toHaveCount(0);
});

test('a chart with a symbol that is read in two ways is asked about once, and then held against what sounded', async ({
  page,
}) => {
  await open(page, 'far', 'Far bank');
  const id = page.url().split('/').at(-1);
  const origin = new URL(page.url()).origin;
  await page.request.patch('/api/takes', {
    data: { ids: [id], asked: { chart: 'Dm | A2 | Bb/D | A2' } },
    headers: { origin },
  });
  await page.reload();
  const question = page.getByRole('status').filter({ hasText: 'which is meant?' });
  await expect(question).toContainText('"A2" is read as Asus2 by some, as Aadd9 by others');
  await question.getByRole('button', { name: 'Asus2' }).click();
  await expect(question).toHaveCount(0);
  const chart = page.getByRole('list', { name: 'What the chart asks for' });
  await expect(chart.getByRole('listitem').filter({ hasText: 'Asus2 ≠' })).toHaveCount(4);
  await expect(worth(page)).toContainText('asked Asus2, sounded A: move C# to B?');
});
