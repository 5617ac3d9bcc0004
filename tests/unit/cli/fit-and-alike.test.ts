import assert from 'node:assert/strict';
import { copyFileSync, mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { after, test } from 'node:test';
import { alikeCommand } from '../../../src/cli/alike.ts';
import { fitCommand, type FitOptions } from '../../../src/cli/fit.ts';
import { Refusal } from '../../../src/cli/output.ts';
import { readMidiFile } from '../../../src/core/midi/read.ts';
import { metaEvent, META, type MidiFile } from '../../../src/core/midi/smf.ts';
import { writeMidiFile } from '../../../src/core/midi/write.ts';
import { runCommand } from '../../support/command.ts';
import { midiBytes, trackOf, type NoteSpec } from '../../support/midi.ts';
import { openmsxFiles, withoutOpenmsx } from '../../support/openmsx.ts';

const folder = mkdtempSync(join(tmpdir(), 'basket-cli-fit-'));
after(() => rmSync(folder, { recursive: true }));

const PPQ = 480;
const BAR = 4 * PPQ;

/** Three-note chords, a bar each, with their roots below, at a tempo. */
function chords(roots: readonly (readonly [number, 'major' | 'minor'])[], bpm: number): Uint8Array {
  const notes = roots.flatMap(([root, kind], bar): NoteSpec[] =>
    [root - 12, root, root + (kind === 'major' ? 4 : 3), root + 7].map((pitch) => [
      bar * BAR,
      BAR - 10,
      pitch,
    ]),
  );
  const microseconds = Math.round(60_000_000 / bpm);
  const bytes = Uint8Array.of(microseconds >> 16, (microseconds >> 8) & 0xff, microseconds & 0xff);
  return midiBytes([trackOf(notes, [metaEvent(0, META.tempo, bytes)])], PPQ);
}

const VAMP = [
  [55, 'major'],
  [52, 'minor'],
  [48, 'major'],
  [50, 'major'],
] as const;

function file(name: string, bytes: Uint8Array): string {
  const path = join(folder, name);
  writeFileSync(path, bytes);
  return path;
}

const fit = (path: string, options: FitOptions) =>
  runCommand((out) => fitCommand([path], options, out)).answer;

// Check values of the design (library.md, "Fit").
test('fit: its own chart at its own tempo is 100; twice the tempo says half time; the relative differs in nothing', () => {
  const own = file('vamp.mid', chords(VAMP, 96));
  const asked = { key: 'G major', bpm: '96', meter: '4/4', chart: 'G | Em | C | D' };
  const answer = fit(own, asked);
  assert.deepEqual(Object.keys(answer), ['file', 'fit', 'reasons', 'transpose']);
  assert.deepEqual([answer.fit, answer.transpose], [100, 0]);
  assert.deepEqual(Object.keys(answer.reasons[0]), ['part', 'score', 'weight', 'text']);
  const fast = fit(file('fast.mid', chords(VAMP, 192)), asked);
  assert.ok(fast.fit >= 90 && /half time/.test(fast.reasons[0].text));
  assert.equal(fit(own, { ...asked, key: 'E minor' }).fit, 100);
});

test('fit: wrong questions are refused with what is wrong', () => {
  const own = file('own.mid', chords(VAMP, 96));
  for (const [options, sentence] of [
    [{}, /What are they to suit/],
    [{ key: 'H major' }, /is not a key/],
    [{ bpm: 'fast' }, /20 to 400/],
    [{ meter: 'four' }, /not a meter/],
    [{ chart: 'G | Xyz' }, /Bar 2/],
  ] as const)
    assert.throws(
      () => fit(own, options),
      (error) => error instanceof Refusal && sentence.test(error.message),
    );
});

test('alike: pairs in words, and what is one thing twice in groups; what cannot be read is named', () => {
  const up = VAMP.map(([root, kind]) => [root + 3, kind] as const);
  const paths = [
    file('a.mid', chords(VAMP, 96)),
    file('b.mid', chords(up, 96)),
    file('c.mid', chords(VAMP, 120)),
    file(
      'd.mid',
      chords(
        [
          [50, 'minor'],
          [57, 'major'],
          [53, 'major'],
          [60, 'minor'],
        ],
        96,
      ),
    ),
    file('e.mid', Uint8Array.of(1, 2, 3)),
  ];
  const { code, answer, problems } = runCommand((out) => alikeCommand(paths, out));
  assert.equal(code, 1);
  assert.match(problems[0]!, /e\.mid/);
  const verdict = (a: number, b: number) =>
    answer.pairs.find((pair: { a: string; b: string }) => pair.a === paths[a] && pair.b === paths[b])
      ?.verdict;
  assert.deepEqual([verdict(0, 1), verdict(0, 2), verdict(1, 2)], ['other key', 'other tempo', 'other key']);
  assert.deepEqual(answer.groups, [[paths[0], paths[1], paths[2]]]);
});

/** A file with every pitch moved, but for the drums'. */
function moved(midi: MidiFile, semitones: number): Uint8Array {
  const isNote = (status: number) => status >= 0x80 && status < 0xa0 && (status & 0xf) !== 9;
  return writeMidiFile({
    ...midi,
    tracks: midi.tracks.map((events) =>
      events.map((event) => (isNote(event.status) ? { ...event, data1: event.data1 + semitones } : event)),
    ),
  });
}

test(
  'alike: of real files, each is found again when it is moved, and no two are one',
  { skip: withoutOpenmsx },
  () => {
    const some = openmsxFiles.slice(0, 6);
    const paths = some.flatMap((path, k) => {
      const copy = join(folder, `real ${k}.mid`);
      copyFileSync(path, copy);
      return [copy, file(`real ${k} moved.mid`, moved(readMidiFile(readFileSync(path)).file, -2))];
    });
    const { answer } = runCommand((out) => alikeCommand(paths, out));
    assert.deepEqual(
      answer.groups,
      some.map((_, k) => [paths[2 * k], paths[2 * k + 1]]),
    );
  },
);
