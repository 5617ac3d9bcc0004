import assert from 'node:assert/strict';
import {
  existsSync,
  mkdirSync,
  mkdtempSync,
  readdirSync,
  readFileSync,
  rmSync,
  writeFileSync,
} from 'node:fs';
import { tmpdir } from 'node:os';
import { dirname, join } from 'node:path';
import { after, test } from 'node:test';
import { splitCommand, type SplitOptions } from '../../../src/cli/split.ts';
import { readTakes } from '../../../src/core/capture/take.ts';
import { writeMidiFile } from '../../../src/core/midi/write.ts';
import { band } from '../../../src/core/standins/band.ts';
import type { Mishap } from '../../../src/core/standins/mishaps.ts';
import { performanceFile } from '../../../src/core/standins/performance.ts';
import { midiBytes, trackOf, type NoteSpec } from '../../support/midi.ts';

const folder = mkdtempSync(join(tmpdir(), 'basket-cli-split-'));
after(() => rmSync(folder, { recursive: true }));

function split(name: string, bytes: Uint8Array, options: SplitOptions = {}) {
  const file = join(folder, `${name}.mid`);
  writeFileSync(file, bytes);
  let answer = '';
  const output = { json: true, answer: (text: string) => (answer = text), problem: () => {} };
  assert.equal(splitCommand([file], options, output), 0);
  return JSON.parse(answer) as {
    parts: { name: string; role: string; channel: number; notes: number; from: unknown[] }[];
    setAside: { reason: string; notes: number }[];
    tally: { in: number; parts: number; setAside: number; balanced: boolean };
    proposals: { text: string; why: string }[];
  };
}

const bandBytes = (mishaps: Mishap[]) =>
  writeMidiFile(performanceFile(band.play({ ...band.defaults, seed: 5 }, mishaps)));

test('what is certain is done: tracks merged, doubles and click set aside, the kit on its channel; the rest is told', () => {
  const { parts, setAside, tally, proposals } = split(
    'mended',
    bandBytes(['pieces', 'drumChannel', 'doubled', 'click', 'layered']),
  );
  assert.deepEqual(
    parts.map(({ name, role, channel }) => [name, role, channel]),
    [
      ['Kit', 'drums', 10],
      ['Bass', 'bass', 2],
      ['Keys', 'keys', 3],
      ['Guitar', 'guitar', 4],
      ['Pad', 'pad', 5],
      ['Pad layer', 'pad', 6],
    ],
  );
  assert.equal(parts[1]!.from.length, 2);
  assert.deepEqual([...new Set(setAside.map(({ reason }) => reason))].sort(), ['click', 'doubled']);
  assert.ok(tally.balanced);
  assert.equal(tally.in, tally.parts + tally.setAside);
  assert.match(proposals[0]!.text, /plays the notes of/);
});

test('of several files an array; each has a folder of its own, and no part overwrites another', () => {
  const files = ['a', 'b'].map((name) => join(folder, name, 'song.mid'));
  files.forEach((file, i) => {
    mkdirSync(dirname(file));
    writeFileSync(file, bandBytes(i === 0 ? [] : ['doubled']));
  });
  let answer = '';
  const output = { json: true, answer: (text: string) => (answer = text), problem: () => {} };
  const out = join(folder, 'several');
  assert.equal(splitCommand(files, { out }, output), 0);
  const answers = JSON.parse(answer) as { file: string; written: string[] }[];
  assert.deepEqual(
    answers.map(({ file }) => file),
    files,
  );
  assert.deepEqual(
    answers.map(({ written }) => dirname(written[0]!)),
    [join(out, 'song'), join(out, 'song 2')],
  );
  for (const { written } of answers) for (const path of written) assert.ok(existsSync(path), path);
});

test('--as-is: nothing but what track, channel and program say', () => {
  const { parts, setAside, proposals } = split('as-is', bandBytes(['pieces', 'doubled']), { asIs: true });
  assert.equal(parts.length, 6);
  assert.deepEqual(setAside, []);
  assert.ok(proposals.length >= 2);
});

test('--pieces: each kit in its pieces, every note in one; --out writes them, and all files hold every note', () => {
  const out = join(folder, 'pieces');
  const { parts, tally } = split('pieces', bandBytes(['doubled']), { pieces: true, out });
  const kit = parts.filter(({ role }) => role === 'drums');
  assert.ok(kit.length >= 4);
  assert.ok(
    kit.some(({ name }) => name === 'Kit, kick') && kit.some(({ name }) => name === 'Kit, closed hat'),
  );
  const files = readdirSync(out);
  assert.ok(files.includes('Kit-kick.mid') && files.includes('set-aside.mid'));
  const held = files.map((file) => readTakes(readFileSync(join(out, file)))[0]!.notes.length);
  assert.equal(
    held.reduce((sum, count) => sum + count, 0),
    tally.in,
  );
});

test('--hands: a keyboard part in two', () => {
  const left = Array.from({ length: 16 }, (_, i): NoteSpec => [i * 480, 440, 43 + (i % 3) * 4]);
  const right = Array.from({ length: 32 }, (_, i): NoteSpec => [i * 240, 200, 70 + (i % 5) * 2]);
  const bytes = midiBytes([trackOf([...left, ...right])]);
  assert.equal(split('one', bytes).parts.length, 1);
  const { parts } = split('two', bytes, { hands: true });
  assert.deepEqual(
    parts.map(({ name, notes }) => [name, notes]),
    [
      ['Acoustic Grand Piano, right hand', 32],
      ['Acoustic Grand Piano, left hand', 16],
    ],
  );
});
