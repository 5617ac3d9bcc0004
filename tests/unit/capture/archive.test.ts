import assert from 'node:assert/strict';
import { execFileSync } from 'node:child_process';
import { mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { basename, join } from 'node:path';
import { test } from 'node:test';
import fc from 'fast-check';
import { zipSync } from 'fflate';
import { archiveReader, filesWithin, isArchive } from '../../../src/core/capture/archive.ts';
import { lookInto } from '../../../src/core/capture/look.ts';
import { openmsxFiles, withoutOpenmsx } from '../../support/openmsx.ts';

const LIMITS = { files: 1000, bytes: 64 * 1024 * 1024, depth: 3 };

/** What is found in an archive whose bytes come in pieces of some size. */
function read(bytes: Uint8Array, piece: number, limits = LIMITS) {
  const files = new Map<string, Uint8Array>();
  const refused: [string, string][] = [];
  const reader = archiveReader('pack.zip', limits, {
    file: (name, its) => files.set(name, its),
    refused: (name, reason) => refused.push([name, reason]),
  });
  for (let at = 0; at < bytes.length && reader.push(bytes.subarray(at, at + piece)); at += piece);
  reader.end();
  return { files, refused };
}

test('however its bytes are cut into pieces, an archive gives the same files', () => {
  const held = fc.dictionary(fc.stringMatching(/^[a-z]{1,8}\.mid$/), fc.uint8Array({ maxLength: 3000 }), {
    minKeys: 1,
    maxKeys: 6,
    noNullPrototype: true,
  });
  fc.assert(
    fc.property(held, fc.integer({ min: 1, max: 5000 }), fc.constantFrom(0, 6, 9), (files, piece, level) => {
      const found = read(zipSync(files, { level: level as 0 | 6 | 9 }), piece).files;
      assert.deepEqual(
        new Map([...found].map(([name, bytes]) => [name, [...bytes]])),
        new Map(Object.entries(files).map(([name, bytes]) => [`pack.zip/${name}`, [...bytes]])),
      );
    }),
    { numRuns: 60 },
  );
});

test('an archive cut off anywhere is told, and what stands before the cut is whole', () => {
  const noise = Uint8Array.from({ length: 4000 }, (_, i) => (i * 7919) % 251);
  const whole = zipSync({ 'a.mid': noise, 'b.mid': noise.slice(0, 2000), 'c.mid': noise.slice(0, 900) });
  const all = read(whole, 512).files;
  for (let cut = 4; cut < whole.length; cut += 97) {
    const { files } = read(whole.slice(0, cut), 512);
    for (const [name, bytes] of files) assert.deepEqual(bytes, all.get(name));
  }
});

test('files, bytes and depth are bounded, whatever an archive claims, and each is told', () => {
  const many = zipSync(
    Object.fromEntries(Array.from({ length: 30 }, (_, i) => [`${i}.mid`, new Uint8Array(9)])),
  );
  const few = read(many, 100, { ...LIMITS, files: 10 });
  assert.equal(few.files.size, 10);
  assert.match(few.refused.at(-1)![1], /more than 10 files; the rest was left out/);
  const bomb = zipSync(
    { 'a.mid': new Uint8Array(3_000_000), 'b.mid': new Uint8Array(3_000_000) },
    { level: 9 },
  );
  const small = read(bomb, 64, { ...LIMITS, bytes: 4_000_000 });
  assert.deepEqual([...small.files.keys()], ['pack.zip/a.mid']);
  assert.match(small.refused.at(-1)![1], /unpacks to more than/);
  let nested: Uint8Array<ArrayBuffer> = zipSync({ 'deep.mid': new Uint8Array(5) });
  for (let level = 0; level < 4; level++) nested = zipSync({ 'inner.zip': nested });
  const told: string[] = [];
  filesWithin('pack.zip', nested, LIMITS, { file: () => told.push('a file'), refused: (_, reason) => told.push(reason) }); // prettier-ignore
  assert.deepEqual(told, ['Archives are opened 3 deep at most.']);
});

test(
  "what Python's zipfile has packed of 31 real files is found byte for byte, and looked into",
  { skip: withoutOpenmsx },
  () => {
    const folder = mkdtempSync(join(tmpdir(), 'basket-zip-'));
    try {
      const path = join(folder, 'pack.zip');
      const script = 'import sys, zipfile\nwith zipfile.ZipFile(sys.argv[1], "w", zipfile.ZIP_DEFLATED) as z:\n  for p in sys.argv[2:]: z.write(p, "music/" + p.split("/")[-1])'; // prettier-ignore
      execFileSync('python3', ['-c', script, path, ...openmsxFiles]);
      writeFileSync(join(folder, 'none.txt'), 'no music');
      const bytes = new Uint8Array(readFileSync(path));
      assert.ok(isArchive(bytes));
      const { files, refused } = read(bytes, 65_536);
      assert.deepEqual(refused, []);
      assert.equal(files.size, openmsxFiles.length);
      for (const one of openmsxFiles) {
        const found = files.get(`pack.zip/music/${basename(one)}`)!;
        assert.ok(Buffer.from(found).equals(readFileSync(one)), one);
        const looked = lookInto(found);
        if (typeof looked === 'string') throw new Error(looked);
        assert.ok(looked.notes > 0 && looked.bars > 0 && looked.seconds > 0 && looked.parts.length > 0, one);
      }
      assert.match(lookInto(new TextEncoder().encode('no music')) as string, /not a Standard MIDI File/);
    } finally {
      rmSync(folder, { recursive: true });
    }
  },
);
