import assert from 'node:assert/strict';
import { mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { after, test } from 'node:test';
import { bassCommand } from '../../../src/cli/bass.ts';
import { changesCommand } from '../../../src/cli/changes.ts';
import { clashesCommand } from '../../../src/cli/clashes.ts';
import { normalizeCommand } from '../../../src/cli/normalize.ts';
import { Refusal, type Output } from '../../../src/cli/output.ts';
import { readTakes } from '../../../src/core/capture/take.ts';
import { midiBytes, trackOf, type NoteSpec } from '../../support/midi.ts';
import { openmsxFiles, withoutOpenmsx } from '../../support/openmsx.ts';

const folder = mkdtempSync(join(tmpdir(), 'basket-cli-reuse-'));
after(() => rmSync(folder, { recursive: true }));

const BAR = 1920;

function fileOf(name: string, notes: readonly NoteSpec[]): string {
  const path = join(folder, name);
  writeFileSync(path, midiBytes([trackOf(notes)], 480));
  return path;
}

/** What a command answers with --json. */
async function answerOf<Answer>(run: (out: Output) => number | Promise<number>): Promise<Answer> {
  let text = '';
  const code = await run({ json: true, answer: (line) => (text += line), problem: () => {} });
  assert.equal(code, 0);
  return JSON.parse(text) as Answer;
}

const chord = (bar: number, pitches: readonly number[]): NoteSpec[] =>
  pitches.map((pitch) => [bar * BAR, BAR - 60, pitch]);

interface Normalized {
  notesIn: number;
  notesOut: number;
  setAside: number;
  steps: {
    step: string;
    outside?: { tick: number; pitch: number; why: string }[];
    unheard?: { bar: number; beat: number; symbol: string }[];
  }[];
}

test('normalize takes the steps of reuse, and tells what fell outside and what is unheard', async () => {
  const file = fileOf('pad.mid', [...chord(0, [60, 64, 67]), ...chord(1, [65, 69, 72])]);
  const recipe = join(folder, 'through.json');
  writeFileSync(
    recipe,
    JSON.stringify({
      version: 1,
      steps: [
        { step: 'bars', start: 1, count: 2 },
        { step: 'repeat', bars: 4 },
        { step: 'through', from: 'C | F', to: 'Am | Dm', way: 'voices', loop: true },
        { step: 'density', level: -2, seed: 1 },
        { step: 'octave', by: 1 },
        { step: 'resolution', ppq: 480 },
      ],
    }),
  );
  const out = join(folder, 'out.mid');
  const answer = await answerOf<Normalized>((output) => normalizeCommand(file, { recipe, out }, output));
  assert.deepEqual(
    answer.steps.map(({ step }) => step),
    ['bars', 'repeat', 'through', 'density', 'octave', 'resolution'],
  );
  const through = answer.steps[2]!;
  assert.deepEqual(through.outside, []);
  assert.deepEqual(through.unheard, []);
  const [take] = readTakes(new Uint8Array(readFileSync(out)));
  assert.equal(answer.notesOut, take!.notes.pitch.length);
  for (const pitch of take!.notes.pitch) assert.ok([9, 0, 4, 2, 5].includes(pitch % 12), String(pitch));
});

test('changes for a tune: three sets, each bar with what else would do', async () => {
  const notes: NoteSpec[] = [67, 69, 67, 64, 65, 65, 62, 62, 64, 65, 67, 71, 72, 72, 72, 72].map(
    (pitch, k) => [k * 480, 470, pitch],
  );
  const file = fileOf('tune.mid', notes);
  const answer = await answerOf<{
    key: string;
    otherKeys: string[];
    sets: Record<string, { bar: number; beat: number; symbol: string; roman: string; next: string[] }[]>;
  }>((output) => changesCommand(file, {}, output));
  assert.equal(answer.key, 'C major');
  assert.deepEqual(answer.otherKeys, ['A minor']);
  assert.deepEqual(Object.keys(answer.sets), ['plain', 'warmer', 'darker']);
  const plain = answer.sets.plain!;
  assert.deepEqual([plain[0]!.symbol, plain[0]!.roman, plain.at(-1)!.symbol], ['C', 'I', 'C']);
  assert.ok(plain.every(({ next }) => next.length === 3));
  const problems: string[] = [];
  const code = changesCommand(
    fileOf('empty.mid', []),
    {},
    {
      json: true,
      answer: () => {},
      problem: (text) => problems.push(text),
    },
  );
  assert.equal(code, 1);
  assert.match(problems.join(), /empty\.mid/);
});

test('a bass for a chart is written; a chart, a way or a key that cannot be read is refused with a sentence', async () => {
  const out = join(folder, 'bass.mid');
  const given = { chart: 'Dm | Gm A7 | Dm/F | C7', way: 'walking', bpm: '120', seed: '3', out };
  const answer = await answerOf<{ out: string; notes: number; low: number; high: number }>((output) =>
    bassCommand(given, output),
  );
  const [take] = readTakes(new Uint8Array(readFileSync(out)));
  assert.deepEqual([answer.notes, take!.notes.pitch.length], [16, 16]);
  assert.deepEqual(
    [Math.min(...take!.notes.pitch), Math.max(...take!.notes.pitch)],
    [answer.low, answer.high],
  );
  assert.equal(take!.notes.pitch[8]! % 12, 5, 'the note under the stroke');
  const quiet: Output = { json: true, answer: () => {}, problem: () => {} };
  for (const [wrong, message] of [
    [{ ...given, chart: 'Dm | Hx' }, /Bar 2: "Hx" is not a chord symbol/],
    [{ ...given, way: 'flying' }, /there are roots, fifths, octaves, walking/],
    [{ ...given, key: 'H' }, /"H" is not a key/],
    [{ ...given, bpm: '2000' }, /20 to 400/],
  ] as const)
    assert.throws(
      () => bassCommand(wrong, quiet),
      (error) => error instanceof Refusal && message.test(error.message),
    );
});

interface ClashAnswer {
  bar: number;
  beat: number;
  kind: string;
  parts: string[];
  pitches: number[];
  weight: number;
  text: string;
}

test('clashes between files that begin together: where, what, and how much', async () => {
  const one = fileOf('chords.mid', [...chord(0, [60, 64, 67]), ...chord(1, [60, 64, 67])]);
  const other = fileOf('rub.mid', [[BAR, BAR - 60, 73]]);
  const found = await answerOf<ClashAnswer[]>((output) => clashesCommand([one, other], output));
  assert.equal(found.length, 1);
  const [{ bar, beat, kind, parts, pitches }] = found as [ClashAnswer];
  assert.deepEqual([bar, beat, kind, parts.length, pitches.sort()], [2, 1, 'semitone', 2, [60, 73]]);
  assert.deepEqual(await answerOf<ClashAnswer[]>((output) => clashesCommand([one], output)), []);
});

test(
  'real files: every clash has its place, parts and a sentence, the worst first',
  { skip: withoutOpenmsx },
  async () => {
    for (const file of openmsxFiles.slice(0, 6)) {
      const found = await answerOf<ClashAnswer[]>((output) => clashesCommand([file], output));
      let weight = Infinity;
      for (const clash of found) {
        assert.ok(clash.bar >= 1 && clash.beat >= 1 && clash.text.length > 10);
        assert.equal(clash.parts.length, 2);
        assert.ok(clash.weight <= weight);
        weight = clash.weight;
      }
    }
  },
);
