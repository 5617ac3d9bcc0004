import assert from 'node:assert/strict';
import { test } from 'node:test';
import fc from 'fast-check';
import { parseKey } from '../../../src/core/music/key.ts';
import { metricalWeight } from '../../../src/core/music/metrical.ts';
import { DENSITY_FACTORS, setDensity } from '../../../src/core/normalize/density.ts';
import { endPhrase } from '../../../src/core/normalize/ending.ts';
import { layer } from '../../../src/core/normalize/layer.ts';
import { setOctave } from '../../../src/core/normalize/octave.ts';
import { ticksToSeconds } from '../../../src/core/music/timeline.ts';
import type { Clip } from '../../../src/core/phrase/clip.ts';
import { strokesIn } from '../../../src/core/vary/strokes.ts';
import { barOf } from '../../support/clips.ts';
import { PLAYED_ROLES, playedPhrase } from '../../support/played-phrases.ts';

const LEVELS = [-3, -2, -1, 0, 1, 2, 3] as const;

test('metrical weights of 4/4 and 3/4 are those of Longuet-Higgins & Lee 1984 (table from memory)', () => {
  const weights = (beats: number, denominator = 4, by = 0.25) =>
    Array.from({ length: beats / by }, (_, k) => metricalWeight(k * by, { numerator: beats, denominator }));
  assert.deepEqual(weights(4), [0, -4, -3, -4, -2, -4, -3, -4, -1, -4, -3, -4, -2, -4, -3, -4]);
  assert.deepEqual(weights(3), [0, -3, -2, -3, -1, -3, -2, -3, -1, -3, -2, -3]);
  assert.deepEqual(weights(6, 8, 1), [0, -2, -2, -1, -2, -2]);
});

/** A groove of two bars: kick, backbeat, hats in eighths, ghosts, a crash. */
function groove(): Clip {
  const hits: [number, number, number][] = [];
  for (let bar = 0; bar < 2; bar++) {
    const at = (beat: number) => bar * 1920 + beat * 480;
    for (const beat of [0, 1.5, 2]) hits.push([at(beat), 36, 100]);
    for (const beat of [1, 3]) hits.push([at(beat), 38, 105]);
    for (const beat of [1.75, 2.25]) hits.push([at(beat), 38, 30]);
    for (let eighth = 0; eighth < 8; eighth++) hits.push([at(eighth / 2), 42, eighth % 2 ? 60 : 80]);
  }
  hits.push([0, 49, 110]);
  const notes = hits
    .sort((a, b) => a[0] - b[0] || a[1] - b[1])
    .map(([tick, pitch, velocity], origin) => ({ tick, duration: 60, pitch, velocity, release: 64, origin }));
  return { ...barOf([]), notes, length: 3840, role: 'drums' };
}

const keysOf = (clip: Clip) =>
  new Set(clip.notes.map(({ tick, pitch, origin }) => `${tick}/${pitch}/${origin < 0}`));

test('each level has the strokes of the calmer ones, nothing that stays moves, and the tally is kept', () => {
  fc.assert(
    fc.property(fc.constantFrom(...PLAYED_ROLES), fc.nat(5000), fc.nat(20), (role, seed, chosen) => {
      const clip = playedPhrase(role, 'C | Am F | Dm | G', parseKey('C')!, seed);
      const over = 'C | Am F | Dm | G';
      const results = LEVELS.map((level) => setDensity(clip, { level, seed: chosen, over }));
      const keys = results.map((result) => keysOf(result.clip));
      for (let k = 1; k < keys.length; k++)
        for (const key of keys[k - 1]!) assert.ok(keys[k]!.has(key), `level ${LEVELS[k]} lost ${key}`);
      const own = new Map(clip.notes.map((note) => [note.origin, note]));
      for (const { clip: result, setAside } of results) {
        for (const note of result.notes) if (note.origin >= 0) assert.deepEqual(note, own.get(note.origin));
        const kept = new Set(result.notes.map(({ origin }) => origin));
        const aside = new Set(setAside.flatMap(({ origins }) => origins));
        for (const { origin } of clip.notes) assert.ok(kept.has(origin) !== aside.has(origin));
      }
      const strokes = strokesIn(clip).length;
      assert.ok(strokesIn(results[2]!.clip).length >= Math.round(strokes * DENSITY_FACTORS[2]) - 1);
    }),
    { numRuns: 60 },
  );
});

test('a calmer groove: ghosts leave first; kick on one, backbeat and crash are the last to go', () => {
  const clip = groove();
  const hitsAt = (level: number) => setDensity(clip, { level }).clip.notes;
  const ghosts = (notes: Clip['notes']) => notes.filter(({ velocity }) => velocity < 40).length;
  assert.equal(ghosts(clip.notes), 4);
  assert.equal(ghosts(hitsAt(-1)), 0);
  const calmest = hitsAt(-3);
  const has = (tick: number, pitch: number) =>
    calmest.some((note) => note.tick === tick && note.pitch === pitch);
  for (const bar of [0, 1920]) assert.ok(has(bar, 36) && has(bar + 480, 38) && has(bar + 1440, 38));
  assert.ok(has(0, 49));
  assert.match(setDensity(clip, { level: -2 }).summary, /^31 to 16 strokes$/);
});

test('a busier groove gets ghosts between 25 and 40, a kick before three, hats twice as fast; no two hits on one place', () => {
  const clip = groove();
  const { clip: busy } = setDensity(clip, { level: 3, seed: 4 });
  const added = busy.notes.filter(({ origin }) => origin < 0);
  assert.ok(added.length > 10);
  for (const { pitch, velocity } of added)
    if (pitch === 38) assert.ok(velocity >= 25 && velocity <= 40, `a ghost of ${velocity}`);
  const places = busy.notes.map(({ tick, pitch }) => `${Math.round(tick / 120)}/${pitch}`);
  assert.equal(new Set(places).size, places.length);
  for (const { tick } of added) assert.equal(tick % 120, 0, 'on the sixteenth');
});

test("a busier line stays within MIDI's notes: what would lead out of them strikes the note again", () => {
  for (const [role, pitches] of [
    ['lead', [0, 126]],
    ['lead', [127, 127]],
    ['bass', [0, 0]],
  ] as const) {
    const struck = pitches.map((pitch, k) => [k * 960, 400, pitch] as [number, number, number]);
    const clip = { ...barOf(struck, { role }), key: parseKey('Bb minor')! };
    const added = setDensity(clip, { level: 3, seed: 1 }).clip.notes.filter(({ origin }) => origin < 0);
    assert.ok(added.length > 0);
    for (const { pitch } of added) assert.ok(pitch >= 0 && pitch <= 127, `${role}: ${pitch}`);
  }
});

test('ghosts are as soft as the seed says, the same for the same seed', () => {
  const ghosts = (seed: number) =>
    setDensity(groove(), { level: 3, seed }).clip.notes.filter(({ origin }) => origin < 0);
  assert.deepEqual(ghosts(4), ghosts(4));
  const softness = (seed: number) =>
    ghosts(seed)
      .map(({ velocity }) => velocity)
      .join();
  assert.notEqual(softness(4), softness(5));
});

test('an octave: all or some beats; key switches and what would leave MIDI stay', () => {
  const clip = barOf(
    [
      [0, 100, 60],
      [960, 100, 64],
      [960, 100, 120],
      [0, 50, 20],
    ],
    { locked: [3] },
  );
  assert.deepEqual(
    setOctave(clip, { by: 1 }).clip.notes.map(({ pitch }) => pitch),
    [20, 72, 76, 120],
  );
  assert.deepEqual(
    setOctave(clip, { by: -1, from: 2, to: 4 }).clip.notes.map(({ pitch }) => pitch),
    [20, 60, 52, 108],
  );
});

test('a layer: an octave up, softer, late, in another sound', () => {
  const clip = barOf([
    [0, 400, 60],
    [960, 400, 64],
  ]);
  const { clip: result } = layer(clip, { octave: 1, level: 0.5, lateMs: 25, program: 49, pan: 90 });
  assert.deepEqual(
    result.notes.map(({ tick, pitch, velocity }) => [tick, pitch, velocity]),
    [
      [24, 72, 50],
      [984, 76, 50],
    ],
  );
  assert.equal(result.program, 48);
  assert.deepEqual(result.controls, [{ tick: 0, kind: 0xb0, data1: 10, data2: 90 }]);
});

test('an ending by role: kick and crash; one stroke; the last chord held; shakers out; slower to 85 %', () => {
  const after = (clip: Clip, as: 'ring' | 'stop' | 'slower' = 'ring') =>
    endPhrase(clip, { as, bars: 2 }).clip.notes.filter(({ tick }) => tick >= clip.length);
  assert.deepEqual(
    after(groove()).map(({ pitch }) => pitch),
    [36, 49],
  );
  const chord = [60, 64, 67].map((pitch) => [0, 900, pitch] as const);
  const held = after(barOf(chord, { role: 'pad' }));
  assert.deepEqual(
    held.map(({ tick, duration, pitch }) => [tick, duration, pitch]),
    [60, 64, 67].map((pitch) => [1920, 3840, pitch]),
  );
  assert.ok(after(barOf(chord, { role: 'guitar' })).every(({ duration }) => duration === 960));
  assert.ok(after(barOf(chord, { role: 'keys' }), 'stop').every(({ duration }) => duration === 240));
  assert.equal(after(barOf([[0, 10, 70]], { role: 'percussion' })).length, 0);
  const slower = endPhrase(barOf(chord), { as: 'slower', bars: 1 }).clip;
  assert.equal(slower.length, 3840);
  const last = slower.timeline.tempos.at(-1)!;
  assert.equal(Math.round(60_000_000 / last.microseconds), 102, '85 % of 120 BPM');
  assert.ok(ticksToSeconds(slower.timeline, 1920) > 2);
  const short = endPhrase({ ...barOf(chord), length: 1900 }, { as: 'slower', bars: 1 }).clip;
  assert.equal(short.timeline.tempos[0]!.tick, 0, 'what is shorter than a bar slows down from its beginning');
});
