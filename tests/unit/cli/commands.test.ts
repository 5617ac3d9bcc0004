import assert from 'node:assert/strict';
import { spawnSync } from 'node:child_process';
import { mkdtempSync, readdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { after, test } from 'node:test';
import { parseMidi } from 'midi-file';
import { writeMidiFile } from '../../../src/core/midi/write.ts';
import { bandFile } from '../../../src/core/standins/band.ts';

const folder = mkdtempSync(join(tmpdir(), 'basket-cli-'));
after(() => rmSync(folder, { recursive: true }));
const song = join(folder, 'ferry.mid');
writeFileSync(
  song,
  writeMidiFile(bandFile({ chart: 'Dm | Gm | A7 | Dm', style: 'market', bpm: 100, seed: 3, title: 'Ferry' })),
);
const noise = join(folder, 'noise.mid');
writeFileSync(noise, 'this is a letter, not music');

function cli(...args: string[]) {
  const { stdout, stderr, status } = spawnSync(process.execPath, ['bin/hollow-basket.mjs', ...args], {
    encoding: 'utf8',
  });
  return { stdout, stderr, status, json: () => JSON.parse(stdout) };
}

test('read: the promised fields, one object for one file, an array for several', () => {
  const one = cli('read', '--json', song);
  assert.equal(one.status, 0);
  const facts = one.json();
  for (const field of [
    'file',
    'format',
    'ppq',
    'tracks',
    'notes',
    'ticks',
    'seconds',
    'tempos',
    'meters',
    'keys',
    'markers',
    'streams',
    'repairs',
  ]) {
    assert.ok(field in facts, field);
  }
  assert.deepEqual(facts.tempos, [{ tick: 0, bpm: 100 }]);
  assert.equal(facts.seconds, (6 * 4 * 60) / 100);
  assert.deepEqual(Object.keys(facts.streams[0]), [
    'track',
    'channel',
    'program',
    'name',
    'notes',
    'low',
    'high',
  ]);
  const both = cli('read', '--json', song, noise);
  assert.equal(both.status, 1);
  assert.equal(both.json().length, 2);
  assert.match(both.stderr, /noise\.mid: This is not a Standard MIDI File/);
});

test('split: parts, tally, and files that hold every note', () => {
  const out = join(folder, 'parts');
  const answer = cli('split', '--json', song, '--out', out).json();
  assert.deepEqual(answer.tally, {
    in: answer.tally.in,
    parts: answer.tally.in,
    setAside: 0,
    balanced: true,
  });
  for (const field of [
    'name',
    'role',
    'certainty',
    'runnerUp',
    'channel',
    'program',
    'notes',
    'from',
    'reasons',
  ]) {
    assert.ok(field in answer.parts[0], field);
  }
  const notes = readdirSync(out).map((name) => {
    const { tracks } = parseMidi(readFileSync(join(out, name)));
    return tracks.flat().filter((event) => event.type === 'noteOn').length;
  });
  assert.equal(
    notes.reduce((a, b) => a + b),
    answer.tally.in,
  );
});

test('normalize: a recipe file on a named part, with an account of every note', () => {
  const recipe = join(folder, 'recipe.json');
  writeFileSync(
    recipe,
    JSON.stringify({
      version: 1,
      steps: [
        { step: 'bars', start: 1, count: 1 },
        { step: 'quantize', grid: '1/16' },
      ],
    }),
  );
  const out = join(folder, 'bass.mid');
  const run = cli(
    'normalize',
    '--json',
    song,
    '--recipe',
    recipe,
    '--part',
    'bass',
    '--bars',
    '2-3',
    '--out',
    out,
  );
  assert.equal(run.status, 0);
  const answer = run.json();
  assert.equal(answer.notesIn, answer.notesOut + answer.setAside);
  assert.deepEqual(
    answer.steps.map((step: { step: string }) => step.step),
    ['bars', 'quantize'],
  );
  const events = parseMidi(readFileSync(out)).tracks.flat();
  assert.equal(events.filter((event) => event.type === 'noteOn').length, answer.notesOut);
});

test('what is refused is named and exits with 1, wrong usage with 2', () => {
  const missing = cli(
    'normalize',
    song,
    '--recipe',
    'house',
    '--part',
    'tuba',
    '--out',
    join(folder, 'x.mid'),
  );
  assert.equal(missing.status, 1);
  assert.match(missing.stderr, /there is no part "tuba". There are "Kit", "Bass"/);
  assert.equal(cli('split', noise).status, 1);
  assert.match(cli('read', join(folder, 'none.mid')).stderr, /there is no such file/);
  assert.equal(cli('normalize', song, '--recipe', noise, '--out', 'x').status, 1);
  assert.equal(cli('read').status, 2);
  assert.equal(cli('frobnicate').status, 2);
  assert.equal(cli('normalize', song, '--recipe', 'house', '--bars', '6-2', '--out', 'x').status, 1);
});
