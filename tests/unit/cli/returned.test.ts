import assert from 'node:assert/strict';
import { mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { after, test } from 'node:test';
import { unzipSync } from 'fflate';
import { packCommand } from '../../../src/cli/pack.ts';
import { returnedCommand } from '../../../src/cli/returned.ts';
import { inOneTrack } from '../../../src/core/exchange/midi-out.ts';
import { readMidiFile } from '../../../src/core/midi/read.ts';
import { writeMidiFile } from '../../../src/core/midi/write.ts';
import { openmsxFiles, withoutOpenmsx } from '../../support/openmsx.ts';

const folder = mkdtempSync(join(tmpdir(), 'basket-test-'));
after(() => rmSync(folder, { recursive: true }));
/** What the command answers of a file against a pack. */
function answered(file: string, against: string) {
  let text = '';
  const out = { json: true, answer: (line: string) => void (text += line), problem: () => {} };
  assert.equal(returnedCommand([file], against, out), 0);
  return JSON.parse(text) as Record<string, unknown>[];
}

test(
  'a real file is packed, and each of its parts is known again; another file is new',
  { skip: withoutOpenmsx },
  async () => {
    const pack = join(folder, 'pack.zip');
    const out = { json: true, answer: () => {}, problem: () => {} };
    await packCommand([openmsxFiles[0]!], { out: pack }, out);
    const own = answered(openmsxFiles[0]!, pack);
    for (const { of, verdict, shared } of own)
      assert.ok(of && Number(shared) > 0.9 && verdict !== 'new', JSON.stringify(own));
    const fields = ['file', 'of', 'shared', 'verdict', 'semitones', 'tempoRatio', 'offsetTicks', 'moved', 'added', 'gone', 'lateMs', 'velocityFactor', 'text']; // prettier-ignore
    for (const field of fields) assert.ok(field in own[0]!, field);
    const strange = answered(openmsxFiles[1]!, pack);
    assert.ok(strange.every(({ verdict }) => verdict === 'new' || verdict === 'perhaps'));
  },
);

test(
  'in a file of one track on one channel, each part is found by what its track says of it, and by its notes',
  { skip: withoutOpenmsx },
  async () => {
    const pack = join(folder, 'mixed.zip');
    const out = { json: true, answer: () => {}, problem: () => {} };
    await packCommand([openmsxFiles[0]!], { out: pack }, out);
    const files = unzipSync(new Uint8Array(readFileSync(pack)));
    const together = Object.keys(files).find((name) => /together\/.*\.mid$/.test(name))!;
    const { file } = readMidiFile(files[together]!);
    const onOne = inOneTrack(file).tracks.map((events) =>
      events.map((event) => (event.status < 0xf0 ? { ...event, status: event.status & 0xf0 } : event)),
    );
    const mixed = join(folder, 'mixed.mid');
    writeFileSync(mixed, writeMidiFile({ ...file, format: 0, tracks: onOne }));
    const sent = Object.keys(files).filter((name) => name.endsWith('.mid')).length - 1;
    const found = answered(mixed, pack).filter(
      ({ verdict }) => verdict === 'same' || verdict === 'came back',
    );
    assert.ok(sent > 3);
    assert.equal(new Set(found.map(({ of }) => of)).size, sent, JSON.stringify(found));
  },
);

test('what is no pack is refused with a sentence', () => {
  const none = join(folder, 'none.zip');
  writeFileSync(none, 'no zip');
  const tune = join(folder, 'tune.mid');
  writeFileSync(tune, '');
  for (const [pack, sentence] of [
    [join(folder, 'nowhere.zip'), /is not there/],
    [none, /no ZIP/],
    [folder, /no manifest.json/],
  ] as const) {
    assert.throws(() => answered(tune, pack), sentence);
  }
});
