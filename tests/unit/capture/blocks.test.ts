import assert from 'node:assert/strict';
import { describe, it } from 'node:test';
import fc from 'fast-check';
import { barsOfBlock, joinBlocks, roundsThatFill } from '../../../src/core/capture/blocks.ts';
import { readTakes, takeFrom, type Take } from '../../../src/core/capture/take.ts';
import { channelEvent, STATUS } from '../../../src/core/midi/smf.ts';
import { writeMidiFile } from '../../../src/core/midi/write.ts';
import { barStart, bpmOf } from '../../../src/core/music/timeline.ts';
import { performanceFile } from '../../../src/core/standins/performance.ts';
import { standInById } from '../../../src/core/standins/stand-ins.ts';
import { takeOf, trackOf } from '../../support/midi.ts';

const played = (id: string, settings: object): Take => {
  const standIn = standInById(id);
  return takeFrom(performanceFile(standIn.play({ ...standIn.defaults, ...settings })));
};
const block = (name: string, take: Take) => ({ name, take, bars: barsOfBlock(take) });
const read = (midi: ReturnType<typeof joinBlocks>) => readTakes(writeMidiFile(midi))[0]!;
const rows = ({ notes }: Take, from = 0) =>
  [...notes.tick].map((tick, i) => `${tick - from} ${notes.pitch[i]} ${notes.velocity[i]} ${notes.channel[i]}`); // prettier-ignore

describe('takes one after another', () => {
  const verse = played('band', { chart: 'Dm | Gm', choruses: 1, bpm: 100, looseness: 0 });
  const waltz = played('band', {
    chart: 'C | F | G',
    choruses: 1,
    bpm: 90,
    style: 'clockwork',
    looseness: 0,
  });

  it('keep their notes, each behind the one before, in their own tempo and meter', () => {
    const joined = read(joinBlocks('Both', [block('Verse', verse), block('Waltz', waltz)]));
    assert.equal(joined.notes.length, verse.notes.length + waltz.notes.length);
    assert.deepEqual(joined.repairs, []);
    const { timeline } = joined.timing;
    const second = barStart(timeline, 3);
    assert.equal(second, 2 * 4 * 480);
    assert.deepEqual(timeline.meters.map(({ tick, numerator }) => [tick, numerator]), [[0, 4], [second, 3]]); // prettier-ignore
    assert.deepEqual(timeline.tempos.map(({ microseconds }) => Math.round(bpmOf(microseconds))), [100, 90]); // prettier-ignore
    const before = rows(verse).sort();
    const after = rows(waltz).sort();
    const all = joined.notes.tick;
    const part = (wanted: boolean) => [...all.keys()].filter((i) => all[i]! >= second === wanted);
    const picked = (indices: number[], from: number) =>
      indices.map((i) => rows(joined, from)[i]!).sort(); // prettier-ignore
    assert.deepEqual(picked(part(false), 0), before);
    assert.deepEqual(picked(part(true), second), after);
    assert.deepEqual(joined.timing.markers.map(({ text }) => text), ['Verse', 'Waltz']); // prettier-ignore
  });

  it('go on with one track where the name and channel are one', () => {
    const twice = read(joinBlocks('Twice', [block('A', verse), block('B', verse)]));
    const tracksOf = (take: Take) => new Set(take.notes.track).size;
    assert.equal(tracksOf(twice), tracksOf(verse));
  });

  it('fill bars by rounds, the last one cut: 1 bar to 4, 3 bars to 8', () => {
    const pattern = played('step-grid', { bars: 1 });
    assert.deepEqual(roundsThatFill({ name: 'x', take: pattern }, 4).map(({ bars }) => bars), [1, 1, 1, 1]); // prettier-ignore
    const filled = read(joinBlocks('x', roundsThatFill({ name: 'x', take: pattern }, 4)));
    assert.equal(filled.notes.length, 4 * pattern.notes.length);
    assert.deepEqual(roundsThatFill({ name: 'x', take: waltz }, 8).map(({ bars }) => bars), [3, 3, 2]); // prettier-ignore
    assert.equal(barsOfBlock(read(joinBlocks('x', roundsThatFill({ name: 'x', take: waltz }, 8)))), 8);
  });

  it('end with the last bars of the pattern where that is asked for, on the sounds and controllers that were set before', () => {
    const rounds = roundsThatFill({ name: 'x', take: waltz }, 8, 'ending');
    assert.deepEqual(rounds.map(({ bars, fromBar }) => [fromBar, bars]), [[1, 3], [1, 3], [2, 2]]); // prettier-ignore
    const filled = read(joinBlocks('x', rounds));
    assert.equal(barsOfBlock(filled), 8);
    const begin = (take: Take, bar: number) => barStart(take.timing.timeline, bar);
    const since = (take: Take, bar: number) => rows(take, begin(take, bar)).filter((row) => Number.parseInt(row) >= 0); // prettier-ignore
    assert.ok(since(waltz, 2).length > 10);
    assert.deepEqual(since(filled, 7), since(waltz, 2));
    const level = channelEvent(100, STATUS.controller, 0, 7, 90);
    const bent = takeOf([trackOf([[0, 480, 60], [1920, 480, 62]], [level])]); // prettier-ignore
    const { file } = read(joinBlocks('x', [{ name: 'x', take: bent, bars: 1, fromBar: 2 }]));
    const [set] = file.tracks.flat().filter(({ status, data1 }) => status === 0xb0 && data1 === 7);
    assert.deepEqual([set!.tick, set!.data2], [0, 90]);
  });

  it('leave no note hanging and no pitch twice at once, whatever is laid behind what', () => {
    const note = fc.record({ tick: fc.nat(3600), duration: fc.integer({ min: 1, max: 4000 }), pitch: fc.integer({ min: 60, max: 64 }) }); // prettier-ignore
    const take = fc.array(note, { minLength: 1, maxLength: 12 }).map((notes) => {
      // One pitch does not sound twice at once within a block.
      const free = notes.filter((one, i) => !notes.some((other, j) => j < i && other.pitch === one.pitch));
      return takeOf([trackOf(free.map((one) => [one.tick, one.duration, one.pitch] as const))]);
    });
    fc.assert(
      fc.property(fc.array(take, { minLength: 2, maxLength: 4 }), fc.boolean(), (takes, ending) => {
        const whole = takes.map((one) => block('x', one));
        const cut = roundsThatFill({ name: 'x', take: takes[0]! }, 5, 'ending');
        const joined = read(joinBlocks('x', ending ? [...whole, ...cut, ...whole] : whole));
        assert.deepEqual(joined.repairs, []);
        if (!ending) assert.equal(joined.notes.length, takes.reduce((sum, one) => sum + one.notes.length, 0)); // prettier-ignore
        const { tick, duration, pitch } = joined.notes;
        for (let i = 0; i < tick.length; i++)
          for (let j = i + 1; j < tick.length; j++)
            if (pitch[i] === pitch[j]) {
              const [a, b] = tick[i]! <= tick[j]! ? [i, j] : [j, i];
              assert.ok(tick[a]! + duration[a]! <= tick[b]!, 'one ends before the other begins');
            }
      }),
    );
  });
});
