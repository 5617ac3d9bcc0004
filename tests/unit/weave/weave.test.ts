import assert from 'node:assert/strict';
import { execFileSync } from 'node:child_process';
import { mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { after, test } from 'node:test';
import fc from 'fast-check';
import { parseMidi } from 'midi-file';
import {
  secondsOfWeave,
  weaveInOneFile,
  weavePartFiles,
  weaveSectionFiles,
} from '../../../src/core/exchange/weave-files.ts';
import { writeMidiFile } from '../../../src/core/midi/write.ts';
import { parseKey } from '../../../src/core/music/key.ts';
import { steadyTimeline } from '../../../src/core/music/timeline.ts';
import type { Clip } from '../../../src/core/phrase/clip.ts';
import type { WovenPhrase } from '../../../src/core/weave/cell.ts';
import { layWeave } from '../../../src/core/weave/lay.ts';
import {
  newCell,
  newSection,
  problemOfWeave,
  sectionNames,
  withCellStep,
  type Weave,
  type WeaveCell,
} from '../../../src/core/weave/weave.ts';
import { barOf } from '../../support/clips.ts';
import { withoutMidicsv } from '../../support/midicsv.ts';
import { midoFiles, withoutMido } from '../../support/mido.ts';

const folder = mkdtempSync(join(tmpdir(), 'basket-weave-'));
after(() => rmSync(folder, { recursive: true }));

const PPQ = 960;
const BAR = 4 * PPQ;

const groove: Clip = barOf(
  [
    [0, 60, 36],
    [480, 60, 38],
    [960, 60, 36],
    [1440, 60, 38],
  ],
  { role: 'drums' },
);
const chords: Clip = {
  ...barOf(
    [60, 64, 67].map((pitch) => [0, 1900, pitch] as [number, number, number]),
    { role: 'keys' },
  ),
  key: parseKey('C')!,
};
/** A rolled chord: 40 ms from the first note to the last. */
const rolled: Clip = {
  ...barOf(
    [
      [0, 1900, 60],
      [20, 1880, 64],
      [38, 1862, 67],
    ],
    { role: 'keys' },
  ),
  key: parseKey('C')!,
};
const bass: Clip = { ...barOf([[0, 1900, 36]], { role: 'bass' }), key: parseKey('C')! };

const phrases = new Map<string, WovenPhrase>([
  ['groove', { clip: groove, from: 'C' }],
  ['chords', { clip: chords, from: 'C' }],
  ['rolled', { clip: rolled, from: 'C' }],
  ['bass', { clip: bass, from: 'C' }],
]);

const PARTS = [
  { id: 'kit', name: 'Kit', role: 'drums' as const, program: null, level: 1, pan: null },
  { id: 'keys', name: 'Keys', role: 'keys' as const, program: null, level: 1, pan: null },
  { id: 'bass', name: 'Bass', role: 'bass' as const, program: null, level: 1, pan: null },
];

function weaveOf(form: string, more: Partial<Weave> = {}, bars = 8): Weave {
  const sections = sectionNames(form).map((name, k) => newSection(`s${k}`, name, bars));
  const cells = sections.flatMap(({ id }) => [
    newCell(id, 'kit', 'groove'),
    newCell(id, 'keys', 'chords'),
    newCell(id, 'bass', 'bass'),
  ]);
  return {
    ...{ title: 'Crossing', bpm: 100, meter: { numerator: 4, denominator: 4 }, key: 'C' },
    ...{ sections, parts: PARTS, cells, ending: 'none', endingBars: 2, refused: [] },
    ...more,
  };
}

const partOf = (weave: Weave, id: string) =>
  layWeave(weave, phrases).parts.find(({ part }) => part.id === id)!.clip;

// Check value of the design: 34 bars, 81.6 s.
test('A A B A of 8 bars with an ending of 2 at 100 BPM: 34 bars, 81.6 s; every file is as long and ends on the bar line', () => {
  const weave = weaveOf('A A B A', { ending: 'ring' });
  const laid = layWeave(weave, phrases);
  assert.equal(laid.bars, 34);
  assert.equal(Math.round(1000 * secondsOfWeave(laid)), 81_600);
  assert.equal(laid.length, 34 * BAR);
  for (const { midi, bars } of weavePartFiles(weave, laid)) {
    assert.equal(bars, 34);
    const read = parseMidi(writeMidiFile(midi));
    for (const track of read.tracks) {
      assert.equal(track.at(-1)!.type, 'endOfTrack');
      assert.equal(
        track.reduce((tick, { deltaTime }) => tick + deltaTime, 0),
        34 * BAR,
      );
    }
  }
});

test('markers name the sections and what is played twice; chords are told where they begin; tempo and meter stand (midi-file)', () => {
  const weave = weaveOf('verse refrain', { ending: 'stop' }, 2);
  weave.sections[0] = { ...weave.sections[0]!, times: 2, changes: 'C Am | F' };
  weave.sections[1] = { ...weave.sections[1]!, bpm: 90, meter: { numerator: 3, denominator: 4 }, changes: 'G | D' }; // prettier-ignore
  const read = parseMidi(writeMidiFile(weaveInOneFile(weave, layWeave(weave, phrases))));
  let tick = 0;
  const told: [number, string][] = [];
  const [tempos, meters]: [number, number][][] = [[], []];
  for (const event of read.tracks[0]!) {
    tick += event.deltaTime;
    if (event.type === 'marker') told.push([tick, event.text]);
    if (event.type === 'setTempo') tempos!.push([tick, Math.round(60_000_000 / event.microsecondsPerBeat)]);
    if (event.type === 'timeSignature') meters!.push([tick, event.numerator]);
  }
  assert.deepEqual(told, [
    [0, 'verse 1'],
    [0, 'C'],
    [2 * PPQ, 'Am'],
    [BAR, 'F'],
    [2 * BAR, 'verse 2'],
    [2 * BAR, 'C'],
    [2 * BAR + 2 * PPQ, 'Am'],
    [3 * BAR, 'F'],
    [4 * BAR, 'refrain'],
    [4 * BAR, 'G'],
    [4 * BAR + 3 * PPQ, 'D'],
    [4 * BAR + 6 * PPQ, 'ending'],
  ]);
  assert.deepEqual(tempos, [
    [0, 100],
    [4 * BAR, 90],
  ]);
  assert.deepEqual(meters, [
    [0, 4],
    [4 * BAR, 3],
  ]);
});

test('a cell goes through the chords of its section, and round them; drums stay; its own chords where it is plain', () => {
  const weave = weaveOf('A', {}, 4);
  weave.sections[0] = { ...weave.sections[0]!, changes: 'C | Fm' };
  const classes = (clip: Clip, bar: number) =>
    [
      ...new Set(
        clip.notes.filter(({ tick }) => Math.floor(tick / BAR) === bar).map(({ pitch }) => pitch % 12),
      ),
    ].sort((a, b) => a - b);
  const keys = partOf(weave, 'keys');
  assert.deepEqual(
    [0, 1, 2, 3].map((bar) => classes(keys, bar)),
    [
      [0, 4, 7],
      [0, 5, 8],
      [0, 4, 7],
      [0, 5, 8],
    ],
  );
  assert.deepEqual(classes(partOf(weave, 'bass'), 1), [5]);
  const plain = { ...weave, cells: weave.cells.map((cell) => ({ ...cell, plain: true })) };
  assert.deepEqual(classes(partOf(plain, 'keys'), 1), [0, 4, 7]);
  const late = { ...weave, cells: weave.cells.map((cell) => ({ ...cell, offset: 1 })) };
  assert.deepEqual(classes(partOf(late, 'keys'), 0), []);
  assert.deepEqual(classes(partOf(late, 'keys'), 1), [0, 5, 8], 'it comes in under the second chord');
});

test('a pickup takes its place from the end of what is before, on the same part; before the first section a bar 0', () => {
  const pickup: Clip = {
    ...barOf(
      [
        [1440, 400, 71],
        [1920, 1900, 72],
      ],
      { role: 'keys' },
    ),
    length: 3840,
    pickup: 1920,
    key: parseKey('C')!,
  };
  const all = new Map([...phrases, ['led', { clip: pickup, from: 'C' }]]);
  const weave = weaveOf('A B', {}, 2);
  weave.cells = weave.cells.map((cell) =>
    cell.section === 's1' && cell.part === 'keys' ? { ...cell, phrase: 'led' } : cell,
  );
  const laid = layWeave(weave, all);
  assert.equal(laid.bars, 4);
  const keys = laid.parts[1]!.clip.notes;
  const lead = keys.find(({ pitch }) => pitch === 71)!;
  assert.equal(lead.tick, 2 * BAR - PPQ);
  for (const note of keys) if (note.tick < lead.tick) assert.ok(note.tick + note.duration <= lead.tick);
  const drums = laid.parts[0]!.clip.notes.filter(({ tick }) => tick >= lead.tick && tick < 2 * BAR);
  assert.equal(drums.length, 1, 'the other parts play on');
  const first = { ...weave, sections: [weave.sections[1]!] };
  const begun = layWeave(first, all);
  assert.deepEqual([begun.pickup, begun.bars, begun.length], [BAR, 3, 3 * BAR]);
  assert.equal(begun.sections[0]!.tick, BAR);
});

test('a fill takes the place of the last bar and a crash stands on the next section; the tally of bars is kept', () => {
  const fill = barOf(
    Array.from({ length: 8 }, (_, k) => [k * 240, 60, 45 + (k % 3)] as [number, number, number]),
    { role: 'drums' },
  );
  const all = new Map([...phrases, ['fill', { clip: fill, from: 'C' }]]);
  const weave = weaveOf('A B', {}, 2);
  const put = (section: string, change: Partial<WeaveCell>) =>
    (weave.cells = weave.cells.map((cell) =>
      cell.section === section && cell.part === 'kit' ? { ...cell, ...change } : cell,
    ));
  put('s0', { fill: 'fill' });
  put('s1', { crash: true });
  const kit = layWeave(weave, all).parts[0]!.clip.notes;
  const bar = (k: number) => kit.filter(({ tick }) => Math.floor(tick / BAR) === k).map(({ pitch }) => pitch);
  assert.deepEqual(bar(0), [36, 38, 36, 38]);
  assert.deepEqual(bar(1), [45, 46, 47, 45, 46, 47, 45, 46]);
  assert.deepEqual(bar(2), [36, 49, 38, 36, 38]);
});

test('what hangs over a section is cut at its line; a pad that holds one pitch holds it on; what is muted is silent', () => {
  const hanging = { ...chords, notes: chords.notes.map((note) => ({ ...note, duration: 3000 })) };
  const all = new Map([...phrases, ['hanging', { clip: { ...hanging, role: 'pad' as const }, from: 'C' }]]);
  const weave = weaveOf('A B', { parts: [{ ...PARTS[1]!, role: 'pad' }] }, 1);
  weave.cells = [newCell('s0', 'keys', 'hanging'), newCell('s1', 'keys', 'hanging')];
  const joined = layWeave(weave, all).parts[0]!.clip.notes;
  assert.deepEqual(
    joined.map(({ tick, duration }) => [tick, duration]),
    [60, 64, 67].map(() => [0, BAR + Math.min(6000, BAR)]),
  );
  const asKeys = { ...weave, parts: [PARTS[1]!] };
  const cut = layWeave(asKeys, all).parts[0]!.clip.notes.filter(({ tick }) => tick < BAR);
  assert.ok(cut.every(({ tick, duration }) => tick + duration === BAR));
  const muted = { ...asKeys, cells: weave.cells.map((cell) => ({ ...cell, muted: true })) };
  assert.equal(layWeave(muted, all).parts[0]!.clip.notes.length, 0);
});

test('endings by part: drums a kick and a crash, keys hold, and all grow slower together; bars are added once', () => {
  const weave = weaveOf('A', { ending: 'slower' }, 2);
  const laid = layWeave(weave, phrases);
  assert.equal(laid.bars, 4);
  const after = (id: string) =>
    laid.parts.find(({ part }) => part.id === id)!.clip.notes.filter(({ tick }) => tick >= 2 * BAR);
  assert.deepEqual(
    after('kit').map(({ pitch }) => pitch),
    [36, 49],
  );
  assert.deepEqual(
    after('keys').map(({ duration }) => duration),
    [2 * BAR, 2 * BAR, 2 * BAR],
  );
  const slowest = laid.timeline.tempos.at(-1)!;
  assert.equal(Math.round(60_000_000 / slowest.microseconds), 85);
  const timelines = new Set(laid.parts.map(({ clip }) => JSON.stringify(clip.timeline)));
  assert.equal(timelines.size, 1);
});

test('what does not fit is told: a round cut at the line, another meter, a phrase that is gone, chords that cannot be read', () => {
  const three = { ...barOf([[0, 400, 60]]), timeline: steadyTimeline(480, 120, 3, 4), length: 1440 };
  const two = { ...chords, length: 3840 };
  const all = new Map([...phrases, ['three', { clip: three, from: 'C' }], ['two', { clip: two, from: 'C' }]]);
  const weave = weaveOf('A', {}, 3);
  weave.sections[0] = { ...weave.sections[0]!, changes: 'C | Hx' };
  weave.cells = [newCell('s0', 'kit', 'gone'), newCell('s0', 'keys', 'two'), newCell('s0', 'bass', 'three')];
  const { remarks } = layWeave(weave, all);
  const of = (part: string) => remarks.filter((one) => one.part === part).map(({ code }) => code);
  assert.deepEqual(of('kit'), ['missing']);
  assert.deepEqual(of('keys').sort(), ['chords', 'cut']);
  assert.ok(of('bass').includes('meter'));
  assert.match(remarks.find(({ code }) => code === 'cut')!.text, /the last round is cut at the line/);
});

test('sections of no bars, and more than 2,000 bars, are refused with a sentence', () => {
  assert.match(problemOfWeave(weaveOf('A', {}, 0))!, /"A" has 0 bars/);
  const long = weaveOf('A B C D E', {}, 512);
  assert.match(problemOfWeave(long)!, /2,560 bars; 2,000 are the most/);
  assert.throws(() => layWeave(long, phrases), RangeError);
  assert.throws(() => layWeave(weaveOf(''), phrases), /no sections/);
});

test('sections as they are typed', () => {
  assert.deepEqual(sectionNames('A A B A'), ['A', 'A', 'B', 'A']);
  assert.deepEqual(sectionNames('verse, last refrain'), ['verse', 'last refrain']);
});

test('bars are those of the sections, a pickup and the ending; all parts are as long; the same weave lays the same', () => {
  const sections = fc.array(
    fc.record({ bars: fc.integer({ min: 1, max: 6 }), times: fc.integer({ min: 1, max: 3 }) }),
    { minLength: 1, maxLength: 6 },
  );
  fc.assert(
    fc.property(
      sections,
      fc.constantFrom('none', 'ring', 'stop', 'slower', 'back' as const),
      (list, ending) => {
        const weave = weaveOf(list.map((_, k) => `N${k}`).join(' '), { ending });
        weave.sections = weave.sections.map((one, k) => ({ ...one, ...list[k]! }));
        weave.cells = weave.cells.map((cell, k) =>
          k % 3 === 1
            ? withCellStep({ ...cell, phrase: 'rolled' }, 'density', { step: 'density', level: 1, seed: 1 })
            : cell,
        );
        const laid = layWeave(weave, phrases);
        const bars = list.reduce((sum, { bars: own, times }) => sum + own * times, 0);
        const more = ending === 'none' || ending === 'back' ? 0 : 2;
        assert.equal(laid.bars, bars + more);
        for (const { clip } of laid.parts) {
          assert.equal(clip.length, laid.bars * BAR);
          for (const { tick, duration, pitch } of clip.notes) {
            assert.ok(tick >= 0 && tick + duration <= clip.length && pitch >= 0 && pitch <= 127);
          }
        }
        assert.deepEqual(layWeave(weave, phrases), laid);
        const files = weaveSectionFiles(weave, laid);
        assert.deepEqual(
          files.map((file) => file.bars),
          list.map((one) => one.bars),
        );
      },
    ),
    { numRuns: 60 },
  );
});

test(
  'midicsv and mido read the files of all parts as equally long, in one tempo and meter',
  { skip: withoutMidicsv || withoutMido },
  () => {
    const weave = weaveOf('A B', { ending: 'ring' }, 4);
    const paths = weavePartFiles(weave, layWeave(weave, phrases)).map(({ file, midi }) => {
      writeFileSync(join(folder, file), writeMidiFile(midi));
      return join(folder, file);
    });
    for (const path of paths) {
      const csv = execFileSync('midicsv', [path], { encoding: 'latin1' }).split('\n');
      const ends = csv.filter((row) => row.includes('End_track')).map((row) => Number(row.split(', ')[1]));
      assert.deepEqual(ends, [10 * BAR, 10 * BAR]);
    }
    for (const { tempos, meters, ppq } of midoFiles(paths)) {
      assert.equal(ppq, PPQ);
      assert.deepEqual(tempos, [[0, 600_000]]);
      assert.deepEqual(meters, [[0, 4, 4]]);
    }
  },
);

test('property: a weave laid over the one before sounds as one laid anew, and parts that nothing changed in are the same objects', () => {
  const names = ['groove', 'chords', 'rolled', 'bass'];
  const change = fc.record({
    cell: fc.nat(8),
    phrase: fc.constantFrom(...names),
    muted: fc.boolean(),
    crash: fc.boolean(),
    ending: fc.constantFrom('none', 'ring', 'slower', 'stop') as fc.Arbitrary<Weave['ending']>,
    level: fc.constantFrom(0.5, 1),
  });
  fc.assert(
    fc.property(fc.array(change, { minLength: 1, maxLength: 4 }), (changes) => {
      let weave = weaveOf('A B A', {}, 2);
      let laid = layWeave(weave, phrases);
      for (const { cell, phrase, muted, crash, ending, level } of changes) {
        const cells = weave.cells.with(cell, { ...weave.cells[cell]!, phrase, muted, crash });
        const before = weave;
        weave = { ...weave, cells, ending, parts: weave.parts.with(0, { ...weave.parts[0]!, level }) };
        const next = layWeave(weave, phrases, laid);
        assert.deepEqual(next, layWeave(weave, phrases));
        const touched = new Set([weave.cells[cell]!.part, weave.parts[0]!.id]);
        for (const [k, { part, clip }] of next.parts.entries())
          if (before.ending === ending && !touched.has(part.id)) assert.equal(clip, laid.parts[k]!.clip);
        laid = next;
      }
    }),
    { numRuns: 40 },
  );
});
