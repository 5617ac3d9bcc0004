import assert from 'node:assert/strict';
import { describe, it } from 'node:test';
import fc from 'fast-check';
import { takeFrom } from '../../../src/core/capture/take.ts';
import { noChoice, runsOf, taken, type Choice } from '../../../src/core/comp/choice.ts';
import { compToMidi, tallyOf } from '../../../src/core/comp/comp.ts';
import { cellsOf } from '../../../src/core/comp/grid.ts';
import { joinChosen } from '../../../src/core/comp/join.ts';
import { cutBetween } from '../../../src/core/comp/joint.ts';
import { alignPasses, type PassTake } from '../../../src/core/comp/passes.ts';
import { rowsOf } from '../../../src/core/comp/rows.ts';
import { fillBars, suggest } from '../../../src/core/comp/suggest.ts';
import {
  channelEvent,
  META,
  metaEvent,
  STATUS,
  type MidiEvent,
  type MidiFile,
} from '../../../src/core/midi/smf.ts';
import { writeMidiFile } from '../../../src/core/midi/write.ts';
import { readTakes } from '../../../src/core/capture/take.ts';
import { bandPass, passOfTake } from './passes.ts';

const CHART = 'Dm | Bb | Gm | A7 | Dm | F | Gm A7 | Dm';

function laid(takes: readonly PassTake[], chart = CHART) {
  const aligned = alignPasses(takes, chart);
  const rows = rowsOf(aligned.passes);
  return { aligned, rows, bars: aligned.chart.length };
}

function allOf(pass: number, rows: number, bars: number): Choice {
  return taken(noChoice(rows, bars), { row: null, from: 0, to: bars - 1 }, pass);
}

/** Notes as a file has them: onset, length, pitch, velocity, in order. */
function noteRows({ notes }: ReturnType<typeof takeFrom>): string[] {
  return [...notes.tick]
    .map(
      (tick, i) => `${tick} ${notes.duration[i]} ${notes.pitch[i]} ${notes.velocity[i]} ${notes.channel[i]}`,
    )
    .sort();
}

const TEN = Array.from({ length: 10 }, (_, k) => bandPass(k + 1, { chart: CHART }));

describe('passes along a chart', () => {
  it('accounts for 80 bars of 10 passes of 8 bars (check value of the specification)', () => {
    const { aligned, rows, bars } = laid(TEN);
    assert.equal(aligned.passes.length, 10);
    const choice = allOf(2, rows.length, bars);
    const tally = tallyOf(aligned, rows, choice, joinChosen(aligned, rows, choice));
    assert.deepEqual(tally.bars, { in: 80, used: 8, notUsed: 72 });
    assert.ok(tally.balanced);
    assert.equal(tally.notes.used + tally.notes.notUsed, tally.notes.in);
  });

  it('finds the bars a device added, and those of a pass that went on', () => {
    const { aligned } = laid([TEN[0]!, bandPass(11, { chart: CHART, mishaps: ['tailBars'] })]);
    const [, longer] = aligned.passes;
    assert.deepEqual(longer!.barAt, [1, 2, 3, 4, 5, 6, 7, 8]);
    assert.ok(aligned.beside.some(({ take, why }) => take === 'pass 11' && why === 'added'));
  });

  it('takes a take of two rounds as two passes', () => {
    const { aligned } = laid([bandPass(1, { chart: CHART, choruses: 2 })]);
    assert.deepEqual(aligned.passes.map(({ barAt }) => barAt[0]), [1, 9]); // prettier-ignore
    assert.match(aligned.passes[1]!.name, /round 2/);
  });

  it('leaves the count-in out', () => {
    const counted = withCountIn(TEN[0]!);
    const { aligned, rows, bars } = laid([counted, TEN[1]!]);
    assert.deepEqual(aligned.passes[0]!.barAt, [2, 3, 4, 5, 6, 7, 8, 9]);
    assert.deepEqual(aligned.beside, [{ take: 'counted', bars: [1], why: 'before' }]);
    const joined = joinChosen(aligned, rows, allOf(0, rows.length, bars));
    const first = Math.min(...joined.rows.flatMap(({ notes }) => notes.map(({ tick }) => tick)));
    assert.ok(first < 120, `the music begins at bar one, not at ${first}`);
  });

  it('names a pass of another meter and goes on without it', () => {
    const waltz = bandPass(3, { chart: CHART, style: 'barcarole' });
    const { aligned } = laid([TEN[0]!, TEN[1]!, { ...waltz, name: 'The waltz' }]);
    assert.equal(aligned.passes.length, 2);
    assert.match(aligned.leftOut[0]!.text, /The waltz has bars of \d\/\d, and/);
  });

  it('goes by the number of the bar where the chart is not followed, and says so', () => {
    const { aligned } = laid(TEN.slice(0, 2), 'F#m | B7 | G#m | C#7 | F#m | E7 | Ebm | B');
    assert.equal(aligned.remarks.length, 2);
    assert.match(aligned.remarks[0]!.text, /does not follow the chart \(\d of 8 bars\)/);
    assert.deepEqual(aligned.passes[0]!.barAt, [1, 2, 3, 4, 5, 6, 7, 8]);
  });
});

/** The pass with a bar of four strokes on a closed hi-hat before it. */
function withCountIn({ take }: PassTake): PassTake {
  const bar = 4 * take.timing.timeline.ppq;
  const tracks = take.file.tracks.map((events) =>
    events.map((event) => ({
      ...event,
      tick: event.tick === 0 && event.status >= 0xc0 ? 0 : event.tick + bar,
    })),
  );
  const strokes = Array.from({ length: 4 }, (_, k) => [
    channelEvent((k * bar) / 4, STATUS.noteOn, 9, 42, 100),
    channelEvent((k * bar) / 4 + 60, STATUS.noteOff, 9, 42, 64),
  ]).flat();
  const drums = tracks.findIndex((events) => events.some(({ status }) => status === 0x99));
  const all = [...strokes, ...tracks[drums]!].sort((a, b) => a.tick - b.tick);
  return passOfTake('counted', takeFrom({ ...take.file, tracks: tracks.map((one, k) => (k === drums ? all : one)) })); // prettier-ignore
}

describe('what was chosen, as one', () => {
  it('gives pass 3 to the byte of its notes where all of it is taken (check value of the specification)', () => {
    const { aligned, rows, bars } = laid(TEN);
    const choice = allOf(2, rows.length, bars);
    const joined = joinChosen(aligned, rows, choice);
    assert.deepEqual(joined.joints, []);
    const midi = compToMidi('comp', { aligned, rows, choice, joined, key: null });
    const [again] = readTakes(writeMidiFile(midi));
    assert.deepEqual(noteRows(again!), noteRows(TEN[2]!.take));
  });

  it('has no hung note, and every note once, at 1,000 random joints', () => {
    const { aligned, rows, bars } = laid(TEN);
    let joints = 0;
    fc.assert(
      fc.property(
        fc.array(fc.array(fc.nat(9), { minLength: bars, maxLength: bars }), {
          minLength: rows.length,
          maxLength: rows.length,
        }),
        (choice) => {
          const joined = joinChosen(aligned, rows, choice);
          joints += joined.joints.length;
          assert.ok(tallyOf(aligned, rows, choice, joined).balanced);
          const midi = compToMidi('comp', { aligned, rows, choice, joined, key: null });
          const [again] = readTakes(writeMidiFile(midi));
          assert.deepEqual(again!.repairs, [], 'no note without its end');
          const notes = joined.rows.reduce((sum, row) => sum + row.notes.length, 0);
          assert.equal(again!.notes.length, notes);
          for (const row of joined.rows)
            assert.deepEqual(overlapping(row.notes), [], 'no pitch twice at once');
        },
      ),
      { numRuns: 60 },
    );
    assert.ok(joints >= 1000, `${joints} joints`);
  });

  it('keeps ticks exact between passes of other resolutions', () => {
    const [one, two] = [toneTake(96, [0, 24, 48]), toneTake(120, [0, 30, 60])];
    const { aligned, rows } = laid([passOfTake('a', one), passOfTake('b', two)], 'C | C');
    const joined = joinChosen(aligned, rows, allOf(1, rows.length, 2));
    assert.equal(joined.timeline.ppq, 480);
    assert.deepEqual(joined.rows[0]!.notes.map(({ tick }) => tick), [0, 120, 240]); // prettier-ignore
  });

  it('is at one tempo, whatever its passes were', () => {
    const { aligned, rows, bars } = laid([bandPass(1, { chart: CHART, bpm: 96 }), bandPass(2, { chart: CHART, bpm: 104 })]); // prettier-ignore
    const choice = taken(allOf(0, rows.length, bars), { row: null, from: 4, to: 7 }, 1);
    const { timeline } = joinChosen(aligned, rows, choice);
    assert.deepEqual(timeline.tempos.map(({ microseconds }) => microseconds), [625_000]); // prettier-ignore
  });
});

/** Pitches that sound twice at once. */
function overlapping(notes: readonly { tick: number; duration: number; pitch: number; pass: number }[]) {
  return notes.filter((note, i) =>
    notes.some(
      (other, j) =>
        j > i &&
        other.pitch === note.pitch &&
        other.pass !== note.pass &&
        other.tick < note.tick + note.duration &&
        note.tick < other.tick + other.duration,
    ),
  );
}

/** Two bars of one pitch, with a pedal that is never let go. */
function toneTake(ppq: number, onsets: readonly number[], more: readonly MidiEvent[] = []) {
  const end = 8 * ppq;
  const events = onsets.flatMap((tick) => [
    channelEvent(tick, STATUS.noteOn, 0, 60, 90),
    channelEvent(tick + ppq / 8, STATUS.noteOff, 0, 60, 64),
  ]);
  // Something stands in the second bar too.
  events.push(
    channelEvent(4 * ppq, STATUS.noteOn, 0, 64, 90),
    channelEvent(5 * ppq, STATUS.noteOff, 0, 64, 64),
  );
  const all = [...events.slice(0, -2), ...more].sort((a, b) => a.tick - b.tick);
  const file: MidiFile = {
    ...{ format: 1, division: { kind: 'metrical', ppq }, otherChunks: [] },
    tracks: [[...all, metaEvent(end, META.endOfTrack, new Uint8Array())]],
  };
  return takeFrom(file);
}

describe('where a cut lies', () => {
  const place = { line: 1920, reach: 240, early: 60 };
  const note = (tick: number, duration: number, pitch = 60) => ({ tick, duration, pitch, velocity: 90 });

  it('is the line where it is silent', () => {
    assert.equal(cutBetween([note(1680, 120)], [note(1920, 240)], place), 1920);
  });
  it('lies before a push of the pass that comes, which is not lost', () => {
    assert.equal(cutBetween([note(1440, 200)], [note(1800, 600)], place), 1800);
  });
  it('lies before a push of the pass that goes, which would be doubled', () => {
    const cut = cutBetween([note(1440, 200), note(1800, 600)], [note(1920, 240)], place);
    assert.ok(cut > 1560 && cut <= 1800, String(cut));
  });
  it('lies before a hand that is a little early', () => {
    assert.equal(cutBetween([note(1440, 200)], [note(1905, 5), note(2000, 30)], place), 1905);
  });
  it('is never further from the line than half a beat', () => {
    const near = fc.record({ tick: fc.integer({ min: 1000, max: 2600 }), duration: fc.integer({ min: 1, max: 900 }), pitch: fc.nat(127), velocity: fc.integer({ min: 1, max: 127 }) }); // prettier-ignore
    fc.assert(
      fc.property(fc.array(near), fc.array(near), (before, after) => {
        assert.ok(Math.abs(cutBetween(before, after, place) - place.line) <= place.reach);
      }),
    );
  });
});

describe('what stands at a joint', () => {
  const hold = (velocity: number, pitch: number, pedal: boolean) => {
    const ppq = 480;
    const events = [
      ...(pedal ? [channelEvent(0, STATUS.controller, 0, 64, 127), channelEvent(10, STATUS.pitchBend, 0, 0, 96)] : []), // prettier-ignore
      ...[0, 1].flatMap((bar) => [
        channelEvent(bar * 1920, STATUS.noteOn, 0, pitch, velocity),
        channelEvent(bar * 1920 + 1900, STATUS.noteOff, 0, pitch, 64),
      ]),
    ];
    const file: MidiFile = {
      ...{ format: 1, division: { kind: 'metrical', ppq }, otherChunks: [] },
      tracks: [[...events, metaEvent(3840, META.endOfTrack, new Uint8Array())]],
    };
    return takeFrom(file);
  };

  it('marks steps in level over 12 and in register over an octave, and settles pedal and bend', () => {
    const takes = [passOfTake('soft', hold(60, 60, true)), passOfTake('loud', hold(90, 76, false))];
    const { aligned, rows } = laid(takes, 'C | C');
    const choice = [[0, 1]];
    assert.equal(rows.length, 1);
    const joined = joinChosen(aligned, rows, choice);
    const [joint] = joined.joints;
    assert.deepEqual(joint!.marks, ['level', 'register']);
    assert.deepEqual([joint!.level, joint!.semitones], [30, 16]);
    const at = joined.rows[0]!.controls.filter(({ tick }) => tick === joint!.tick);
    assert.deepEqual(at.map(({ kind, data1, data2 }) => [kind, data1, data2]).sort(), [[0xb0, 64, 0], [0xe0, 0, 64]]); // prettier-ignore
  });

  it('leaves no pedal held at the end', () => {
    const { aligned, rows } = laid([passOfTake('a', hold(60, 60, true)), passOfTake('b', hold(60, 60, true))], 'C | C'); // prettier-ignore
    const { controls } = joinChosen(aligned, rows, [[0, 0]]).rows[0]!;
    const pedal = controls.filter(({ kind, data1 }) => kind === 0xb0 && data1 === 64);
    assert.equal(pedal.at(-1)!.data2, 0);
  });
});

describe('what is suggested', () => {
  it('takes no bar that missed the chart where another pass did not', () => {
    // A pass whose A7 came out as A: the mistake a device makes with a suspended chord.
    const chart = 'Dm | Asus4 | Gm | Asus4 | Dm | F | Gm | Dm';
    const takes = [
      bandPass(1, { chart, mishaps: ['wrongThird'] }),
      bandPass(2, { chart }),
      bandPass(3, { chart, mishaps: ['wrongThird'] }),
    ];
    const { aligned, rows } = laid(takes, chart);
    const cells = cellsOf(aligned, rows, null, chart);
    const missed = cells.map((own) => own.flatMap((cell, bar) => (cell?.miss ? [bar + 1] : [])));
    assert.ok(missed[0]!.includes(2) && missed[0]!.includes(4), JSON.stringify(missed));
    const found = suggest(cells, chart, { way: 'errors' });
    assert.equal(found[1]!.pass, 1);
    assert.equal(found[3]!.pass, 1);
    assert.equal(found[1]!.why, 'fewest errors');
  });

  it('follows a star where the chart allows it', () => {
    const { aligned, rows } = laid(TEN.slice(0, 4));
    const cells = cellsOf(aligned, rows, null, CHART);
    const found = suggest(cells, CHART, { way: 'errors', isStarred: (pass, bar) => pass === 3 && bar === 5 });
    assert.equal(found[5]!.pass, 3);
    assert.equal(found[5]!.why, 'starred');
  });

  it('looks for fills at the ends of sections, of four bars where none are named', () => {
    assert.deepEqual([...fillBars(CHART, 8)], [3, 7]);
    assert.deepEqual([...fillBars('A: Dm | A7; B: Gm | C | F; form: A B A', 7)], [1, 4, 6]);
  });

  it('never costs more than any other way through, of those that are nearly free of errors', () => {
    const { aligned, rows } = laid(TEN.slice(0, 3));
    const cells = cellsOf(aligned, rows, null, CHART);
    const path = suggest(cells, CHART, { way: 'errors' }).map(({ pass }) => pass!);
    const errors = (choice: readonly number[]) =>
      choice.filter((pass, bar) => cells[pass]![bar]?.miss).length;
    const everyway = fc.array(fc.nat(2), { minLength: 8, maxLength: 8 });
    fc.assert(fc.property(everyway, (other) => assert.ok(errors(path) <= errors(other))));
  });
});

describe('runs of bars', () => {
  it('are two where the bars did not follow each other when they were played', () => {
    assert.deepEqual(runsOf([0, 0, 0], [[1, 2, 4]]), [
      { pass: 0, from: 0, to: 1 },
      { pass: 0, from: 2, to: 2 },
    ]);
  });
});
