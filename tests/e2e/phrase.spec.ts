import { readFile } from 'node:fs/promises';
import type { Page } from '@playwright/test';
import { parseMidi } from 'midi-file';
import { expect, test } from './fixtures.ts';

test.beforeEach(async ({ page }) => {
  await page.goto('/library?text=ferry+bass');
  await page.getByRole('option', { name: /Ferry bass, low walk/ }).dblclick();
  await expect(page.getByLabel('Name of the phrase')).toHaveValue('Ferry bass, low walk');
});

/** Baskets with the phrase that is open: what is used in several places. */
async function basketsWithIt(page: Page, names: readonly string[]) {
  const id = new URL(page.url()).pathname.split('/').at(-1)!;
  const headers = { origin: new URL(page.url()).origin };
  const baskets: string[] = [];
  for (const name of names) {
    const made = await page.request.post('/api/baskets', { data: { name }, headers });
    const basket = ((await made.json()) as { id: string }).id;
    await page.request.post(`/api/baskets/${basket}/items`, { data: { phraseIds: [id] }, headers });
    baskets.push(basket);
  }
  const remove = async () => {
    for (const basket of baskets) await page.request.delete(`/api/baskets/${basket}`, { headers });
  };
  return { baskets, remove };
}

test('steps are switched, tuned, ordered, added and removed; each can be taken back; saved, it stays', async ({
  page,
}) => {
  const recipe = page.getByRole('region', { name: 'Recipe' });
  await expect(recipe).toContainText('notes moved');
  await recipe.getByRole('switch', { name: 'Quantize on' }).click();
  await expect(recipe).not.toContainText('notes moved');
  await page.getByRole('button', { name: /^Take back Quantize off/ }).click();
  await expect(recipe).toContainText('notes moved');
  await recipe.getByLabel('loud at').fill('60');
  await expect(recipe).toContainText(/loud mark \d+ to 76/);
  await recipe.getByLabel('Add a step').selectOption('shift');
  await recipe.getByLabel('ms, negative is earlier').fill('-12');
  await expect(recipe).toContainText('12 ms earlier');
  await page.reload();
  await expect(recipe).toContainText('12 ms earlier');
  await expect(page.getByRole('button', { name: /^Take back changes that were not saved/ })).toBeVisible();
  await recipe.getByRole('button', { name: 'Move Shift up' }).click();
  await recipe.getByRole('button', { name: 'Remove Register' }).click();
  await expect(recipe.getByRole('heading', { level: 3 })).toHaveText([
    'Bars',
    'Doubles',
    'Quantize',
    'Velocity',
    'Transpose',
    'Pedal',
    'Shift',
    'Controllers',
    'Channel and program',
  ]);

  const { remove } = await basketsWithIt(page, ['Rehearsal', 'Second night']);
  await page.getByLabel('Add tag').fill('Saved by test');
  await page.getByLabel('Add tag').press('Enter');
  await page.getByRole('button', { name: 'Save changes' }).click();
  await page.getByRole('button', { name: 'Change it everywhere' }).click();
  await expect(page.getByText('Saved.', { exact: true })).toBeVisible();
  await remove();
  await page.reload();
  await expect(recipe.getByRole('heading', { level: 3 })).toHaveCount(9);
  await expect(page.getByRole('button', { name: 'Remove tag saved by test' })).toBeVisible();
  await recipe.getByRole('button', { name: 'Presets' }).click();
  await page.getByRole('button', { name: 'House standard, bass' }).click();
  await expect(recipe.getByRole('heading', { level: 3 })).toHaveCount(9);
  await expect(recipe).toContainText(/loud mark \d+ to 108/);
});

test("heard as captured or normalized, in its own key or the project's, at another tempo", async ({
  page,
}) => {
  const bar = page.getByRole('contentinfo');
  await page.keyboard.press('Space');
  await expect(bar).toContainText('normalized, from Ferry crossing');
  await expect(bar).toContainText('D minor');
  await page.keyboard.press('c');
  await expect(bar).toContainText('as captured');
  await bar.getByLabel('Project').selectOption({ label: 'Salt and Thistle' });
  await bar.getByRole('button', { name: "project's" }).click();
  await expect(bar.getByLabel('Tempo')).toHaveValue('118');
  // The same notes before the same tonic: D minor goes to the relative of G major.
  await expect(bar).toContainText('E minor');
  await bar.getByLabel('Tempo').fill('90');
  await expect(bar.getByRole('button', { name: 'Stop' })).toBeVisible();
  await bar.getByLabel('Sound').selectOption({ label: '74 Flute' });
  await bar.getByRole('button', { name: 'Stop' }).click();
});

test('what is exported is what is on the screen, saved or not', async ({ page }) => {
  const recipe = page.getByRole('region', { name: 'Recipe' });
  const exported = async () => {
    const download = page.waitForEvent('download');
    await page.keyboard.press('Control+e');
    const bytes = await readFile(await (await download).path());
    return parseMidi(bytes).tracks.flatMap((track) =>
      track.flatMap((event) => (event.type === 'noteOn' && event.velocity > 0 ? [event.velocity] : [])),
    );
  };
  const saved = await exported();
  await recipe.getByLabel('loud at').fill('35');
  await expect(page.getByRole('button', { name: 'Save changes' })).toBeEnabled();
  const shown = await exported();
  expect(shown.length).toBe(saved.length);
  expect(Math.max(...shown)).toBeLessThan(Math.max(...saved));
  await page.keyboard.press('Control+z');
  expect(await exported()).toEqual(saved);
});

test('a number out of range says what the range is, and goes to the nearest when the field is left', async ({
  page,
}) => {
  const field = page.getByRole('region', { name: 'Recipe' }).getByLabel('loud at');
  const before = await field.inputValue();
  await field.fill('250');
  await expect(page.getByRole('alert').filter({ hasText: /^\d+ to [\d,]+$/ })).toBeVisible();
  await field.blur();
  expect(Number(await field.inputValue())).toBeLessThanOrEqual(100);
  await page.keyboard.press('Control+z');
  await expect(field).toHaveValue(before);
});

test('a pattern with an unknown word, and an empty one, are told where they are typed', async ({ page }) => {
  const recipe = page.getByRole('region', { name: 'Recipe' });
  await recipe.getByLabel('Add a step').selectOption('name');
  const pattern = recipe.getByLabel('pattern');
  await pattern.fill('{take} {nme}');
  await expect(recipe.getByText('There is no {nme}.')).toBeVisible();
  await pattern.fill('');
  await expect(recipe.getByText(/An empty pattern names nothing/)).toBeVisible();
  await pattern.fill('{take} {role}');
  await expect(recipe.getByRole('alert')).toHaveCount(0);
});

test('changed for the first time where it is used in several places, a phrase asks: all of them, or a copy for some', async ({
  page,
}) => {
  const { baskets, remove } = await basketsWithIt(page, ['Rehearsal', 'Second night']);
  const [first, second] = baskets as [string, string];
  const inBasket = async (basket: string) => {
    const answer = await page.request.get(`/api/baskets/${basket}`);
    return ((await answer.json()) as { items: { name: string }[] }).items.map(({ name }) => name);
  };
  await page.getByRole('region', { name: 'Recipe' }).getByLabel('loud at').fill('52');
  await page.keyboard.press('Control+s');
  const dialog = page.getByRole('dialog', { name: /Ferry bass, low walk.* is used in \d places/ });
  await dialog.getByLabel('Second night').check();
  await dialog.getByRole('button', { name: 'A copy for 1 place' }).click();
  await expect(page.getByLabel('Name of the phrase')).toHaveValue('Ferry bass, low walk, own copy');
  expect(await inBasket(first)).toEqual(['Ferry bass, low walk']);
  expect(await inBasket(second)).toEqual(['Ferry bass, low walk, own copy']);
  await page.getByRole('button', { name: /^Take back the copy/ }).click();
  await expect.poll(() => inBasket(second)).toEqual(['Ferry bass, low walk']);
  await remove();
});
