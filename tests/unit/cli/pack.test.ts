import assert from 'node:assert/strict';
import { execFileSync } from 'node:child_process';
import { mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { after, test } from 'node:test';
import { unzipSync } from 'fflate';
import { packCommand, type PackOptions } from '../../../src/cli/pack.ts';
import { Refusal } from '../../../src/cli/output.ts';
import { readTakes } from '../../../src/core/capture/take.ts';
import { midiBytes, trackOf, type NoteSpec } from '../../support/midi.ts';
import { midoFiles, withoutMido } from '../../support/mido.ts';
import { openmsxFiles, withoutOpenmsx } from '../../support/openmsx.ts';

const folder = mkdtempSync(join(tmpdir(), 'basket-cli-pack-'));
after(() => rmSync(folder, { recursive: true }));

interface Answer {
  out: string;
  files: string[];
  checks: { check: string; state: string; place: string; text: string }[];
  seconds: number;
}

async function packed(files: string[], options: Partial<PackOptions> = {}) {
  const path = join(folder, `pack${Math.random()}.zip`);
  let text = '';
  const out = { json: true, answer: (line: string) => void (text += line), problem: () => {} };
  assert.equal(await packCommand(files, { out: path, title: 'For the quay', ...options }, out), 0);
  const entries = unzipSync(new Uint8Array(readFileSync(path)));
  const manifest = JSON.parse(new TextDecoder().decode(entries['For-the-quay/manifest.json']));
  return { path, answer: JSON.parse(text) as Answer, entries, manifest };
}

/** One beat of A4, at the beginning and from beat three on. */
const tones: NoteSpec[] = [
  [0, 480, 69],
  [960, 480, 69],
];
const tone = join(folder, 'tone.mid');
writeFileSync(tone, midiBytes([trackOf(tones)], 480));

test(
  'real files: every part in its folder, read back note for note by mido; the same bytes again',
  { skip: withoutOpenmsx || withoutMido },
  async () => {
    const [file] = openmsxFiles as [string];
    const { answer, entries, manifest, path } = await packed([file]);
    assert.deepEqual(
      answer.files,
      manifest.phrases.map((phrase: { file: string }) => phrase.file),
    );
    const notes = readTakes(readFileSync(file))[0]!.notes.tick.length;
    const written = answer.files.map((name, k) => {
      const to = join(folder, `part ${k}.mid`);
      writeFileSync(to, entries[`For-the-quay/${name}`]!);
      return to;
    });
    const read = midoFiles(written);
    manifest.phrases.forEach((phrase: { notes: number; ppq: number }, k: number) => {
      assert.equal(read[k]!.notes.length, phrase.notes);
      assert.equal(read[k]!.ppq, phrase.ppq);
    });
    assert.equal(
      read.reduce((sum, one) => sum + one.notes.length, 0),
      notes,
    );
    assert.ok(answer.checks.every(({ state }) => state !== 'stop'));
    assert.deepEqual(readFileSync((await packed([file])).path), readFileSync(path));
  },
);

test('three unzippers open it, and every checksum of the manifest is that of its file', async () => {
  const { path, entries, manifest } = await packed([tone], { previews: true });
  const list = Object.keys(entries).toSorted();
  const python =
    'import sys, zipfile; z = zipfile.ZipFile(sys.argv[1]); assert z.testzip() is None; print("\\n".join(z.namelist()))';
  const byPython = execFileSync('python3', ['-c', python, path], { encoding: 'utf8' });
  assert.deepEqual(byPython.trim().split('\n').toSorted(), list);
  // Info-ZIP's unzip (Debian); the third is fflate (npm), by which the entries were read.
  execFileSync('unzip', ['-tq', path]);
  const byUnzip = execFileSync('unzip', ['-Z1', path], { encoding: 'utf8' });
  assert.deepEqual(byUnzip.trim().split('\n').toSorted(), list);
  const { createHash } = await import('node:crypto');
  for (const { file, sha256 } of manifest.files) {
    const bytes = entries[`For-the-quay/${file}`]!;
    assert.equal(createHash('sha256').update(bytes).digest('hex'), sha256);
  }
  assert.equal(manifest.version, 2);
  assert.equal(manifest.phrases[0].preview, manifest.phrases[0].file.replace('.mid', '.wav'));
});

test('a preview is WAV of 16 bit at 44.1 kHz (RIFF), begins with the file to 10 ms, sounds its pitch, and peaks at -6 dBFS', async () => {
  const { entries, manifest } = await packed([tone], { previews: true });
  const wav = Buffer.from(entries[`For-the-quay/${manifest.phrases[0].preview}`]!);
  // Header of a canonical WAV file (Microsoft and IBM, Multimedia Programming Interface 1.0, 1991).
  assert.deepEqual(
    [wav.toString('latin1', 0, 4), wav.toString('latin1', 8, 16), wav.readUInt16LE(20)],
    ['RIFF', 'WAVEfmt ', 1],
  );
  assert.deepEqual([wav.readUInt16LE(22), wav.readUInt32LE(24), wav.readUInt16LE(34)], [2, 44_100, 16]);
  const data = wav.indexOf('data', 36, 'latin1');
  const frames = (wav.length - data - 8) / 4;
  const left = Array.from({ length: frames }, (_, k) => wav.readInt16LE(data + 8 + 4 * k) / 32_768);
  const right = Array.from({ length: frames }, (_, k) => wav.readInt16LE(data + 10 + 4 * k) / 32_768);
  const peak = [...left, ...right].reduce((most, sample) => Math.max(most, Math.abs(sample)), 0);
  assert.ok(Math.abs(20 * Math.log10(peak) + 6) < 0.1, `${20 * Math.log10(peak)} dBFS`);
  // Strokes at 0 and 1 s (120 BPM): the first loud sample after silence.
  const loudFrom = (second: number) =>
    left.findIndex((sample, k) => k >= second * 44_100 && Math.abs(sample) > 0.02);
  assert.ok(loudFrom(0) / 44_100 < 0.01 + 0.01, `${loudFrom(0) / 44_100} s`);
  const rate = 44_100 / period(left.slice(4410, 4410 + 8820));
  assert.ok(Math.abs(rate - 440) < 15, `${rate} Hz`);
  // A bar of 2 s and at most 2 s of tail.
  assert.ok(frames >= 2 * 44_100 - 128 && frames <= 4 * 44_100 + 256, `${frames / 44_100} s`);
});

/** The lag, in samples from 60 on, at which a sound is likest itself: its period. */
function period(samples: readonly number[]): number {
  const likeness = (lag: number) =>
    samples.slice(lag).reduce((sum, sample, k) => sum + sample * samples[k]!, 0) / (samples.length - lag);
  const lags = Array.from({ length: 120 }, (_, k) => k + 60);
  return lags.reduce((best, lag) => (likeness(lag) > likeness(best) ? lag : best));
}

test('in another key, plain, and in the key it is kept in: the manifest and a check say so', async () => {
  const scale: NoteSpec[] = [64, 66, 67, 69, 71, 72, 74, 76].map((pitch, k) => [k * 240, 230, pitch]);
  const path = join(folder, 'minor.mid');
  writeFileSync(path, midiBytes([trackOf(scale)], 480));
  const { manifest, answer } = await packed([path], { key: 'D minor', plain: true });
  const [phrase] = manifest.phrases;
  assert.notDeepEqual(phrase.key, phrase.capturedKey);
  assert.ok(answer.checks.some(({ check, state }) => check === 'key' && state === 'warn'));
  assert.ok(answer.checks.some(({ check, state }) => check === 'plain' && state === 'pass'));
  assert.equal(phrase.channel, 1);
});

test('bad input has its sentence, and nothing is written', async () => {
  const out = { json: true, answer: () => {}, problem: () => {} };
  const refused = async (files: string[], options: Partial<PackOptions>, expected: RegExp) => {
    await assert.rejects(
      packCommand(files, { out: join(folder, 'never.zip'), ...options }, out),
      (error) => error instanceof Refusal && expected.test(error.message),
    );
  };
  await refused([tone], { key: 'H major' }, /"H major" is not a key/);
  const empty = join(folder, 'empty.mid');
  writeFileSync(empty, midiBytes([trackOf([])], 480));
  await refused([empty], {}, /no notes/);
  await refused([join(folder, 'nowhere.mid')], {}, /nowhere/);
  assert.throws(() => readFileSync(join(folder, 'never.zip')));
});
