import { writeMidiFile } from '../../src/core/midi/write.ts';
import { bandFile, type BandRequest } from '../../src/core/standins/band.ts';
import { expect, phraseRows, strands, test } from './fixtures.ts';

const CHARTS = ['Dm | Gm | A7 | Dm', 'G | C | D7 | G', 'Em | Am | B7 | Em', 'F | Bb | C7 | F'];

const file = (name: string, seed: number, more: Partial<BandRequest>) => ({
  name,
  mimeType: 'audio/midi',
  buffer: Buffer.from(
    writeMidiFile(
      bandFile({
        chart: CHARTS[seed % CHARTS.length]!,
        style: 'river',
        bpm: 84 + 3 * seed,
        seed: 500 + seed,
        title: name,
        looseness: 20,
        ...more,
      }),
    ),
  ),
});

/** Ten takes of three sources; those of the first have its habits: a bass in three tracks, a kit on channel 1, two tail bars. */
const SOURCES = [
  { source: 'Market box', count: 3, more: { style: 'market' as const } },
  { source: 'River box', count: 4, more: { mishaps: [] } },
  { source: 'Clock box', count: 3, more: { style: 'clockwork' as const, mishaps: [] } },
];

test("a new user's evening: ten takes of three sources to forty phrases; the third take takes one click", async ({
  page,
}) => {
  test.setTimeout(180_000);
  await page.goto('/capture');
  let seed = 0;
  for (const { source, count, more } of SOURCES) {
    await page.getByLabel('Where they come from').fill(source);
    const files = Array.from({ length: count }, (_, i) => file(`${source} ${i + 1}.mid`, seed++, more));
    await page.getByLabel('MIDI files').setInputFiles(files);
    const intake = page.getByRole('region', { name: 'Intake' });
    await expect(intake.getByRole('link', { name: `${source} ${count}.mid` })).toBeVisible();
    await expect(intake.getByRole('listitem').filter({ hasText: 'taken in' })).toHaveCount(count);
  }

  // The first take of a source: eight things are put right by hand.
  const open = async (name: string) => {
    await page.goto(`/capture?search=${encodeURIComponent(name)}`);
    await page.getByRole('link', { name, exact: true }).first().click();
    await expect(page.getByText('balanced', { exact: true })).toBeVisible();
    await expect(page.getByRole('group', { name: 'Chord line' })).toBeVisible();
  };
  await open('Market box 1');
  const worth = page.getByRole('region', { name: 'Worth a look' });
  const changes = page.getByRole('button', { name: /^Take back/ });
  await worth.getByRole('button', { name: /^Merge:/ }).click();
  await worth.getByRole('button', { name: /^As drums:/ }).click();
  const part = (name: string) => strands(page).getByRole('listitem').filter({ hasText: name });
  const choose = (name: string) => part(name).click({ position: { x: 60, y: 16 } });
  const rename = async (from: string, to: string) => {
    await choose(from);
    await page.getByLabel('Name of the part').fill(to);
    await page.getByLabel('Name of the part').press('Enter');
    await expect(part(to)).toBeVisible();
  };
  await rename('Kit', 'Booth kit');
  await rename('Pad', 'Bellows');
  await choose('Guitar');
  await page.getByLabel('Role', { exact: true }).selectOption('lead');
  await expect(changes).toHaveAccessibleName(/lead/);
  await choose('Keys');
  await page.getByLabel('Role', { exact: true }).selectOption('arpeggio');
  await expect(changes).toHaveAccessibleName(/arpeggio/);
  await page.getByLabel('How much the part counts for the chords').selectOption('0.5');
  await expect(changes).toHaveAccessibleName(/50 %/);
  await choose('Bellows');
  await page.getByLabel('Role', { exact: true }).selectOption('strings');
  await expect(changes).toHaveAccessibleName(/strings/);

  // The second and the third: one.
  for (const take of ['Market box 2', 'Market box 3']) {
    await open(take);
    await worth.getByRole('button', { name: /^As usual: As usual for Market box/ }).click();
    await expect(strands(page).getByRole('listitem')).toHaveCount(5);
    for (const name of ['Booth kit', 'Bellows']) await expect(part(name)).toBeVisible();
    await expect(part('Guitar')).toContainText('Lead');
    await expect(part('Keys')).toContainText('Arpeggio');
    await expect(worth.getByRole('button', { name: /^As usual/ })).toHaveCount(0);
    await page.getByRole('button', { name: /^Take back as usual for Market box/ }).click();
    await expect(strands(page).getByRole('listitem')).toHaveCount(7);
    // It is on the screen before it is written: the next page must not be opened in between.
    const written = page.waitForResponse((answer) => answer.url().endsWith('/redo') && answer.ok());
    await page.keyboard.press('Control+y');
    await expect(strands(page).getByRole('listitem')).toHaveCount(5);
    await written;
  }

  // All ten to drafts, each by the house recipe of its role; and kept.
  await page.goto('/capture?search=box');
  const rows = page.getByRole('row').filter({ hasText: /(Market|River|Clock) box \d/ });
  await expect(rows).toHaveCount(10);
  await page.getByRole('checkbox', { name: /all/i }).first().check();
  await page.getByRole('button', { name: 'Make phrases' }).click();
  await expect(page.getByRole('heading', { name: 'Drafts' })).toBeVisible({ timeout: 60_000 });
  const keep = page.getByRole('button', { name: /^Keep all \d+/ });
  const made = Number(/\d+/.exec((await keep.textContent()) ?? '')![0]);
  expect(made).toBeGreaterThanOrEqual(40);

  // At the house standard: its recipe would change none of them.
  await page.getByRole('button', { name: 'Recipe ...' }).click();
  await page.getByRole('button', { name: 'See what would change' }).click();
  await expect(page.getByRole('status').first()).toContainText(/Nothing would change; \d+ are so already/, {
    timeout: 30_000,
  });
  await page.getByRole('link', { name: 'Drafts', exact: true }).click();
  await page.getByRole('button', { name: /^Keep all/ }).click();
  await expect(page.getByText(/^Kept \d+ phrases/)).toBeVisible();
  await page.goto('/library?text=market+box');
  await expect(phraseRows(page).first()).toBeVisible();
  await expect(page.getByText('15 phrases', { exact: true })).toBeVisible();
});

test('notes are changed by hand, by keyboard and by mouse; saved, it stays, and each can be taken back', async ({
  page,
}) => {
  await page.goto('/library?text=rope+strum');
  await page.getByRole('option', { name: /Rope strum/ }).dblclick();
  const chosen = page.getByRole('group', { name: 'Chosen notes' });
  const notes = page.getByText(/^\d+ notes in it/);
  await expect(notes).toBeVisible();
  const before = parseInt((await notes.textContent())!, 10);
  await page.keyboard.press('ArrowRight');
  await expect(chosen).toContainText(/bar 1 beat 1/);
  await page.keyboard.press('Delete');
  await expect(notes).toHaveText(new RegExp(`^${before - 1} notes.*1 left deleted by hand`));
  await page.getByRole('button', { name: /^Take back delete/ }).click();
  await expect(notes).toHaveText(new RegExp(`^${before} notes`));
  await page.keyboard.press('ArrowRight');
  await page.keyboard.press('Shift+ArrowDown');
  await chosen.getByLabel('Velocity of the chosen notes').fill('17');
  await chosen.getByRole('button', { name: 'Add a note' }).click();
  await expect(page.getByRole('region', { name: 'Recipe' })).toContainText('1 note changed, 1 added');
  await page.getByRole('button', { name: 'Save changes' }).click();
  await expect(page.getByText('Saved.', { exact: true })).toBeVisible();
  await page.reload();
  await expect(notes).toHaveText(new RegExp(`^${before + 1} notes`));
  await expect(page.getByRole('region', { name: 'Recipe' })).toContainText('1 note changed, 1 added');

  // A box around everything chooses everything; a bar of the graph chooses its own.
  const picture = page.getByRole('img', { name: /notes over 2 bars/ });
  const box = (await picture.boundingBox())!;
  await page.mouse.move(box.x + 44, box.y + 28);
  await page.mouse.down();
  await page.mouse.move(box.x + box.width - 4, box.y + box.height - 4, { steps: 4 });
  await page.mouse.up();
  await expect(chosen).toContainText(`${before + 1} notes, velocity 17 to`);
  await page.keyboard.press('Escape');
  await expect(chosen).toContainText('No note chosen');
  const graph = page.getByRole('group', { name: /^Velocity, loud notes/ });
  await graph.focus();
  await page.keyboard.press('ArrowRight');
  await expect(chosen).toContainText('velocity 17');
});

test('heard and seen anywhere between captured and normalized; the sheaf behind; the seam', async ({
  page,
}) => {
  await page.goto('/library?text=crossing+verse');
  await page.getByRole('option', { name: /Crossing verse, keys/ }).dblclick();
  const slider = page.getByRole('slider', { name: 'From captured to normalized' });
  await slider.focus();
  for (let i = 0; i < 5; i++) await page.keyboard.press('PageDown');
  await page.getByRole('heading', { name: 'Recipe' }).click();
  await page.keyboard.press('Space');
  const bar = page.getByRole('contentinfo');
  await expect(bar).toContainText('50 % of the way to normalized, from Ferry crossing');
  await page.keyboard.press('c');
  await expect(bar).toContainText('as captured');
  await page.getByLabel('with the rest of its sheaf').check();
  await expect(page.getByRole('button', { name: /^\d+ clash/ })).toBeVisible();
  await page.getByRole('button', { name: 'The seam' }).click();
  await page.getByRole('button', { name: 'Hear the seam' }).click();
  await expect(bar).toContainText('The seam of Crossing verse, keys');
  await bar.getByRole('button', { name: 'Stop' }).click();
});

test('a recipe is kept as a preset and put on another phrase; an order that gives no sense is refused', async ({
  page,
}) => {
  await page.goto('/library?text=lamp+pole');
  await page.getByRole('option', { name: /Lamp pole/ }).dblclick();
  const recipe = page.getByRole('region', { name: 'Recipe' });
  await recipe.getByLabel('Add a step').selectOption('switches');
  await recipe.getByLabel('Add a step').selectOption('transpose');
  const down = recipe.getByRole('button', { name: 'Move Key switches down' });
  const refused = page.getByText(/Key switches .* cannot come after/).first();
  while (!(await refused.isVisible()) && (await down.isEnabled())) await down.click();
  await expect(refused).toBeVisible();
  await recipe.getByLabel('loud at').fill('50');
  await recipe.getByRole('button', { name: 'Presets' }).click();
  await page.getByLabel('Name of the new preset').fill('Under the pole');
  await page.getByRole('button', { name: 'Keep', exact: true }).click();
  await expect(page.getByText('Preset "Under the pole" is kept.')).toBeVisible();
  await page.keyboard.press('Escape');

  await page.goto('/library?text=anchor+chain');
  await page.getByRole('option', { name: /Anchor chain/ }).dblclick();
  await recipe.getByRole('button', { name: 'Presets' }).click();
  await page.getByRole('button', { name: /Under the pole \d+ steps/ }).click();
  await expect(recipe).toContainText(/loud mark \d+ to 64/);
  await expect(recipe.getByRole('spinbutton', { name: 'count' })).toHaveValue('8');
  await page.getByRole('button', { name: /^Take back preset "Under the pole"/ }).click();
  await expect(recipe).not.toContainText(/to 64/);
});

test('the house standard is changed, shown to the library as a batch, applied, and taken back', async ({
  page,
}) => {
  await page.goto('/house');
  await page.getByLabel('Naming pattern of new phrases').fill('{role} {nmae}');
  await expect(page.getByRole('alert')).toContainText('There is no {nmae}');
  await page.getByLabel('Naming pattern of new phrases').fill('{role}');
  await expect(page.getByText(/names of \d+ phrases would clash/)).toBeVisible();
  await page.getByRole('button', { name: /^Take back naming pattern/ }).click();
  await page.getByLabel('Loud at, pad').fill('40');
  await page.getByRole('button', { name: 'Save', exact: true }).click();
  await expect(page.getByText(/^Saved. What is kept already/)).toBeVisible();

  await page.goto('/library?role=pad');
  await page.getByRole('button', { name: 'Recipe for all ...' }).click();
  await page.getByRole('button', { name: 'See what would change' }).click();
  const apply = page.getByRole('button', { name: /^Apply to \d+ phrases/ });
  await expect(apply).toBeVisible();
  await expect(page.getByRole('table', { name: 'What would change' })).toContainText('to 51');
  await apply.click();
  await expect(page.getByRole('status').first()).toContainText(/phrases changed/);
  await page.getByRole('button', { name: 'Take back' }).click();
  await expect(page.getByRole('status').first()).toContainText('Taken back: every phrase is as it was');
  await page.goto('/house');
  await page.getByRole('button', { name: 'As it came' }).click();
  await page.getByRole('button', { name: 'Save', exact: true }).click();
  await expect(page.getByText(/^Saved. What is kept already/)).toBeVisible();
});

test('a feel is kept and put on another phrase; a fitting is baked in; crashes and other pieces stay as played', async ({
  page,
}) => {
  await page.goto('/library?text=street+at+dusk');
  await page.getByRole('option', { name: /Street at dusk/ }).dblclick();
  const recipe = page.getByRole('region', { name: 'Recipe' });
  await page.getByRole('button', { name: 'Keep its feel ...' }).click();
  await page.getByLabel('Name of the feel').fill('Dusk');
  await page.getByRole('button', { name: 'Keep', exact: true }).click();
  await expect(page.getByText('The feel "Dusk" is kept.')).toBeVisible();
  await recipe.getByRole('button', { name: 'snare', exact: true }).click();
  await expect(recipe).toContainText('snare, crash as played');

  await page.goto('/library?text=rope+strum');
  await page.getByRole('option', { name: /Rope strum/ }).dblclick();
  await recipe.getByLabel('Add a step').selectOption('feel');
  await recipe.getByLabel('feel', { exact: true }).selectOption({ label: 'Dusk' });
  await expect(recipe).toContainText(/of \d+ notes; timing 100 %, accents 0 %/);
  const fitting = page.getByRole('region', { name: 'Fitting' });
  await expect(fitting.getByLabel('fitting ms')).toHaveValue('-30');
  await fitting.getByRole('button', { name: 'Bake in' }).click();
  await expect(fitting.getByLabel('fitting ms')).toHaveValue('0');
  await expect(recipe).toContainText(/notes 30 ms earlier/);
});
