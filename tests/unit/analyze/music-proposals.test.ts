import assert from 'node:assert/strict';
import { test } from 'node:test';
import { analyzeTake, type Known } from '../../../src/core/analyze/analysis.ts';
import { takeFrom, type Take } from '../../../src/core/capture/take.ts';
import { chordSymbol } from '../../../src/core/music/chord.ts';
import { byHandOf } from '../../../src/core/split/by-hand.ts';
import type { Move } from '../../../src/core/split/moves.ts';
import { bandFile } from '../../../src/core/standins/band.ts';
import type { Mishap } from '../../../src/core/standins/mishaps.ts';
import { takeOf, trackOf, type NoteSpec } from '../../support/midi.ts';
import { freeTakes } from '../../../bench/accuracy/free-takes.ts';
import { replayMoves } from '../../support/take.ts';

const played = (chart: string, mishaps: Mishap[]) =>
  takeFrom(
    bandFile({ chart, style: 'river', bpm: 96, seed: 4, title: 'x', mishaps, looseness: 4, choruses: 2 }),
  );

/** What the take says after some moves. */
function after(original: Take, moves: Move[], known: Known = {}) {
  const { take, split } = replayMoves(original, moves);
  return { take, split, ...analyzeTake(take, split, { ...known, byHand: byHandOf(moves) }) };
}

const texts = ({ proposals }: { proposals: { kind: string }[] }) => proposals.map(({ kind }) => kind);

test('a late start is pulled to bar one, and then nothing is late', () => {
  const take = played('Dm | C | Bb | A7', ['lateStart']);
  const found = after(take, []);
  const [late] = found.proposals;
  assert.match(late!.text, /Starts late by 1.5 beats: pull to bar 1\?/);
  const pulled = after(take, [late!.ways[0]!.move]);
  assert.ok(pulled.take.notes.tick[0]! < 60);
  assert.ok(!texts(pulled).includes('late'));
  const refused = after(take, [{ move: 'refuse', proposal: late!.id }]);
  assert.ok(!texts(refused).includes('late'));
});

test('bars after the chart are offered to be set aside; with no chart, bars after what was asked', () => {
  const take = played('Dm | C | Bb | A7', ['tailBars']);
  for (const known of [{ chart: 'Dm | C | Bb | A7' }, { asked: 8 }]) {
    const { proposals } = after(take, [], known);
    const tail = proposals.find(({ kind }) => kind === 'tail');
    assert.ok(tail, JSON.stringify(known));
    const { split } = replayMoves(take, [tail.ways[0]!.move]);
    assert.ok(split.owner.some((owner) => owner < 0));
    assert.deepEqual(texts(after(take, [tail.ways[0]!.move], known)).includes('tail'), false);
  }
});

test('a suspended chord that sounded with its third is mended note by note', () => {
  const chart = 'Dm | Gsus4 | Bb | Asus4';
  const take = played(chart, ['wrongThird']);
  const { proposals } = after(take, [], { chart });
  const mends = proposals.filter(({ kind }) => kind === 'chart');
  assert.ok(mends.length >= 2, JSON.stringify(proposals.map(({ text }) => text)));
  assert.match(mends[0]!.text, /Bar 2: asked Gsus4, sounded G: move B to C\?/);
  const moves = mends.map(({ ways }) => ways[0]!.move);
  const mended = after(take, moves, { chart });
  assert.ok(mended.chartCheck!.aligned.every(({ same }) => same));
  assert.ok(!texts(mended).includes('chart'));
});

test('a take played to no click is offered its own bars, and nothing else before', () => {
  const { take } = freeTakes(8, { seed: 77 }).find(({ name }) => name.startsWith('plain'))!;
  const found = after(take, []);
  assert.deepEqual(texts(found), ['bars']);
  const moved = after(take, [found.proposals[0]!.ways[0]!.move]);
  assert.ok(!texts(moved).includes('bars'));
  assert.equal(moved.chords.length > 0, true);
});

test('chords, key and sections that were set by hand stand over what is found, and are told', () => {
  const take = played('Dm | C | Bb | A7', []);
  const written: Move[] = [
    { move: 'chord', fromTick: 1920, toTick: 3840, symbol: 'Am7' },
    { move: 'chooseKey', key: { tonic: 5, mode: 'major' } },
    { move: 'sections', sections: [{ startBar: 1, bars: 8, label: 'All', purpose: 'groove' }] },
  ];
  const said = after(take, written);
  const [first, second] = said.chords;
  assert.equal(chordSymbol(second!.chord!, null), 'Am7');
  assert.deepEqual([second!.byHand, second!.certainty, first!.byHand], [true, 1, undefined]);
  assert.deepEqual([said.keys[0]!.tonic, said.keys[0]!.certainty], [5, 1]);
  assert.deepEqual([said.sections.length, said.sectionsByHand], [1, true]);
  const nothing = after(take, [{ move: 'chord', fromTick: 0, toTick: 1920, symbol: '' }]);
  assert.equal(nothing.chords[0]!.chord, null);
});

test('a part that is left out of the harmony counts for no chord', () => {
  const take = played('Dm | C | Bb | A7', []);
  const { split } = replayMoves(take, []);
  const leaveOut = split.parts.map(({ id }): Move => ({ move: 'weigh', part: id, weight: 0 }));
  assert.ok(after(take, leaveOut).chords.every(({ chord }) => chord === null));
});

test('a note far behind the others makes no desert of bars: what is found stays small', () => {
  const line = Array.from({ length: 100 }, (_, i): NoteSpec => [i * 480, 100, 60 + (i % 12)]);
  const take = takeOf([trackOf([...line, [268_000_000, 100, 64]])]);
  const found = after(take, []);
  assert.ok(found.bars > 100_000);
  assert.ok(found.chords.length < 5000 && found.sections.length < 100);
});
