import assert from 'node:assert/strict';
import { mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { after, test } from 'node:test';
import { parseMidi } from 'midi-file';
import { takeFrom } from '../../../src/core/capture/take.ts';
import { clipToMidi } from '../../../src/core/exchange/midi-out.ts';
import { writeMidiFile } from '../../../src/core/midi/write.ts';
import { withPreset } from '../../../src/core/normalize/apply-preset.ts';
import { houseRecipe } from '../../../src/core/normalize/house.ts';
import { applyRecipe, type Recipe } from '../../../src/core/normalize/recipe.ts';
import { LEAVING_PPQ, setResolution } from '../../../src/core/normalize/resolution.ts';
import { clipFromPart, type Clip } from '../../../src/core/phrase/clip.ts';
import { packClipNotes } from '../../../src/core/phrase/pack.ts';
import { seededRandom } from '../../../src/core/random.ts';
import { playingParts, splitTake } from '../../../src/core/split/split.ts';
import { bandFile } from '../../../src/core/standins/band.ts';
import { midicsvEvents, midicsvNotes, withoutMidicsv } from '../../support/midicsv.ts';
import { midoFiles, withoutMido } from '../../support/mido.ts';

const CHARTS = ['Dm | Gm | A7 | Dm', 'G | C | D7 | G', 'Em | Am | B7 | Em', 'F | Bb | C7 | F'];
const STYLES = ['river', 'market', 'clockwork'] as const;

/** Parts of takes that the band plays, each with its own seed. */
function partsOf(count: number): Clip[] {
  const clips: Clip[] = [];
  for (let seed = 1; clips.length < count; seed++) {
    const chart = CHARTS[seed % CHARTS.length]!;
    const style = STYLES[seed % STYLES.length]!;
    const take = takeFrom(
      bandFile({ chart, style, bpm: 80 + (seed % 60), seed, title: 'parts', looseness: 20 }),
    );
    const split = splitTake(take);
    for (const { part } of playingParts(split)) {
      clips.push(clipFromPart(take, split, split.parts.indexOf(part), { tonic: seed % 12, mode: 'minor' }));
    }
  }
  return clips.slice(0, count);
}

/** Another recipe a part: any that people would try. */
function tried(role: Clip['role'], seed: number): Recipe {
  const random = seededRandom(seed);
  const house = houseRecipe(role, { start: 1, count: 2 }, 'minor');
  return withPreset(house, {
    version: 1,
    steps: [
      { step: 'doubles', ms: 10 },
      { step: 'quantize', grid: random() < 0.5 ? '1/16' : '1/8', strength: random() },
      { step: 'humanize', ms: 20 * random(), velocity: 5, seed },
      { step: 'velocity', loud: 0.4 + 0.5 * random(), range: random() },
      { step: 'shift', ms: -60 * random(), early: random() < 0.5 ? 'wrap' : 'pickup' },
      { step: 'transpose', semitones: Math.round(12 * random()) - 6 },
    ],
  });
}

const bytesOf = (clip: Clip) => writeMidiFile(clipToMidi(clip, 'part'));

test('a recipe applied to 1,000 generated parts and taken back: the original bytes, always', () => {
  const parts = partsOf(1000);
  let sounding = 0;
  parts.forEach((clip, i) => {
    const house = houseRecipe(clip.role, { start: 1, count: 2 }, 'minor');
    const [original, kept] = [bytesOf(clip), bytesOf(applyRecipe(clip, house).clip)];
    const other = tried(clip.role, i);
    const changed = applyRecipe(clip, other).clip;
    if (changed.notes.length > 0) sounding++;
    // Taken back is the recipe before applied to the captured notes, which nothing has touched.
    assert.deepEqual(bytesOf(applyRecipe(clip, house).clip), kept);
    const off = { ...other, steps: other.steps.map((step) => ({ ...step, off: true })) };
    assert.deepEqual(bytesOf(applyRecipe(clip, off).clip), original);
    assert.deepEqual(packClipNotes(applyRecipe(clip, other).clip.notes), packClipNotes(changed.notes));
  });
  // A few parts, such as the notes of an ending, have none in the first two bars.
  assert.ok(sounding > 600, `${sounding} of 1,000 had notes to change`);
});

const folder = mkdtempSync(join(tmpdir(), 'basket-normalized-'));
after(() => rmSync(folder, { recursive: true }));

test(
  'written files keep notes, tempo, meter, key, names and controllers, as midi-file, midicsv and mido read them',
  { skip: withoutMidicsv || withoutMido },
  () => {
    const clips = partsOf(60).map((clip, i) => {
      const pedal = [
        { tick: 0, kind: 0xb0, data1: 64, data2: 127 },
        { tick: 1000, kind: 0xb0, data1: 64, data2: 0 },
      ];
      const { clip: kept } = applyRecipe({ ...clip, controls: pedal }, tried(clip.role, i));
      return setResolution(kept, { ppq: LEAVING_PPQ }).clip;
    });
    const paths = clips.map((clip, i) => {
      const path = join(folder, `${i}.mid`);
      writeFileSync(path, writeMidiFile(clipToMidi(clip, `part ${i}`)));
      return path;
    });
    const byMido = midoFiles(paths);
    clips.forEach((clip, i) => {
      const [path, read] = [paths[i]!, byMido[i]!];
      const notes = clip.notes
        .map((note) => [note.tick, note.duration, clip.channel, note.pitch, note.velocity].join(' '))
        .sort();
      assert.deepEqual(midicsvNotes(path), notes, 'midicsv');
      assert.deepEqual([...read.notes].sort(), notes, 'mido');
      assert.equal(read.ppq, LEAVING_PPQ);
      assert.deepEqual(
        read.tempos,
        clip.timeline.tempos.map(({ tick, microseconds }) => [tick, Math.round(microseconds)]),
      );
      assert.deepEqual(
        read.meters,
        clip.timeline.meters.map(({ tick, numerator, denominator }) => [tick, numerator, denominator]),
      );
      assert.equal(read.keys.length, clip.key ? 1 : 0);
      assert.ok(read.names.every((name) => name === `part ${i}`));
      const controls = clip.controls.map(({ tick, data1, data2 }) => `${tick} ${data1} ${data2}`);
      assert.deepEqual(read.controls, controls);
      assert.equal(midicsvEvents(path).filter(({ kind }) => kind === 'Control_c').length, controls.length);
      const parsed = parseMidi(writeMidiFile(clipToMidi(clip, `part ${i}`)));
      const sounding = parsed.tracks.flat().filter((event) => event.type === 'noteOn' && event.velocity > 0);
      assert.equal(sounding.length, notes.length, 'midi-file');
    });
  },
);
