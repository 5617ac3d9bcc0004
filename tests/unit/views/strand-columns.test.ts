import assert from 'node:assert/strict';
import { test } from 'node:test';
import { channelEvent } from '../../../src/core/midi/smf.ts';
import { makeTimeline } from '../../../src/core/music/timeline.ts';
import { splitTake } from '../../../src/core/split/split.ts';
import {
  barLinesWithBeats,
  barsFrom,
  strandsOf,
  takeBars,
} from '../../../src/views/shared/takes/strand-columns.ts';
import { takeOf, trackOf } from '../../support/midi.ts';

const take = takeOf([
  trackOf(
    [
      [0, 480, 40],
      [1920, 480, 43],
    ],
    [channelEvent(0, 0xc0, 0, 33)],
  ),
  trackOf([[480, 240, 64, 70, 1]], [channelEvent(0, 0xc0, 1, 4)]),
]);

test('each part with notes is a strand of columns, its notes in order of onset', () => {
  const [bass, keys] = strandsOf(take, splitTake(take));
  assert.deepEqual([bass!.part.role, keys!.part.role], ['bass', 'keys']);
  assert.deepEqual(Array.from(bass!.notes.tick), [0, 1920]);
  assert.deepEqual(Array.from(bass!.notes.pitch), [40, 43]);
  assert.deepEqual(Array.from(keys!.notes.velocity), [70]);
  assert.deepEqual(
    bass!.indices.map((i) => take.notes.pitch[i]),
    [40, 43],
  );
});

test('a strand is drawn anew only where its notes, its locks or its kit are others: a name is not', () => {
  const split = splitTake(take);
  const [bass, keys] = strandsOf(take, split);
  const locked = Uint8Array.from(split.locked);
  locked[keys!.indices[0]!] = 1;
  const parts = split.parts.map((part) => ({ ...part, name: `${part.name} again` }));
  const [bassAfter, keysAfter] = strandsOf(take, { ...split, parts, locked });
  assert.equal(bassAfter!.notes, bass!.notes);
  assert.equal(bassAfter!.part.name, parts[0]!.name);
  assert.notEqual(keysAfter!.notes, keys!.notes);
  assert.deepEqual(keysAfter!.locked, keys!.indices);
});

test('bar lines have the beats of their own meter between them', () => {
  const timeline = makeTimeline(
    480,
    [],
    [
      { tick: 0, numerator: 4, denominator: 4 },
      { tick: 1920, numerator: 6, denominator: 8 },
    ],
  );
  assert.deepEqual(barLinesWithBeats(timeline, 2), [
    { tick: 0, beats: [480, 960, 1440] },
    { tick: 1920, beats: [2160, 2400, 2640, 2880, 3120] },
  ]);
});

test('bars in the address are those of the take: past its end they are cut, and what is no stretch is none', () => {
  const last = takeBars(take);
  assert.equal(last, 2);
  assert.deepEqual(barsFrom('1-2', last), { start: 1, count: 2 });
  assert.deepEqual(barsFrom('2-9', last), { start: 2, count: 1 });
  for (const text of [null, '', '2', '2-1', '0-1', '3-4', 'one-two', '1-2-3'])
    assert.equal(barsFrom(text, last), null);
});
