import assert from 'node:assert/strict';
import { createHash } from 'node:crypto';
import { test } from 'node:test';
import fc from 'fast-check';
import type { HandOff } from '../../../src/core/exchange/handoff.ts';
import { PackError, readManifest } from '../../../src/core/exchange/manifest-read.ts';
import { BLANK_CARD } from '../../../src/core/exchange/card.ts';
import {
  earlier,
  fateOf,
  latenessOf,
  wayFor,
  waysFor,
  FATES,
  MERGE_WAYS,
  type Fate,
} from '../../../src/core/exchange/merge.ts';
import { OUT } from '../../../src/core/exchange/out-options.ts';
import { packHandOff } from '../../../src/core/exchange/pack.ts';
import { readPack } from '../../../src/core/exchange/pack-in.ts';
import { barTicks, meterAt } from '../../../src/core/music/timeline.ts';
import type { Role } from '../../../src/core/split/roles.ts';
import type { Clip } from '../../../src/core/phrase/clip.ts';
import { parseKey } from '../../../src/core/music/key.ts';
import { barOf, clipArbitrary } from '../../support/clips.ts';
import { phraseOutOf } from '../../support/phrase-out.ts';

/** What is played in a file and what we have, as letters: a phrase that crossed as `a` had the hash `A`. */
const crossing = (letter: string) => ({ hash: letter.toUpperCase(), played: letter });
const asked = { oursPlayed: null, crossings: [], packed: null };

test('the six fates, by three hashes', () => {
  const crossings = [crossing('a')];
  const fate = (ours: string | null, theirs: string | null) => fateOf({ ...asked, ours, theirs, crossings });
  assert.equal(fate('A', 'a'), 'same');
  assert.equal(fate('A', 'b'), 'theirs changed');
  assert.equal(fate('B', 'a'), 'ours changed');
  assert.equal(fate('B', 'c'), 'both changed');
  assert.equal(fate(null, 'a'), 'new');
  assert.equal(fate('A', null), 'not sent back');
  assert.equal(fateOf({ ...asked, ours: 'A', theirs: 'b' }), 'both changed', 'nothing says what it was');
  assert.equal(fateOf({ ...asked, ours: 'C', oursPlayed: 'c', theirs: 'c', crossings }), 'same', 'both made it the same'); // prettier-ignore
  assert.equal(fateOf({ ...asked, ours: 'A', theirs: 'b', packed: crossing('a') }), 'theirs changed', 'by what the pack says'); // prettier-ignore
});

test('property: once it has been dealt with, the same is the same, whatever crossed before', () => {
  const letter = fc.constantFrom('a', 'b', 'c', 'd');
  fc.assert(
    fc.property(fc.array(letter), letter, letter, (before, ours, theirs) => {
      const now = { hash: ours.toUpperCase(), played: theirs };
      const crossings = [now, ...before.map(crossing)];
      const told = { ...asked, ours: ours.toUpperCase(), theirs, crossings };
      assert.equal(fateOf(told), 'same');
    }),
  );
});

test('what is done with a row is one of its ways, whichever is chosen for all', () => {
  for (const fate of FATES)
    for (const way of MERGE_WAYS) assert.ok(waysFor(fate).includes(wayFor(fate, way)), `${fate} ${way}`);
});

test('what all came back as late is told as a system, and a card makes up for it; a single part, or parts late by chance, are none', () => {
  const row = (lateMs: number, fate: Fate = 'theirs changed', role: Role = 'bass') => ({
    role,
    fate,
    lateMs,
  });
  assert.deepEqual(latenessOf([row(31), row(33, 'theirs changed', 'guitar'), row(0, 'same')]), { ms: 33, roles: ['bass', 'guitar'] }); // prettier-ignore
  assert.equal(latenessOf([row(31)]), null);
  assert.equal(latenessOf([row(31), row(5)]), null);
  assert.equal(latenessOf([row(1), row(2)]), null);
  assert.equal(latenessOf([row(40, 'same'), row(40, 'same')]), null);
  const card = { ...BLANK_CARD, roles: { bass: { ms: -10, loud: 0.8 } } };
  assert.deepEqual(earlier(card, { ms: 33, roles: ['bass', 'guitar'] }).roles, { bass: { ms: -43, loud: 0.8 }, guitar: { ms: -33 } }); // prettier-ignore
});

const sha256 = (bytes: Uint8Array) => createHash('sha256').update(bytes).digest('hex');

const handOff = (more: Partial<HandOff> = {}): HandOff => ({
  ...{ title: 'Barrow', pattern: '{number}_{name}', madeAt: '2026-01-01T00:00:00Z', layout: 'folders' },
  ...{ out: OUT, card: null, recipient: null, library: null, phrases: [] },
  ...more,
});

/** A phrase ends on a bar line. */
function inWholeBars(clip: Clip): Clip {
  const bar = barTicks(clip.timeline.ppq, meterAt(clip.timeline, 0));
  return { ...clip, length: Math.ceil(clip.length / bar) * bar };
}

const filesOf = (given: HandOff) =>
  new Map(packHandOff(given, sha256).map(({ name, bytes }) => [name, bytes]));

test('property: a pack that is read again plays what it played, whatever is in it and however it left', () => {
  const out = fc.record({
    as: fc.constantFrom('each' as const, 'both' as const, 'one' as const),
    format: fc.constantFrom(0 as const, 1 as const),
    countIn: fc.constantFrom(0, 1, 2),
    kit: fc.constantFrom('whole' as const, 'tracks' as const),
    ppq: fc.constantFrom(96, 480, 960),
  });
  fc.assert(
    fc.property(fc.array(clipArbitrary, { minLength: 1, maxLength: 4 }), out, (clips, some) => {
      // Of notes of one pitch that overlap a file cannot say which ends when.
      const phrases = clips
        .map((clip) => ({
          ...clip,
          notes: clip.notes.filter(
            (note, i) => !clip.notes.slice(0, i).some(({ pitch }) => pitch === note.pitch),
          ),
        })) // prettier-ignore
        .filter(({ notes }) => notes.length > 0)
        .map((clip, k) =>
          phraseOutOf(inWholeBars({ ...clip, controls: [] }), { id: `p${k}`, name: `Part ${k}` }),
        );
      // In one file of one track, parts of one channel cannot be told apart.
      const as = some.format === 0 && some.as === 'one' ? 'both' : some.as;
      const { phrases: read } = readPack(filesOf(handOff({ phrases, out: { ...OUT, ...some, as } })), sha256);
      assert.equal(read.length, phrases.length);
      for (const one of read) assert.equal(one.played, one.told.played, one.told.name);
    }),
    { numRuns: 60 },
  );
});

test('what somebody put beside, renamed, broke or took out is told as what it is', () => {
  const key = parseKey('C')!;
  const phrases = [60, 64, 67].map(
    (pitch, k) =>
    phraseOutOf({ ...barOf([[0, 480, pitch], [480, 480, pitch + 2]], { role: 'keys' }), key }, { id: `p${k}`, name: `Part ${k}` }), // prettier-ignore
  );
  const files = filesOf(handOff({ phrases, out: { ...OUT, as: 'each' } }));
  const [first, second, third] = [...files.keys()].filter((name) => name.endsWith('.mid'));
  const stray = files.get(first!)!;
  files.delete(first!);
  files.set('elsewhere/under another name.mid', stray);
  files.set(second!, new TextEncoder().encode('no MIDI'));
  files.delete(third!);
  const { phrases: read, added } = readPack(files, sha256);
  assert.deepEqual([read[0]!.played === read[0]!.told.played, read[0]!.isUntouched], [true, false]);
  assert.match(read[1]!.problem, /\w/);
  assert.deepEqual([read[1]!.played, read[2]!.played], [null, null]);
  assert.deepEqual(added, []);
});

test('a manifest that cannot be trusted is refused with a sentence', () => {
  const files = filesOf(handOff({ phrases: [phraseOutOf(barOf([[0, 480, 60]]))] }));
  const said = JSON.parse(new TextDecoder().decode(files.get('manifest.json')));
  const read = (change: object) => () => readManifest(new TextEncoder().encode(JSON.stringify({ ...said, ...change }))); // prettier-ignore
  assert.equal(read({})().phrases.length, 1);
  const phrase = (change: object) => ({ phrases: [{ ...said.phrases[0], ...change }] });
  for (const [change, sentence] of [
    [{ format: 'another' }, /no pack of ours/],
    [{ version: 3 }, /later version \(3\)/],
    [{ madeAt: 'yesterday' }, /no date/],
    [{ out: { as: 'sheet' } }, /how it left cannot be read/],
    [phrase({ file: '../../up.mid' }), /leads out of the pack/],
    [phrase({ file: '/etc/hosts' }), /leads out of the pack/],
    [phrase({ file: 'C:\\up.mid' }), /leads out of the pack/],
    [phrase({ played: 'x' }), /played/],
    [phrase({ bars: 0 }), /bars/],
    [phrase({ role: 'kazoo' }), /role/],
    [{ phrases: Array(20_001).fill(said.phrases[0]) }, /more than 20000 phrases/],
  ] as const)
    assert.throws(read(change), (error) => error instanceof PackError && sentence.test(error.message), JSON.stringify(change).slice(0, 80)); // prettier-ignore
  assert.throws(() => readManifest(new Uint8Array(40 * 1024 * 1024)), /larger than 32 MB/);
  assert.throws(() => readManifest(Uint8Array.of(0xff, 0xfe)), /cannot be read/);
});
