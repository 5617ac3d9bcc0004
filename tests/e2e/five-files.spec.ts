import { mkdirSync, mkdtempSync, readFileSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { basename, join } from 'node:path';
import { unzipSync } from 'fflate';
import { parseMidi } from 'midi-file';
import { readTakes } from '../../src/core/capture/take.ts';
import { barStart } from '../../src/core/music/timeline.ts';
import { partNotes, splitTake } from '../../src/core/split/split.ts';
import { midicsvNotes, withoutMidicsv } from '../support/midicsv.ts';
import { openmsxFiles, withoutOpenmsx } from '../support/openmsx.ts';
import { expect, phraseRows, strands, test } from './fixtures.ts';

/** Five real files of several styles and sizes. */
const FILES = ['busy_schedule', 'chuggachugga', 'harp_harmony', 'modern_motion', 'relax_song'].map((name) =>
  openmsxFiles.find((path) => basename(path) === `${name}.mid`),
);

test.skip(withoutOpenmsx !== false, String(withoutOpenmsx));

test('five real files: in, apart, a loop of four bars, normalized, into a basket, out as one ZIP', async ({
  page,
}) => {
  test.setTimeout(180_000);
  await page.goto('/handoff');
  await page.getByLabel('Name of a new basket').fill('Five real files');
  await page.getByRole('button', { name: 'Make basket' }).click();
  await expect(page.getByText('The basket is empty')).toBeVisible();
  // Every pitch as it came: a basket for a project would leave in its key.
  await page.getByLabel('Key and tempo in which they leave').selectOption('as captured');

  await page.getByRole('link', { name: /^Capture/ }).click();
  await page.getByLabel('MIDI files').setInputFiles(FILES as string[]);
  const intake = page.getByRole('region', { name: 'Intake' });
  await expect(intake.getByRole('listitem').filter({ hasText: 'taken in' })).toHaveCount(5);

  const expected = new Map<string, number[]>();
  for (const path of FILES as string[]) {
    const { part, partName, startBar, pitches } = loopOf(path);
    await page.getByRole('link', { name: /^Capture/ }).click();
    await intake.getByRole('link', { name: basename(path) }).click();
    const strand = strands(page).getByRole('listitem').nth(part);
    await expect(strand).toContainText(partName);
    await strand.click({ position: { x: 60, y: 16 } });
    await expect(page.getByText('balanced', { exact: true })).toBeVisible();
    await page.getByLabel('Bars', { exact: true }).fill(String(startBar));
    await page.getByLabel('to', { exact: true }).fill(String(startBar + 3));
    await page.getByRole('button', { name: 'Make a phrase of it' }).click();

    await expect(page.getByRole('region', { name: 'Recipe' })).toBeVisible();
    // Every note at its pitch, moved only in time and force: what comes out can be counted.
    for (const step of ['Transpose', 'Register', 'Doubles']) {
      const toggle = page.getByRole('switch', { name: `${step} on` });
      if ((await toggle.count()) > 0) await toggle.click();
    }
    const name = `Loop of ${basename(path, '.mid')}`;
    await page.getByLabel('Name of the phrase').fill(name);
    await page.getByRole('button', { name: 'Keep in library' }).click();
    await expect(page.getByText(`"${name}" is kept in the library.`)).toBeVisible();
    expected.set(name, pitches.sort());

    await page.getByRole('link', { name: /^Library/ }).click();
    await page.getByLabel('Search').fill(name);
    await expect(phraseRows(page)).toHaveCount(1);
    await page.getByRole('button', { name: 'Put into basket' }).click();
    await expect(page.getByText(`"${name}" is in "Five real files".`)).toBeVisible();
  }

  await page.getByRole('link', { name: '5 phrases in it' }).click();
  await page.getByLabel('Naming pattern').fill('{number} {name}');
  await expect(page.getByText('01-Loop-of-busy_schedule.mid').first()).toBeVisible();
  const downloading = page.waitForEvent('download');
  await page.getByRole('button', { name: 'Download ZIP' }).click();
  const packed = unzipSync(readFileSync(await (await downloading).path()));
  // All in one folder of the basket's name.
  const root = Object.keys(packed)[0]!.split('/')[0]!;
  const files = Object.fromEntries(
    Object.entries(packed).map(([name, bytes]) => [name.replace(`${root}/`, ''), bytes]),
  );
  expect(Object.keys(files)).toHaveLength(5 + 3);

  const folder = mkdtempSync(join(tmpdir(), 'basket-zip-'));
  mkdirSync(folder, { recursive: true });
  const manifest = JSON.parse(new TextDecoder().decode(files['manifest.json']));
  for (const phrase of manifest.phrases) {
    const pitches = expected.get(phrase.name)!;
    expect(phrase.notes).toBe(pitches.length);
    const bytes = files[phrase.file]!;
    const events = parseMidi(bytes).tracks.flat();
    const read = events.flatMap((event) => (event.type === 'noteOn' ? [event.noteNumber] : []));
    expect(read.sort(), phrase.name).toEqual(pitches);
    const file = join(folder, phrase.file.replaceAll('/', '_'));
    writeFileSync(file, bytes);
    if (withoutMidicsv) continue;
    const pitchesOf = midicsvNotes(file).map((note) => Number(note.split(' ')[3]));
    expect(pitchesOf.sort(), phrase.name).toEqual(pitches);
  }
});

/** Four bars in which a part of the file plays without crossing into them, and the pitches in them. */
function loopOf(path: string) {
  const take = readTakes(readFileSync(path))[0]!;
  const split = splitTake(take);
  const { timeline } = take.timing;
  for (let startBar = 5; ; startBar += 4) {
    const start = barStart(timeline, startBar);
    const end = barStart(timeline, startBar + 4);
    // What is played a 32nd ahead of a bar line belongs to it (the house recipe's "early").
    const early = timeline.ppq / 8;
    for (const [part] of split.parts.entries()) {
      const inside = partNotes(split, part).filter(
        (i) => take.notes.tick[i]! >= start - early && take.notes.tick[i]! < end - early,
      );
      if (inside.length >= 8) {
        return {
          part,
          partName: split.parts[part]!.name,
          startBar,
          pitches: inside.map((i) => take.notes.pitch[i]!),
        };
      }
    }
  }
}
