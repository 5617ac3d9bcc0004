import assert from 'node:assert/strict';
import { test } from 'node:test';
import { parseKey } from '../../../src/core/music/key.ts';
import { steadyTimeline } from '../../../src/core/music/timeline.ts';
import { cutBars } from '../../../src/core/normalize/bars.ts';
import { settleControls } from '../../../src/core/normalize/controls.ts';
import { settleDoubles } from '../../../src/core/normalize/doubles.ts';
import { humanize } from '../../../src/core/normalize/humanize.ts';
import { setLength } from '../../../src/core/normalize/length.ts';
import { settlePedal } from '../../../src/core/normalize/pedal.ts';
import { quantize } from '../../../src/core/normalize/quantize.ts';
import { setRegister } from '../../../src/core/normalize/register.ts';
import { setResolution } from '../../../src/core/normalize/resolution.ts';
import { shift } from '../../../src/core/normalize/shift.ts';
import { percentile } from '../../../src/core/numbers.ts';
import { setTime } from '../../../src/core/normalize/time.ts';
import { transpose } from '../../../src/core/normalize/transpose.ts';
import { setVelocity } from '../../../src/core/normalize/velocity.ts';
import type { Clip } from '../../../src/core/phrase/clip.ts';

/** A clip of notes [tick, duration, pitch, velocity], 480 ticks, 4/4. */
function clipOf(
  notes: readonly (readonly [number, number, number, number?])[],
  more: Partial<Clip> = {},
): Clip {
  return {
    timeline: steadyTimeline(480, 120),
    length: 4 * 1920,
    notes: notes.map(([tick, duration, pitch, velocity = 90], origin) => ({
      tick,
      duration,
      pitch,
      velocity,
      release: 64,
      origin,
    })),
    controls: [],
    role: 'keys',
    key: parseKey('Dm')!,
    channel: 0,
    program: 0,
    locked: [],
    pickup: 0,
    ...more,
  };
}
const ticks = (clip: Clip) => clip.notes.map((note) => note.tick);
const pitches = (clip: Clip) => clip.notes.map((note) => note.pitch);
const velocities = (clip: Clip) => clip.notes.map((note) => note.velocity);

test('bars: counted from 1, first bar line at tick 0, what is outside set aside with its side', () => {
  const clip = clipOf([
    [0, 480, 60],
    [1920, 480, 62],
    [3000, 480, 64],
    [3840, 480, 65],
  ]);
  const result = cutBars(clip, { start: 2, count: 1 });
  assert.deepEqual(ticks(result.clip), [0, 1080]);
  assert.equal(result.clip.length, 1920);
  assert.deepEqual(result.setAside, [
    { reason: 'before bar 2', origins: [0] },
    { reason: 'after bar 2', origins: [3] },
  ]);
});

test('bars: a note over the end is shortened to it, or kept long on request', () => {
  const clip = clipOf([[1800, 600, 60]]);
  assert.equal(cutBars(clip, { start: 1, count: 1 }).clip.notes[0]!.duration, 120);
  assert.equal(cutBars(clip, { start: 1, count: 1, tail: 'keep' }).clip.notes[0]!.duration, 600);
});

test('bars: a note just ahead of the bar line belongs to the bar that follows', () => {
  const clip = clipOf([
    [1900, 500, 60],
    [3820, 500, 62],
  ]);
  const result = cutBars(clip, { start: 2, count: 1, early: '1/32' });
  assert.deepEqual(
    result.clip.notes.map((note) => [note.tick, note.duration, note.pitch]),
    [[0, 480, 60]],
  );
  assert.match(result.summary, /1 played just ahead/);
});

test('bars: pedal and bend stand at the cut as they stood in the take', () => {
  const controls = [
    { tick: 0, kind: 0xb0, data1: 64, data2: 127 },
    { tick: 100, kind: 0xe0, data1: 0, data2: 70 },
    { tick: 200, kind: 0xe0, data1: 0, data2: 64 },
    { tick: 2000, kind: 0xb0, data1: 64, data2: 0 },
    { tick: 9000, kind: 0xb0, data1: 64, data2: 127 },
  ];
  assert.deepEqual(cutBars(clipOf([], { controls }), { start: 2, count: 1 }).clip.controls, [
    { tick: 0, kind: 0xb0, data1: 64, data2: 127 },
    { tick: 0, kind: 0xe0, data1: 0, data2: 64 },
    { tick: 80, kind: 0xb0, data1: 64, data2: 0 },
  ]);
});

test('bars: the tempo and meter of the bars come with them', () => {
  const timeline = {
    ppq: 480,
    tempos: [
      { tick: 0, microseconds: 500_000 },
      { tick: 1920, microseconds: 600_000 },
    ],
    meters: [
      { tick: 0, numerator: 4, denominator: 4 },
      { tick: 3840, numerator: 3, denominator: 4 },
    ],
  };
  const { clip } = cutBars(clipOf([], { timeline }), { start: 2, count: 2 });
  assert.equal(clip.length, 1920 + 1440);
  assert.deepEqual(clip.timeline.tempos, [{ tick: 0, microseconds: 600_000 }]);
  assert.deepEqual(clip.timeline.meters, [
    { tick: 0, numerator: 4, denominator: 4 },
    { tick: 1920, numerator: 3, denominator: 4 },
  ]);
});

test('quantize: to sixteenths at full strength, half way at half', () => {
  const clip = clipOf([
    [10, 100, 60],
    [130, 100, 62],
    [235, 100, 64],
  ]);
  assert.deepEqual(ticks(quantize(clip, { grid: '1/16' }).clip), [0, 120, 240]);
  assert.deepEqual(ticks(quantize(clip, { grid: '1/16', strength: 0.5 }).clip), [5, 125, 238]);
  assert.deepEqual(ticks(quantize(clip, { grid: '1/16', strength: 0 }).clip), [10, 130, 235]);
});

test('quantize: triplets, and the report in ms at the tempo', () => {
  const clip = clipOf([
    [150, 100, 60],
    [330, 100, 62],
  ]);
  const result = quantize(clip, { grid: '1/8T' });
  assert.deepEqual(ticks(result.clip), [160, 320]);
  // 10 ticks at 120 BPM and 480 ticks a quarter are 10.4 ms.
  assert.equal(result.summary, '2 of 2 notes moved, 10 ms at the median');
});

test('quantize: swing kept stays where it was played, straight takes it away', () => {
  // Swung eighths at two thirds, with a hand's error of a few ticks.
  const notes = Array.from(
    { length: 16 },
    (_, i) =>
      [
        Math.floor(i / 2) * 480 + (i % 2 ? 320 : 0) + [0, 3, -2, 4][i % 4]! * (i > 0 ? 1 : 0),
        100,
        60,
      ] as const,
  ).sort((a, b) => a[0] - b[0]);
  const kept = ticks(quantize(clipOf(notes), { grid: '1/8', swing: 'keep' }).clip);
  kept.forEach((tick, i) => {
    const place = tick - Math.floor(i / 2) * 480;
    assert.ok(i % 2 === 0 ? place === 0 : Math.abs(place - 320) <= 4, `note ${i} at ${place}`);
  });
  const straight = ticks(quantize(clipOf(notes), { grid: '1/8' }).clip);
  assert.ok(straight.every((tick) => tick % 240 === 0));
});

test('quantize: counted from each bar line, so that odd meters keep their downbeats', () => {
  const timeline = steadyTimeline(480, 120, 7, 8);
  const result = quantize(clipOf([[1675, 100, 60]], { timeline, length: 3360 }), { grid: '1/4' });
  assert.deepEqual(ticks(result.clip), [1680]);
});

test("quantize: a note nearest to the loop's end is left", () => {
  const result = quantize(clipOf([[1910, 10, 60]], { length: 1920 }), { grid: '1/16' });
  assert.deepEqual(ticks(result.clip), [1910]);
  assert.match(result.summary, /1 left/);
});

/** Check values, common practice: 90 % of 127 is 114, 80 % is 102, 75 % is 95, 60 % is 76. */
for (const [share, mark] of [
  [0.9, 114],
  [0.8, 102],
  [0.75, 95],
  [0.6, 76],
] as const) {
  test(`velocity: the loud notes land on ${mark} for ${share * 100} %`, () => {
    const clip = clipOf(Array.from({ length: 40 }, (_, i) => [i * 100, 50, 60, 60 + i] as const));
    const { clip: after } = setVelocity(clip, { loud: share });
    assert.ok(Math.abs(percentile(velocities(after), 0.95) - mark) <= 0.6);
  });
}

test('velocity: halving the range halves the distance between loud and soft', () => {
  const clip = clipOf([
    [0, 1, 60, 40],
    [1, 1, 60, 100],
    [2, 1, 60, 100],
    [3, 1, 60, 80],
  ]);
  assert.deepEqual(velocities(setVelocity(clip, { loud: 100 / 127, range: 0.5 }).clip), [70, 100, 100, 90]);
});

test('velocity: crashes stay as played and do not decide what is loud', () => {
  const drums = clipOf(
    [
      [0, 1, 49, 127],
      [1, 1, 36, 80],
      [2, 1, 38, 80],
    ],
    { role: 'drums', key: null },
  );
  assert.deepEqual(velocities(setVelocity(drums, { loud: 0.9, except: ['crash'] }).clip), [127, 114, 114]);
});

test('shift: -30 ms at 100 BPM and 480 ticks is -24 ticks, -100 ms is -80 (common practice)', () => {
  const clip = clipOf(
    [
      [480, 100, 60],
      [960, 100, 60],
    ],
    { timeline: steadyTimeline(480, 100) },
  );
  assert.deepEqual(ticks(shift(clip, { ms: -30 }).clip), [456, 936]);
  assert.deepEqual(ticks(shift(clip, { ms: -100 }).clip), [400, 880]);
});

test('shift: nothing starts before bar one, and it is said', () => {
  const result = shift(
    clipOf([
      [0, 100, 60],
      [480, 100, 60],
    ]),
    { ms: -50 },
  );
  assert.deepEqual(ticks(result.clip), [0, 432]);
  assert.match(result.summary, /1 held at bar 1/);
});

test('transpose: by semitones, or to a tonic by the shorter way; the key goes along', () => {
  const clip = clipOf([
    [0, 1, 62],
    [1, 1, 65],
  ]);
  assert.deepEqual(pitches(transpose(clip, { semitones: 3 }).clip), [65, 68]);
  const toA = transpose(clip, { to: 'A' });
  assert.deepEqual(pitches(toA.clip), [57, 60]);
  assert.deepEqual(toA.clip.key, parseKey('Am'));
  assert.equal(toA.summary, 'down 5 semitones; D minor to A minor');
});

test('transpose: drums stay, an unknown key is said, pitches stay within MIDI', () => {
  const drums = clipOf([[0, 1, 36]], { role: 'drums', key: null });
  assert.deepEqual(pitches(transpose(drums, { semitones: 5 }).clip), [36]);
  assert.match(transpose(clipOf([[0, 1, 60]], { key: null }), { to: 'C' }).summary, /not known/);
  assert.deepEqual(
    pitches(
      transpose(
        clipOf([
          [0, 1, 120],
          [0, 1, 3],
        ]),
        { semitones: 10 },
      ).clip,
    ),
    [13, 118],
  );
});

test('register: the whole part moves by octaves to where the fewest notes lie outside', () => {
  const result = setRegister(
    clipOf([
      [0, 1, 72],
      [1, 1, 76],
      [2, 1, 88],
    ]),
    { low: 36, high: 60 },
  );
  assert.deepEqual(pitches(result.clip), [36, 40, 52]);
  assert.match(result.summary, /down 3 octaves/);
  assert.deepEqual(pitches(setRegister(clipOf([[0, 1, 48]]), { low: 36, high: 60 }).clip), [48]);
});

test('resolution: everything in time is scaled, and nothing that sounded becomes silent', () => {
  const clip = clipOf(
    [
      [100, 1, 60],
      [480, 480, 62],
    ],
    { controls: [{ tick: 240, kind: 0xb0, data1: 64, data2: 1 }] },
  );
  const up = setResolution(clip, { ppq: 960 }).clip;
  assert.deepEqual(ticks(up), [200, 960]);
  assert.equal(up.length, clip.length * 2);
  assert.equal(up.controls[0]!.tick, 480);
  assert.deepEqual(setResolution(up, { ppq: 480 }).clip, clip);
  const down = setResolution(clip, { ppq: 24 }).clip;
  assert.deepEqual(
    down.notes.map((note) => [note.tick, note.duration]),
    [
      [5, 1],
      [24, 24],
    ],
  );
});

test('length: half and double, never silent, never past the end that it did not reach before', () => {
  const clip = clipOf([
    [0, 480, 60],
    [480, 1, 60],
    [7600, 80, 62],
    [7600, 500, 64],
  ]);
  const lengths = (factor: number) => setLength(clip, { factor }).clip.notes.map((note) => note.duration);
  assert.deepEqual(lengths(0.5), [240, 1, 40, 250]);
  assert.deepEqual(lengths(2), [960, 2, 80, 500]);
});

/** A controller message. */
const controller = (tick: number, data1: number, data2: number) => ({ tick, kind: 0xb0, data1, data2 });

test('pedal: into the length of notes, up at the end, or away', () => {
  const clip = clipOf(
    [
      [0, 240, 60],
      [480, 240, 64],
      [1200, 100, 60],
    ],
    {
      // prettier-ignore
      controls: [controller(0, 64, 127), controller(960, 64, 0), controller(1200, 64, 127)],
    },
  );
  const long = settlePedal(clip, { mode: 'length' });
  // Held to where the pedal comes up; the last one to the end of the clip.
  assert.deepEqual(
    long.clip.notes.map(({ duration }) => duration),
    [960, 480, clip.length - 1200],
  );
  assert.equal(long.clip.controls.length, 0);
  const kept = settlePedal(clip, { mode: 'keep' });
  assert.deepEqual(kept.clip.controls.at(-1), controller(clip.length - 1, 64, 0));
  assert.deepEqual(kept.clip.notes, clip.notes);
  assert.equal(settlePedal(clip, { mode: 'drop' }).clip.controls.length, 0);
});

test('doubles: one pitch twice within 10 ms is one note, and a note ends where its pitch comes again', () => {
  // 10 ms at 120 BPM and 480 ticks a quarter are 9.6 ticks.
  const clip = clipOf([[0, 100, 60, 80], [9, 200, 60, 100], [400, 300, 64], [480, 100, 64], [960, 100, 60]]); // prettier-ignore
  const { clip: settled, setAside, summary } = settleDoubles(clip, {});
  assert.deepEqual(
    settled.notes.map(({ tick, duration, velocity }) => [tick, duration, velocity]),
    [[0, 209, 100], [400, 80, 90], [480, 100, 90], [960, 100, 90]], // prettier-ignore
  );
  assert.deepEqual(setAside, [{ reason: 'doubled', origins: [1] }]);
  assert.match(summary, /1 note came twice; 1 note ended where its pitch comes again/);
});

test('half and double time: twice the bars at twice the tempo sound the same', () => {
  const clip = clipOf([[0, 240, 60], [480, 240, 64]]); // prettier-ignore
  const { clip: double } = setTime(clip, { factor: 2 });
  assert.deepEqual(ticks(double), [0, 960]);
  assert.equal(double.length, 2 * clip.length);
  assert.equal(double.timeline.tempos[0]!.microseconds, 250_000);
  assert.deepEqual(setTime(double, { factor: 0.5 }).clip, clip);
});

test('quantize: a strum and a flam move as one and keep their spread; flat, each note goes by itself', () => {
  const strum = clipOf([[490, 200, 52], [500, 200, 57], [512, 200, 62], [980, 200, 60]]); // prettier-ignore
  assert.deepEqual(ticks(quantize(strum, { grid: '1/4' }).clip), [480, 490, 502, 960]);
  assert.deepEqual(ticks(quantize(strum, { grid: '1/4', spread: 'flat' }).clip), [480, 480, 480, 960]);
  // The grace note of a flam stays ahead of the hit, which lands on the beat.
  const flam = clipOf([[450, 30, 38, 40], [470, 60, 38, 110]], { role: 'drums' }); // prettier-ignore
  assert.deepEqual(ticks(quantize(flam, { grid: '1/4' }).clip), [460, 480]);
});

test('humanize: bounded, seeded, and what is struck together stays together', () => {
  const clip = clipOf(Array.from({ length: 16 }, (_, i) => [480 * i, 240, i % 2 ? 60 : 64, 90] as const));
  const chord = clipOf([[960, 200, 60], [960, 200, 64], [960, 200, 67]]); // prettier-ignore
  const one = humanize(clip, { ms: 10, velocity: 5, seed: 7 }).clip;
  assert.deepEqual(one, humanize(clip, { ms: 10, velocity: 5, seed: 7 }).clip);
  assert.notDeepEqual(ticks(one), ticks(humanize(clip, { ms: 10, seed: 8 }).clip));
  // 10 ms are 9.6 ticks.
  assert.ok(one.notes.every(({ tick }, i) => Math.abs(tick - 480 * i) <= 10));
  assert.ok(velocities(one).every((velocity) => Math.abs(velocity - 90) <= 5));
  assert.equal(new Set(ticks(humanize(chord, { ms: 20, seed: 3 }).clip)).size, 1);
});

test('velocity: ghost notes stay as soft as they were meant', () => {
  const clip = clipOf([[0, 60, 38, 100], [240, 60, 38, 22], [480, 60, 38, 100]], { role: 'drums' }); // prettier-ignore
  assert.deepEqual(velocities(setVelocity(clip, { loud: 0.9, ghosts: 30 }).clip), [114, 22, 114]);
});

test('controllers: what is used is said at the beginning, so that the seam is clean', () => {
  const bend = { tick: 700, kind: 0xe0, data1: 0, data2: 90 };
  const clip = clipOf([[0, 240, 60]], { controls: [controller(0, 7, 100), controller(600, 1, 80), bend] });
  const settled = settleControls(clip, { mode: 'settle' }).clip.controls;
  assert.deepEqual(settled.slice(0, 2), [controller(0, 1, 0), { tick: 0, kind: 0xe0, data1: 0, data2: 64 }]);
  assert.equal(settled.length, 5);
  assert.equal(settleControls(clip, { mode: 'drop' }).clip.controls.length, 0);
  assert.deepEqual(settleControls(clip, { mode: 'keep' }).clip, clip);
});
