import assert from 'node:assert/strict';
import { test } from 'node:test';
import { analyzeTake, harmonyOf } from '../../../src/core/analyze/analysis.ts';
import { readingChanges, readingHeardAnew } from '../../../src/core/analyze/reading-anew.ts';
import {
  completed,
  READING_METHOD,
  readingOf,
  toldAfter,
  type KeptReading,
  type Reading,
} from '../../../src/core/analyze/reading.ts';
import { takeFrom } from '../../../src/core/capture/take.ts';
import { chordSymbol, parseSymbol } from '../../../src/core/music/chord.ts';
import { byHandOf } from '../../../src/core/split/by-hand.ts';
import type { Move } from '../../../src/core/split/moves.ts';
import { splitTake } from '../../../src/core/split/split.ts';
import { band } from '../../../src/core/standins/band.ts';
import { performanceFile } from '../../../src/core/standins/performance.ts';
import { afterMove, harmonyIn, openTake, toldIn } from '../../../src/core/take/opened.ts';

/** What a take was told stays what it says, until somebody has it heard anew. */

const take = takeFrom(
  performanceFile(band.play({ ...band.defaults, chart: 'C | F | G7 | C', choruses: 2, bpm: 100 })),
);
const split = splitTake(take);
const today = analyzeTake(take, split);

/** As a worse method had it: another key, one other chord, one loop, one section. */
const told: Reading = {
  ...readingOf(today),
  method: 0,
  keys: [{ tonic: 2, mode: 'dorian', certainty: 0.4 }],
  keySpans: [{ tonic: 2, mode: 'dorian', startBar: 1, bars: today.bars }],
  chords: today.chords.map((one, k) => (k === 1 ? { ...one, chord: parseSymbol('Dm7')! } : one)),
  loops: [{ ...today.loops[0]!, startBar: 3 }],
  sections: [{ startBar: 1, bars: today.bars, label: 'A', purpose: 'groove' }],
};
const kept: KeptReading[] = [{ moves: [], told }];

const symbols = (chords: typeof today.chords) =>
  chords.map(({ chord }) => (chord ? chordSymbol(chord, null) : '-'));

test('what was told stands over what is found today', () => {
  const found = analyzeTake(take, split, { told });
  assert.deepEqual({ ...readingOf(found), method: told.method }, told);
  assert.deepEqual(completed(told, readingOf(today), today.bars), told);
  assert.equal(symbols(found.chords)[1], 'Dm7');
  assert.notEqual(symbols(today.chords)[1], 'Dm7');
});

test('what people say stands over both; keys are found again where chords were written since', () => {
  const byKey = byHandOf([{ move: 'chooseKey', key: { tonic: 7, mode: 'major' } }]);
  const keyed = analyzeTake(take, split, { told, byHand: byKey });
  assert.deepEqual(
    keyed.keys.map(({ tonic, mode }) => [tonic, mode]),
    [
      [7, 'major'],
      [2, 'dorian'],
    ],
  );
  assert.deepEqual(symbols(keyed.chords), symbols(told.chords));

  const { startTick, endTick } = told.chords[2]!;
  const byHand = byHandOf([{ move: 'chord', fromTick: startTick, toTick: endTick, symbol: 'G' }]);
  const written = analyzeTake(take, split, { told, byHand });
  assert.deepEqual(
    symbols(written.chords),
    symbols(told.chords).map((symbol, k) => (k === 2 ? 'G' : symbol)),
  );
  assert.deepEqual(written.keys, harmonyOf(take, split, byHand, told).foundKeys);
  assert.notEqual(written.keys[0]!.mode, 'dorian');
});

test('a reading belongs to the moves that change what is heard, in whatever order a database gives fields back', () => {
  const moves: Move[] = [
    { move: 'rename', part: 'p1', name: 'Low' },
    { move: 'role', part: 'p1', role: 'bass' },
    { move: 'chooseKey', key: { tonic: 0, mode: 'major' } },
  ];
  const one: KeptReading = { moves: [{ role: 'bass', part: 'p1', move: 'role' }], told };
  assert.equal(toldAfter([one], moves), told);
  assert.equal(toldAfter([one], []), undefined);
  assert.equal(toldAfter([one], [...moves, { move: 'weigh', part: 'p2', weight: 0 }]), undefined);
});

test('an opened take says what it was told; a move that is heard, or hearing anew, asks the methods of today; taking back does not', () => {
  const opened = openTake(take, split, [], kept);
  assert.equal(toldIn(opened), told);
  assert.equal(harmonyIn(opened).keys[0]!.mode, 'dorian');
  assert.equal(harmonyIn(afterMove(opened, { move: 'rename', part: 'p1', name: 'x' })).keys[0]!.tonic, 2);
  const anew = afterMove(opened, { move: 'hearAnew', method: READING_METHOD });
  assert.equal(toldIn(anew), undefined);
  assert.deepEqual(harmonyIn(anew).keys, today.keys);
  assert.deepEqual(anew.take, opened.take);
  assert.deepEqual(anew.split, opened.split);
  assert.equal(harmonyIn(openTake(take, split, anew.moves.slice(0, -1), kept)).keys[0]!.mode, 'dorian');
});

test('the offer to hear anew says what it would change, and there is none where nothing would', () => {
  const changes = readingChanges(told, readingOf(today), today.bars);
  assert.deepEqual(changes.key, { was: 'D dorian', is: 'C major' });
  assert.deepEqual(changes.chordBars, [2], 'the bar of the second chord');
  assert.equal(changes.loopsLess, 1);
  assert.equal(changes.loopsMore, today.loops.length);
  const [offer] = readingHeardAnew(told, readingOf(today), today.bars);
  assert.match(offer!.text, /key C major for D dorian; other chords in 1 bar; .*Hear it so\?$/);
  assert.deepEqual(offer!.ways[0]!.move, { move: 'hearAnew', method: READING_METHOD });
  assert.deepEqual(readingHeardAnew(readingOf(today), readingOf(today), today.bars), []);
  const onlyNames = readingOf(today).sections.map((section) => ({ ...section, label: `${section.label}'` }));
  const renamed = { ...readingOf(today), sections: onlyNames };
  assert.deepEqual(readingHeardAnew(renamed, readingOf(today), today.bars), []);
});

test('where only a key was told, chords are those of today, and one span says it', () => {
  const { method, keys } = told;
  const found = analyzeTake(take, split, { told: { method, keys } });
  assert.equal(found.keys[0]!.mode, 'dorian');
  assert.deepEqual(
    found.keySpans.map(({ tonic, startBar }) => [tonic, startBar]),
    [[2, 1]],
  );
  assert.deepEqual(symbols(found.chords), symbols(today.chords));
  // Completed without another analysis, it is the same.
  assert.deepEqual(completed({ method, keys }, readingOf(today), today.bars), {
    ...readingOf(found),
    method,
  });
});
