import assert from 'node:assert/strict';
import { test } from 'node:test';
import { parseKey } from '../../../src/core/music/key.ts';
import { steadyTimeline } from '../../../src/core/music/timeline.ts';
import { cutBars } from '../../../src/core/normalize/bars.ts';
import { setLength } from '../../../src/core/normalize/length.ts';
import { quantize } from '../../../src/core/normalize/quantize.ts';
import { setRegister } from '../../../src/core/normalize/register.ts';
import { setResolution } from '../../../src/core/normalize/resolution.ts';
import { shift } from '../../../src/core/normalize/shift.ts';
import { percentile } from '../../../src/core/normalize/step.ts';
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
    [118, 13],
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
