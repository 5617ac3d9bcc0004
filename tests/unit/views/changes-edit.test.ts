import assert from 'node:assert/strict';
import { test } from 'node:test';
import fc from 'fast-check';
import { lineChord } from '../../../src/core/harmonize/line.ts';
import {
  beginnings,
  HELD_RHYTHM,
  playingOf,
  putInto,
  PUTS,
} from '../../../src/views/reuse/changes/changes-edit.ts';

const line = ['Dm7', 'G7', 'C'].map((symbol) => lineChord(symbol, 4));
const symbols = (list: readonly { symbol: string }[]) => list.map(({ symbol }) => symbol).join(' ');

test('a chord of the tray goes after the chosen one, in its place, or nowhere', () => {
  const after = putInto(line, 0, 'Ab7', { how: 'after', beats: 2 });
  assert.deepEqual([symbols(after.line), after.at, after.line[1]!.beats], ['Dm7 Ab7 G7 C', 1, 2]);
  const instead = putInto(line, 1, 'Db7', { how: 'instead', beats: 2 });
  assert.deepEqual([symbols(instead.line), instead.at], ['Dm7 Db7 C', 1]);
  assert.equal(instead.line[1]!.beats, 4, 'as long as the one before it');
  const heard = putInto(line, 1, 'Db7', { how: 'heard', beats: 2 });
  assert.deepEqual([symbols(heard.line), heard.at], [symbols(line), 1]);
});

test('in its place the octave that somebody chose stays, the inversion is found anew', () => {
  const chosen = line.with(1, { ...line[1]!, octave: -1, inversion: 2 });
  const { line: now } = putInto(chosen, 1, 'Db7', { how: 'instead', beats: 4 });
  assert.deepEqual([now[1]!.octave, now[1]!.inversion], [-1, null]);
});

test('the first chord of an empty line is its first, however it is put', () => {
  for (const how of ['after', 'instead'] as const) {
    const first = putInto([], 0, 'F', { how, beats: 4 });
    assert.deepEqual([symbols(first.line), first.at], ['F', 0]);
  }
});

test('whatever is put: the line before is not touched, and what is chosen then is in the line', () => {
  const lines = fc.array(
    fc
      .tuple(fc.constantFrom('C', 'F', 'G7', ''), fc.integer({ min: 1, max: 8 }))
      .map(([symbol, beats]) => lineChord(symbol, beats)),
    { maxLength: 6 },
  );
  fc.assert(
    fc.property(lines, fc.nat(5), fc.constantFrom(...PUTS), (before, wanted, how) => {
      const at = Math.min(wanted, Math.max(0, before.length - 1));
      const copy = structuredClone(before);
      const after = putInto(before, at, 'Em', { how, beats: 2 });
      assert.deepEqual(before, copy);
      if (after.line.length > 0) assert.ok(after.line[after.at]);
      const { from, beats } = beginnings(after.line);
      assert.equal(
        beats,
        after.line.reduce((sum, one) => sum + one.beats, 0),
      );
      from.forEach((beat, k) => assert.equal(beat + after.line[k]!.beats, from[k + 1] ?? beats));
    }),
  );
});

test('a rhythm that cannot be read, or none, is one held stroke a chord', () => {
  const edit = { key: 'C', line, strum: 'down' as const, spread: 30, rhythm: HELD_RHYTHM };
  const held = playingOf(edit);
  assert.equal(held.rhythm, null);
  assert.deepEqual([held.strum, held.spread], ['down', 30]);
  assert.deepEqual(playingOf({ ...edit, rhythm: { ...HELD_RHYTHM, steps: 'what?' } }), held);
  const played = playingOf({ ...edit, rhythm: { name: 'pushed', steps: 'x..x..x.', perBeat: 2, beats: 4 } });
  assert.deepEqual([played.rhythm, played.rhythmBeats], [{ steps: 'x..x..x.', perBeat: 2 }, 4]);
});
