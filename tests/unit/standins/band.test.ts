import assert from 'node:assert/strict';
import { test } from 'node:test';
import { takeFrom, trackName } from '../../../src/core/capture/take.ts';
import { writeMidiFile } from '../../../src/core/midi/write.ts';
import { bandFile, type BandRequest } from '../../../src/core/standins/band.ts';

const request: BandRequest = {
  chart: 'Dm | Gm | A7 | Dm',
  style: 'river',
  bpm: 96,
  seed: 7,
  title: 'Ferry crossing',
};
const barTicks = 4 * 480;

test('the same request gives the same bytes, another seed other ones', () => {
  assert.deepEqual(writeMidiFile(bandFile(request)), writeMidiFile(bandFile(request)));
  assert.notDeepEqual(writeMidiFile(bandFile(request)), writeMidiFile(bandFile({ ...request, seed: 8 })));
});

test('two bars nobody asked for follow the chart, and end it', () => {
  const take = takeFrom(bandFile(request));
  assert.equal(take.timing.ticks, 6 * barTicks);
  const after = [...take.notes.tick].filter((tick) => tick >= 4 * barTicks);
  assert.ok(after.length > 0);
  assert.deepEqual(take.repairs, []);
});

test('the bass comes in three tracks that never sound together', () => {
  const take = takeFrom(bandFile(request));
  const tracks = take.file.tracks.flatMap((_, i) => (/^Bass/.test(trackName(take.file, i)) ? [i] : []));
  assert.equal(tracks.length, 3);
  const bass = [...Array(take.notes.length).keys()].filter((i) => tracks.includes(take.notes.track[i]!));
  const ends = new Map<number, number>();
  for (const i of bass) {
    const tick = take.notes.tick[i]!;
    for (const [track, end] of ends)
      if (track !== take.notes.track[i]) assert.ok(end <= tick + 60, `at ${tick}`);
    ends.set(take.notes.track[i]!, tick + take.notes.duration[i]!);
  }
});

test('the shuffle puts its drums on channel 1 and swings', () => {
  const take = takeFrom(bandFile({ ...request, style: 'market', looseness: 0 }));
  const kit = [...Array(take.notes.length).keys()].filter(
    (i) => trackName(take.file, take.notes.track[i]!) === 'Kit',
  );
  assert.ok(kit.length > 0 && kit.every((i) => take.notes.channel[i] === 0));
  const offBeats = kit.map((i) => take.notes.tick[i]! % 480).filter((tick) => tick > 200 && tick < 340);
  assert.ok(offBeats.length > 4 && offBeats.every((tick) => tick === Math.round(480 * 0.62)));
});

test('on each downbeat the bass sounds the root of the chord', () => {
  const take = takeFrom(bandFile({ ...request, looseness: 0 }));
  const roots = [2, 7, 9, 2];
  roots.forEach((root, bar) => {
    const i = [...Array(take.notes.length).keys()].find(
      (n) => take.notes.tick[n] === bar * barTicks && trackName(take.file, take.notes.track[n]!) === 'Bass',
    );
    assert.equal(take.notes.pitch[i!]! % 12, root);
  });
});

test('the waltz counts three', () => {
  const take = takeFrom(bandFile({ ...request, style: 'clockwork' }));
  assert.deepEqual(take.timing.meters, [{ tick: 0, numerator: 3, denominator: 4 }]);
});
