import assert from 'node:assert/strict';
import { mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { after, test } from 'node:test';
import { analyzeCommand } from '../../../src/cli/analyze.ts';
import { writeMidiFile } from '../../../src/core/midi/write.ts';
import { bandFile } from '../../../src/core/standins/band.ts';

const folder = mkdtempSync(join(tmpdir(), 'basket-cli-analyze-'));
after(() => rmSync(folder, { recursive: true }));
const CHART = 'Eb | Cm Ab | Bb7 | Eb';
const song = join(folder, 'song.mid');
writeFileSync(
  song,
  writeMidiFile(bandFile({ chart: CHART, style: 'river', bpm: 96, seed: 3, title: 'Song' })),
);

function analyze(options: { chart?: string } = {}) {
  let answer = '';
  const output = { json: true, answer: (text: string) => (answer = text), problem: () => {} };
  assert.equal(analyzeCommand([song], options, output), 0);
  return JSON.parse(answer);
}

test('analyze: the promised fields, right on a chart that is known', () => {
  const answer = analyze({ chart: CHART });
  for (const field of 'file tempo meter leadingTicks pickupTicks tailBars bars key otherKeys chords loops sections feel chartCheck'.split(
    ' ',
  ))
    assert.ok(field in answer, field);
  assert.deepEqual(
    [answer.tempo, answer.meter, answer.key.tonic, answer.key.mode],
    [96, '4/4', 'Eb', 'major'],
  );
  assert.deepEqual(Object.keys(answer.chords[0]), [
    'bar',
    'beat',
    'startTick',
    'endTick',
    'symbol',
    'harte',
    'bass',
    'roman',
    'certainty',
  ]);
  assert.deepEqual(
    answer.chords
      .slice(0, 4)
      .map((chord: { bar: number; beat: number; harte: string; roman: string }) => [
        chord.bar,
        chord.beat,
        chord.harte.replace(/\/.*/, ''),
        chord.roman,
      ]),
    [
      [1, 1, 'Eb:maj', 'I'],
      [2, 1, 'C:min', 'vi'],
      [2, 3, 'Ab:maj', 'IV'],
      [3, 1, 'Bb:7', 'V7'],
    ],
  );
  assert.deepEqual(Object.keys(answer.feel), ['grid', 'swing', 'swingError', 'tightnessMs', 'lateMs']);
  assert.deepEqual(answer.chartCheck.missingBars, []);
  // The band ends two bars after its chart.
  assert.ok(answer.tailBars >= 1);
});

test('analyze: a chart that cannot be read is refused with the bar', () => {
  const told: string[] = [];
  const output = { json: true, answer: () => {}, problem: (text: string) => told.push(text) };
  assert.equal(analyzeCommand([song], { chart: 'Eb | H7' }, output), 1);
  assert.match(told.join(), /Bar 2/);
});

test('analyze: of several files an array in their order; one that is refused is named in it, and the others go on', () => {
  const noise = join(folder, 'noise.mid');
  writeFileSync(noise, 'no music');
  let answer = '';
  const output = { json: true, answer: (text: string) => (answer = text), problem: () => {} };
  assert.equal(analyzeCommand([song, noise, song], {}, output), 1);
  const [first, refused, again] = JSON.parse(answer);
  assert.deepEqual(again, first);
  assert.deepEqual([first.file, refused.file], [song, noise]);
  assert.match(refused.refused, /noise\.mid/);
});
