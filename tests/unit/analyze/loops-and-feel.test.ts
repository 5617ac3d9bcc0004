import assert from 'node:assert/strict';
import { test } from 'node:test';
import { analyzeTake } from '../../../src/core/analyze/analysis.ts';
import { findFeel } from '../../../src/core/analyze/feel.ts';
import { findLoops } from '../../../src/core/analyze/loops.ts';
import { findSections } from '../../../src/core/analyze/sections.ts';
import type { Take } from '../../../src/core/capture/take.ts';
import { swung } from '../../../src/core/standins/hand.ts';
import { seededRandom } from '../../../src/core/random.ts';
import { splitTake } from '../../../src/core/split/split.ts';
import { takeOf, trackOf, type NoteSpec } from '../../support/midi.ts';

const all = (take: Take) => [...Array(take.notes.length).keys()];

/** Some bars of a made pattern: eighths of pitches drawn by the seed. */
function pattern(bars: number, seed: number): NoteSpec[][] {
  const random = seededRandom(seed);
  return Array.from({ length: bars }, () =>
    Array.from({ length: 8 }, (_, i) => i)
      .filter(() => random() < 0.7)
      .map((i): NoteSpec => [i * 240, 200, 48 + Math.floor(random() * 24)]),
  );
}

const played = (bars: readonly NoteSpec[][]): Take =>
  takeOf([
    trackOf(
      bars.flatMap((bar, at) =>
        bar.map(([tick, length, pitch]): NoteSpec => [at * 1920 + tick, length, pitch]),
      ),
    ),
  ]);

test('the made period and its first bar are found, plain, with fills, odd, nested, and after an intro', () => {
  let right = 0;
  const cases: [period: number, repeats: number, intro: number, fill: boolean][] = [1, 2, 3, 4, 6, 8].flatMap(
    (period): [number, number, number, boolean][] => [
      [period, 4, 0, false],
      [period, 3, 2, false],
      [period, 4, 0, true],
    ],
  );
  let seed = 0;
  for (const [period, repeats, intro, fill] of cases) {
    for (let k = 0; k < 4; k++) {
      const cycle = pattern(period, ++seed);
      const before = pattern(intro, ++seed + 5000);
      const bars = [...before, ...Array.from({ length: repeats }, () => cycle).flat()];
      if (fill && period > 1) bars[bars.length - 1] = pattern(1, ++seed + 9000)[0]!;
      const take = played(bars);
      const [best] = findLoops(take, all(take));
      if (best?.bars === period && best.startBar === intro + 1) right++;
    }
  }
  assert.ok(right >= 0.9 * cases.length * 4, `${right} of ${cases.length * 4}`);
});

test('nothing is claimed where nothing repeats, broken chords over changes among it', () => {
  let claimed = 0;
  for (let seed = 0; seed < 40; seed++) {
    const take = played(pattern(16, 100 + seed));
    if (findLoops(take, all(take)).length > 0) claimed++;
    const random = seededRandom(seed);
    // Sixteen roots, each once: by chance alone, bars of a few would come back.
    const roots = Array.from({ length: 16 }, (_, i) => ({ root: 40 + i, at: random() }));
    const broken = roots
      .sort((a, b) => a.at - b.at)
      .map(({ root }) => {
        return [0, 4, 7, 12, 7, 4, 0, 7].map((up, i): NoteSpec => [i * 240, 220, root + up]);
      });
    const arpeggio = played(broken);
    if (findLoops(arpeggio, all(arpeggio)).length > 0) claimed++;
  }
  assert.ok(claimed <= 4, `${claimed} of 80`);
});

test('a part with several riffs has a loop for each, in its place; a riff of one part is no loop of all', () => {
  const riffs = [2, 4, 3].map((bars, k) => pattern(bars, 300 + k));
  const between = pattern(3, 400);
  const bars = [
    ...[riffs[0]!, riffs[0]!, riffs[0]!, riffs[0]!].flat(),
    ...between,
    ...[riffs[1]!, riffs[1]!, riffs[1]!].flat(),
    ...[riffs[2]!, riffs[2]!, riffs[2]!].flat(),
  ];
  const take = played(bars);
  const found = findLoops(take, all(take)).sort((a, b) => a.startBar - b.startBar);
  assert.deepEqual(
    found.map(({ startBar, bars: period, repeats, likeness }) => [startBar, period, repeats, likeness]),
    [
      [1, 2, 4, 1],
      [12, 4, 3, 1],
      [24, 3, 3, 1],
    ],
  );
});

test('a period of any length up to 64 bars is found; where riffs make up a form that comes again, both are told', () => {
  for (const period of [5, 7, 10, 14, 20, 28, 60]) {
    const cycle = pattern(period, 500 + period);
    const take = played([...cycle, ...cycle]);
    assert.deepEqual(
      findLoops(take, all(take)).map(({ startBar, bars, repeats }) => [startBar, bars, repeats]),
      [[1, period, 2]],
    );
  }
  const riff = pattern(2, 600);
  const form = [riff, riff, riff, riff, pattern(12, 601)].flat();
  const take = played([...form, ...form, ...form]);
  assert.deepEqual(
    findLoops(take, all(take)).map(({ startBar, bars, repeats }) => [startBar, bars, repeats]),
    [
      [1, 2, 4],
      [1, 20, 3],
    ],
  );
});

test('where the likeness breaks a claim ends, and silence votes for nothing', () => {
  const [riff, other] = [pattern(2, 700), pattern(6, 701)];
  const silence: NoteSpec[][] = Array.from({ length: 8 }, () => []);
  const take = played([...riff, ...riff, ...riff, ...other, ...silence, ...other.slice(0, 1)]);
  const [best, ...more] = findLoops(take, all(take));
  assert.deepEqual([best!.startBar, best!.bars, best!.repeats, more.length], [1, 2, 3, 0]);
});

test('a loop that is varied a little is still one, and says how alike it is', () => {
  const cycle = pattern(4, 77);
  const random = seededRandom(3);
  const varied = Array.from({ length: 4 }, () =>
    cycle.map((bar) =>
      bar.map(([tick, length, pitch]): NoteSpec => [tick, length, random() < 0.08 ? pitch + 5 : pitch]),
    ),
  ).flat();
  const take = played(varied);
  const [best] = findLoops(take, all(take));
  assert.deepEqual([best?.bars, best?.startBar, best?.repeats], [4, 1, 4]);
  assert.ok(best!.likeness < 1 && best!.likeness > 0.75);
});

test('swing is told within 2 points for eighths with 8 ms of noise over four bars (50 % straight, 66.7 % triplet)', () => {
  for (const bpm of [80, 110, 140]) {
    for (const swing of [0.5, 0.56, 0.62, 0.667]) {
      const random = seededRandom(Math.round(bpm * swing * 10));
      const noise = (0.008 * bpm * 480) / 60;
      const notes = Array.from({ length: 32 }, (_, i): NoteSpec => {
        const tick = swung(i * 240, swing) + (random() + random() + random() - 1.5) * noise;
        return [Math.max(0, Math.round(tick)), 100, 60];
      });
      const take = takeOf([
        trackOf(notes, [{ tick: 0, status: 0xff, data1: 0x51, data2: 0, bytes: tempoBytes(bpm) }]),
      ]);
      const feel = findFeel(take, all(take));
      assert.ok(Math.abs(feel.swing! - swing) <= 0.02, `${bpm} BPM, ${swing}: ${feel.swing}`);
    }
  }
});

test('a take that is late or early as a whole is told so, and is not called swung', () => {
  for (const late of [-50, -20, 20, 50]) {
    for (const swing of [0.5, 0.62]) {
      const random = seededRandom(7 + late);
      const ms = (120 * 480) / 60_000;
      const notes = Array.from({ length: 32 }, (_, i): NoteSpec => {
        const stray = (random() + random() - 1) * 8;
        return [Math.round(480 + swung(i * 240, swing) + (late + stray) * ms), 100, 60];
      });
      const feel = findFeel(takeOf([trackOf(notes)]), [...notes.keys()]);
      assert.equal(feel.grid, '1/8');
      assert.ok(Math.abs(feel.lateMs - late) <= 5, `${late} ms: ${feel.lateMs}`);
      assert.ok(Math.abs(feel.swing! - swing) <= 0.02, `${late} ms, ${swing}: ${feel.swing}`);
      assert.ok(feel.tightnessMs <= 8);
    }
  }
});

function tempoBytes(bpm: number): Uint8Array {
  const microseconds = Math.round(60_000_000 / bpm);
  return Uint8Array.of(microseconds >> 16, (microseconds >> 8) & 0xff, microseconds & 0xff);
}

test('the grid is the one that is played, and how tight it is stands in milliseconds', () => {
  const steps = (step: number, off: number) =>
    takeOf([
      trackOf(
        Array.from({ length: 48 }, (_, i): NoteSpec => [Math.max(0, i * step + (i % 2 ? off : 0)), 60, 60]),
      ),
    ]);
  const feel = (take: Take) => findFeel(take, all(take));
  assert.equal(feel(steps(480, 0)).grid, '1/4');
  assert.equal(feel(steps(240, 0)).grid, '1/8');
  assert.equal(feel(steps(160, 0)).grid, '1/8 triplet');
  assert.equal(feel(steps(120, 0)).grid, '1/16');
  assert.equal(feel(steps(120, 0)).tightnessMs, 0);
  assert.ok(feel(steps(120, 8)).tightnessMs > 0);
  assert.equal(feel(takeOf([trackOf([[0, 60, 60]])])).grid, 'free');
});

test('a pickup leads into a strong bar line; a late start and silence are leading gaps', () => {
  const song = (at: number) =>
    Array.from({ length: 8 }, (_, i) =>
      [55, 59, 62].map((pitch): NoteSpec => [at + i * 480, 400, pitch]),
    ).flat();
  const beginning = (notes: NoteSpec[]) => {
    const take = takeOf([trackOf(notes)]);
    const { leadingTicks, pickupTicks } = analyzeTake(take, splitTake(take));
    return [leadingTicks, pickupTicks];
  };
  assert.deepEqual(beginning(song(0)), [0, 0]);
  assert.deepEqual(beginning(song(720)), [720, 0]);
  assert.deepEqual(beginning([[1440, 200, 67], [1680, 200, 69], ...song(1920)]), [0, 480]);
  assert.deepEqual(beginning(song(1920)), [1920, 0]);
});

test('a verse and a bridge are two sections, and the verse again is the first', () => {
  const verse = (at: number) =>
    Array.from({ length: 8 }, (_, bar) =>
      [48, 52, 55].map((pitch): NoteSpec => [(at + bar) * 1920, 1800, pitch]),
    ).flat();
  const bridge = (at: number) =>
    Array.from({ length: 8 }, (_, bar) =>
      Array.from({ length: 8 }, (_, i): NoteSpec => [(at + bar) * 1920 + i * 240, 200, 66 + ((i * 5) % 7)]),
    ).flat();
  const take = takeOf([trackOf([...verse(0), ...bridge(8), ...verse(16)])]);
  assert.deepEqual(findSections(take, splitTake(take)), [
    { startBar: 1, bars: 8, label: 'A' },
    { startBar: 9, bars: 8, label: 'B' },
    { startBar: 17, bars: 8, label: 'A' },
  ]);
});
