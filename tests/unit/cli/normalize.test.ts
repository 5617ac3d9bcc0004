import assert from 'node:assert/strict';
import { mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { basename, join } from 'node:path';
import { after, test } from 'node:test';
import { parseMidi } from 'midi-file';
import { normalizeCommand, type NormalizeOptions } from '../../../src/cli/normalize.ts';
import { readTakes } from '../../../src/core/capture/take.ts';
import { STEP_NAMES } from '../../../src/core/normalize/recipe.ts';
import { openmsxFiles, withoutOpenmsx } from '../../support/openmsx.ts';

const folder = mkdtempSync(join(tmpdir(), 'basket-normalize-'));
after(() => rmSync(folder, { recursive: true }));

/** The answer of the command as a script gets it. */
async function normalize(file: string, options: Omit<NormalizeOptions, 'out'>) {
  const out = join(folder, `${basename(file)}.out.mid`);
  const lines: string[] = [];
  const code = await normalizeCommand(
    file,
    { ...options, out },
    { json: true, answer: (text) => lines.push(text), problem: () => {} },
  );
  assert.equal(code, 0);
  return { ...JSON.parse(lines.join('')), bytes: readFileSync(out) };
}

/** Every step that there is, in an order that makes sense. */
const EVERY = [
  { step: 'bars', start: 2, count: 4, tail: 'wrap', early: '1/32', pickup: 1 },
  { step: 'pickup', mode: 'wrap' },
  { step: 'switches', mode: 'lock', pitches: [0] },
  { step: 'drums', pairs: [[35, 36]] },
  { step: 'pedal', mode: 'length' },
  { step: 'doubles', ms: 10 },
  { step: 'time', factor: 2 },
  { step: 'quantize', grid: '1/16', strength: 0.9, swing: 'keep' },
  {
    step: 'feel',
    feel: { grid: '1/16', places: [{ place: 2, by: 0.05, accent: 0.9 }] },
    timing: 0.5,
    accents: 0.5,
  },
  { step: 'humanize', ms: 3, velocity: 2, seed: 9 },
  { step: 'velocity', loud: 0.8, range: 0.5, except: ['crash'], ghosts: 10 },
  { step: 'length', factor: 0.9 },
  { step: 'shift', ms: -20, early: 'wrap' },
  { step: 'transpose', to: 'C' },
  { step: 'register', low: 36, high: 84 },
  { step: 'controls', mode: 'settle' },
  { step: 'repeat', bars: 6 },
  { step: 'through', from: 'C | Am', to: 'Dm7 | G7 | Cmaj7 | A7b9' },
  { step: 'density', level: 1, seed: 2 },
  { step: 'octave', by: 1 },
  { step: 'layer', octave: -1, level: 0.8, lateMs: 10 },
  { step: 'ending', as: 'ring', bars: 1 },
  { step: 'edit', add: [{ beat: 0, length: 1, pitch: 60, velocity: 1 }] },
  { step: 'channel', channel: 3, program: 5 },
  { step: 'name', pattern: '{role} {bars}' },
  { step: 'resolution', ppq: 480 },
];

test(
  '31 real files by the house standard: every note written or counted as set aside',
  { skip: withoutOpenmsx },
  async () => {
    for (const file of openmsxFiles) {
      const answer = await normalize(file, { recipe: 'house' });
      for (const field of ['file', 'out', 'notesIn', 'notesOut', 'setAside', 'steps'])
        assert.ok(field in answer, field);
      assert.equal(answer.notesIn, answer.notesOut + answer.setAside, file);
      const written = parseMidi(answer.bytes).tracks.flat();
      assert.equal(
        written.filter((event) => event.type === 'noteOn' && event.velocity > 0).length,
        answer.notesOut,
      );
      assert.ok(answer.steps.every((step: { summary: string }) => step.summary.length > 0));
    }
  },
);

test(
  '31 real files through every step: each is told, and the file opens',
  { skip: withoutOpenmsx },
  async () => {
    const recipe = join(folder, 'every.json');
    writeFileSync(recipe, JSON.stringify({ version: 1, steps: EVERY }));
    assert.deepEqual(new Set(EVERY.map(({ step }) => step)), new Set(STEP_NAMES));
    for (const file of openmsxFiles) {
      const answer = await normalize(file, { recipe });
      assert.deepEqual(
        answer.steps.map(({ step }: { step: string }) => step),
        EVERY.map(({ step }) => step),
      );
      const [take] = readTakes(answer.bytes);
      assert.equal(take!.notes.length, answer.notesOut);
      assert.equal(take!.timing.timeline.ppq, 480);
    }
  },
);

test(
  'the standard of another role by name; what is neither preset nor file is refused with what there is',
  { skip: withoutOpenmsx },
  async () => {
    const [file] = openmsxFiles as [string];
    const strings = await normalize(file, { recipe: 'house:strings' });
    assert.match(JSON.stringify(strings.steps), /to 76/);
    await assert.rejects(normalize(file, { recipe: 'house:kazoo' }), /no role "kazoo"/);
    await assert.rejects(normalize(file, { recipe: 'Nightfall' }), /no such recipe file, and no preset/);
  },
);
