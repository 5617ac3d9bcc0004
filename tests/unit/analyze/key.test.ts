import assert from 'node:assert/strict';
import { test } from 'node:test';
import { harmonyOf } from '../../../src/core/analyze/analysis.ts';
import { findKeySpans } from '../../../src/core/analyze/key-spans.ts';
import { findKeysOf } from '../../../src/core/analyze/key.ts';
import { keyName } from '../../../src/core/music/key.ts';
import { pitchClassName } from '../../../src/core/music/pitch.ts';
import { splitTake } from '../../../src/core/split/split.ts';
import { takeFrom, type Take } from '../../../src/core/capture/take.ts';
import { band, bandFile } from '../../../src/core/standins/band.ts';
import { performanceFile } from '../../../src/core/standins/performance.ts';
import { takeOf, trackOf } from '../../support/midi.ts';

/** Scales as handbooks give them: natural minor and major, tonic and fifth a little longer. */
const MAJOR = [0, 2, 4, 5, 7, 9, 11];
const MINOR = [0, 2, 3, 5, 7, 8, 10];

/** The keys of what sounds for so long, by pitch class, with nothing known of bass and chords. */
const findKeys = (durations: ArrayLike<number>) =>
  findKeysOf({ segments: [], weights: [Float64Array.from(durations)], bass: [] }, []);

test('every scale with weight on tonic and fifth is found in its own key', () => {
  for (let tonic = 0; tonic < 12; tonic++) {
    for (const [mode, scale] of [
      ['major', MAJOR],
      ['minor', MINOR],
    ] as const) {
      const durations = new Float64Array(12);
      for (const degree of scale) {
        durations[(degree + tonic) % 12] = degree === 0 ? 3 : degree === 7 ? 2 : 1;
      }
      const [best] = findKeys(durations);
      assert.deepEqual([best!.tonic, best!.mode], [tonic, mode]);
    }
  }
});

test('certainties add up to one, and nothing is claimed where nothing sounds', () => {
  const keys = findKeys([5, 0, 2, 0, 3, 1, 0, 4, 0, 1, 0, 1]);
  assert.equal(keys.length, 12 * 6);
  assert.ok(Math.abs(keys.reduce((sum, key) => sum + key.certainty, 0) - 1) < 1e-9);
  assert.deepEqual(findKeys(new Float64Array(12)), []);
});

test('a band playing common progressions is heard in its key, in all twelve', () => {
  const tonics = ['C', 'Db', 'D', 'Eb', 'E', 'F', 'F#', 'G', 'Ab', 'A', 'Bb', 'B'];
  let right = 0;
  for (const [i, tonic] of tonics.entries()) {
    const degree = (steps: number) => tonics[(i + steps) % 12]!;
    const chart = `${tonic} | ${degree(9)}m | ${degree(5)} | ${degree(7)}7`;
    const take = takeFrom(
      bandFile({ chart: `${chart} | ${chart}`, style: 'river', bpm: 90, seed: i, title: 'x' }),
    );
    const key = harmonyOf(take, splitTake(take)).keys[0]!;
    if (key.tonic === i && key.mode === 'major') right++;
  }
  assert.equal(right, 12);
});

test('vamps that go round are in the mode that their first chord says (common practice), in all twelve keys', () => {
  const vamps: [chart: (degree: (steps: number) => string) => string, mode: string][] = [
    [(d) => `${d(0)}m7 | ${d(5)}7`, 'dorian'],
    [(d) => `${d(0)}m | ${d(1)} | ${d(0)}m | ${d(10)}m`, 'phrygian'],
    [(d) => `${d(0)}maj7 | ${d(2)} | ${d(0)}maj7 | ${d(2)}`, 'lydian'],
  ];
  const tonics = ['C', 'Db', 'D', 'Eb', 'E', 'F', 'F#', 'G', 'Ab', 'A', 'Bb', 'B'];
  const wrong: string[] = [];
  for (const [chart, mode] of vamps)
    for (const [i, tonic] of tonics.entries()) {
      const once = chart((steps) => tonics[(i + steps) % 12]!);
      const four = [once, once, once, once].join(' | ');
      const take = takeFrom(
        bandFile({ chart: four, style: 'river', bpm: 90, seed: i, title: 'x', mishaps: [] }),
      );
      const key = harmonyOf(take, splitTake(take)).keys[0]!;
      if (key.tonic !== i || key.mode !== mode) wrong.push(`${tonic} ${mode}: ${keyName(key)}`);
    }
  assert.ok(wrong.length <= 3, wrong.join(', '));
});

/** Block chords over their roots, a bar each, given as root and whether a minor or a dominant seventh is on it. */
function blocks(chords: readonly (readonly [root: number, kind: 'major' | 'minor' | 'seventh'])[]): Take {
  const tones = { major: [0, 4, 7], minor: [0, 3, 7], seventh: [0, 4, 7, 10] };
  return takeOf([
    trackOf(
      chords.flatMap(([root, kind], bar) => [
        [bar * 1920, 1900, 36 + (root % 12)] as const,
        ...tones[kind].map((step) => [bar * 1920, 1900, 60 + ((root + step) % 12)] as const),
      ]),
    ),
  ]);
}

test('a twelve-bar blues is in the key of its first degree, wherever one begins to listen (common practice), in all twelve keys', () => {
  const form = [0, 5, 0, 0, 5, 5, 0, 0, 7, 5, 0, 7];
  for (const from of [0, 4, 8]) {
    const turned = [...form.slice(from), ...form.slice(0, from)];
    for (let tonic = 0; tonic < 12; tonic++) {
      const take = blocks([...turned, ...turned].map((degree) => [(tonic + degree) % 12, 'seventh']));
      const key = harmonyOf(take, splitTake(take)).keys[0]!;
      assert.equal(key.tonic, tonic, `from bar ${from + 1}: ${keyName(key)}`);
      assert.notEqual(key.mode, 'minor');
    }
  }
});

test('a key changes on any bar line of a long take', () => {
  const round = (tonic: number) =>
    [
      [tonic, 'major'],
      [tonic + 9, 'minor'],
      [tonic + 5, 'major'],
      [tonic + 7, 'seventh'],
    ] as const;
  for (const before of [1, 2, 3]) {
    const rounds = (count: number, tonic: number) => Array.from({ length: count }, () => round(tonic)).flat();
    const home = Array.from({ length: before }, () => [0, 'major'] as const);
    const take = blocks([...home, ...rounds(10, 0), ...rounds(10, 6), [6, 'major']]);
    const { chroma, chords } = harmonyOf(take, splitTake(take));
    assert.deepEqual(
      findKeySpans(chroma, chords).map((span) => [span.startBar, keyName(span)]),
      [
        [1, 'C major'],
        [41 + before, 'Gb major'],
      ],
    );
  }
});

test('drums do not count', () => {
  const tune = trackOf([60, 62, 64, 65, 67, 69, 71, 72].map((pitch, i) => [i * 480, 480, pitch] as const));
  const drums = trackOf(Array.from({ length: 64 }, (_, i) => [i * 60, 480, 42, 90, 9] as const));
  const take = takeOf([tune, drums]);
  assert.equal(keyName(harmonyOf(take, splitTake(take)).keys[0]!), 'C major');
});

test('a key signature in the file, wrong or missing, changes nothing', () => {
  const notes = [60, 64, 67, 65, 69, 72, 67, 71, 74, 60, 64, 67].map(
    (pitch, i) => [i * 480, 480, pitch] as const,
  );
  const keyEvent = (sharps: number) => ({
    tick: 0,
    status: 0xff,
    data1: 0x59,
    data2: 0,
    bytes: Uint8Array.of(sharps & 0xff, 0),
  });
  const keysOf = (events: ReturnType<typeof keyEvent>[]) => {
    const take = takeOf([trackOf(notes, events)]);
    return harmonyOf(take, splitTake(take)).keys;
  };
  assert.equal(keyName(keysOf([])[0]!), 'C major');
  assert.deepEqual(keysOf([keyEvent(-5)]), keysOf([]));
});

test('a take that goes to another key is told where', () => {
  const chart = 'C | F | G7 | C | C | F | G7 | C | Eb | Ab | Bb7 | Eb | Eb | Ab | Bb7 | Eb';
  const take = takeFrom(bandFile({ chart, style: 'river', bpm: 90, seed: 3, title: 'x', mishaps: [] }));
  const { chroma, chords } = harmonyOf(take, splitTake(take));
  assert.deepEqual(
    findKeySpans(chroma, chords).map((span) => [span.startBar, span.bars, keyName(span)]),
    [
      [1, 8, 'C major'],
      [9, 8, 'Eb major'],
    ],
  );
});

test('a turn-around at the end is no other key than the same one in the middle (common practice)', () => {
  for (let shift = 0; shift < 12; shift++) {
    const [one, four, five] = [0, 5, 7].map((step) => pitchClassName((shift + step) % 12, true));
    const chorus = `${one}7 | ${one}7 | ${one}7 | ${one}7 | ${four}7 | ${four}7 | ${one}7 | ${one}7 | ${five}7 | ${four}7 | ${one}7 | ${five}7`;
    const take = takeFrom(
      performanceFile(band.play({ ...band.defaults, chart: chorus, choruses: 2, bpm: 100 })),
    );
    const { chroma, chords } = harmonyOf(take, splitTake(take));
    const spans = findKeySpans(chroma, chords);
    assert.deepEqual(
      spans.map(({ tonic, startBar }) => [tonic, startBar]),
      [[shift, 1]],
    );
  }
});

test('a chord that is held at the end is no key of its own', () => {
  const chart = 'Dm | Dm | Bb | C | Dm | Gm7 | A7 | Dm | Bb | Bb | Bb | Bb';
  const take = takeFrom(performanceFile(band.play({ ...band.defaults, chart, choruses: 1, bpm: 96 })));
  const { chroma, chords } = harmonyOf(take, splitTake(take));
  assert.deepEqual(findKeySpans(chroma, chords), [{ tonic: 2, mode: 'minor', startBar: 1, bars: 12 }]);
});
