import assert from 'node:assert/strict';
import { test } from 'node:test';
import fc from 'fast-check';
import { ChordType, Interval } from 'tonal';
import { DEGREES, parseQuality, qualityOf, type Degrees } from '../../../src/core/music/chord-quality.ts';
import { chordSymbol, parseSymbol } from '../../../src/core/music/chord.ts';

/*
 * tonal (npm) is the oracle: all its names of chords. What it reads otherwise, and why we do not follow.
 */
const OTHERWISE = new Map([
  // An altered fifth is a fifth, and no eleventh beside one.
  ...['M6b5', '6b5', '7b5b13', '7b5#9', '7#9b5', '9b5b13', '7b5b9', '7b9b5', '7b5b9b13'].map(
    (name) => [name, 'the fifth is flat'] as const,
  ),
  // A flat thirteenth leaves the fifth to who plays it; no5 says that it goes.
  ...['M7b6', '^7b6', '7b13', '9b13', 'mb6M7', 'mb6b9'].map((name) => [name, 'the fifth stays'] as const),
  ['^', 'the triangle says the seventh'],
  ['maj#4', 'the seventh is not said'],
  ['M7add13', 'the ninth is not said'],
  ['alt7', 'as 7alt'],
]);

/** Read in several ways, or names that no chart carries. */
const REFUSED = new Set(['2', '4', 'quartal', 'm11A', 'phryg', '7b9#9']);

/** A chord of two sevenths: no chord of ours has both. */
const UNLIKE = new Set(['o7M7']);

const sorted = (tones: Iterable<number>) => [...tones].sort((a, b) => a - b);

test('every name of a chord that tonal knows has the notes that tonal gives it', () => {
  let compared = 0;
  for (const { intervals, aliases } of ChordType.all()) {
    const tones = sorted(new Set(intervals.map((name) => (Interval.semitones(name)! + 12) % 12)));
    for (const name of aliases) {
      if (OTHERWISE.has(name) || UNLIKE.has(name)) continue;
      const quality = parseQuality(name);
      if (REFUSED.has(name)) assert.equal(quality, undefined, name);
      else {
        assert.deepEqual(quality && sorted(quality.tones), tones, name);
        compared++;
      }
    }
  }
  assert.ok(compared > 180, `${compared} names`);
});

test('the degrees of chords are those of their symbols', () => {
  const degrees: [string, Degrees][] = [
    ['13', { 1: 0, 3: 4, 5: 7, 7: 10, 9: 2, 13: 9 }],
    ['m11', { 1: 0, 3: 3, 5: 7, 7: 10, 9: 2, 11: 5 }],
    ['7b9', { 1: 0, 3: 4, 5: 7, 7: 10, 9: 1 }],
    ['7alt', { 1: 0, 3: 4, 5: 8, 7: 10, 9: 3 }],
    ['6/9', { 1: 0, 3: 4, 5: 7, 7: 9, 9: 2 }],
    ['sus2', { 1: 0, 3: 2, 5: 7 }],
    ['maj9#11', { 1: 0, 3: 4, 5: 7, 7: 11, 9: 2, 11: 6 }],
  ];
  for (const [symbol, expected] of degrees) assert.deepEqual(parseQuality(symbol)?.degrees, expected, symbol);
});

test('however it is written, a chord is spelled in one way, and read back from it', () => {
  for (const { aliases } of ChordType.all()) {
    for (const name of aliases) {
      const quality = parseQuality(name);
      if (quality) assert.deepEqual(parseQuality(quality.symbol), quality, `${name} as ${quality.symbol}`);
    }
  }
  const same = ['Gmaj7', 'GM7', 'GΔ', 'GΔ7', 'G^7', 'Gma7', 'G(maj7)'].map((text) =>
    chordSymbol(parseSymbol(text)!, null),
  );
  assert.deepEqual([...new Set(same)], ['Gmaj7']);
  assert.equal(chordSymbol(parseSymbol('C-7(b5)/F#')!, null), 'Cm7b5/F#');
  assert.equal(parseSymbol('Abb9')!.root, 8);
  for (const none of ['', 'H', 'C2', 'A4', 'Cm7x', 'Cmsus4', 'C/H', 'Cadd', 'C7b9#9'])
    assert.equal(parseSymbol(none), undefined, none);
});

/** Any degrees a chord may have. */
const anyDegrees = fc
  .record(
    {
      3: fc.constantFrom(2, 3, 4, 5),
      5: fc.constantFrom(6, 7, 8),
      7: fc.constantFrom(9, 10, 11),
      9: fc.constantFrom(1, 2, 3),
      11: fc.constantFrom(5, 6),
      13: fc.constantFrom(8, 9),
    },
    { requiredKeys: [] },
  )
  .map((some): Degrees => ({ 1: 0, ...some }))
  // A sixth is said once.
  .filter((degrees) => !(degrees[13] === 9 && (degrees[7] === 9 || degrees[7] === undefined)))
  .filter((degrees) => degrees[5] !== undefined || degrees[3] !== undefined);

test('whatever sounds together as degrees has a spelling that gives the same notes back', () => {
  fc.assert(
    fc.property(anyDegrees, (degrees) => {
      const quality = qualityOf(degrees);
      const back = parseQuality(quality.symbol);
      assert.deepEqual(back && sorted(back.tones), sorted(quality.tones), quality.symbol);
      for (const degree of DEGREES) assert.equal(back!.degrees[degree], degrees[degree], quality.symbol);
    }),
    { numRuns: 2000 },
  );
});
