import assert from 'node:assert/strict';
import { test } from 'node:test';
import fc from 'fast-check';
import { readTakes } from '../../../src/core/capture/take.ts';
import { readMidiFile } from '../../../src/core/midi/read.ts';
import { NotMidiError, STATUS } from '../../../src/core/midi/smf.ts';
import { writeMidiFile } from '../../../src/core/midi/write.ts';
import { bytesOf, midiBytes, midiFileArbitrary, trackOf } from '../../support/midi.ts';

const HEADER = '4D 54 68 64 00 00 00 06 00 00 00 01 01 E0';
const fileWith = (track: string, length = bytesOf(track).length) =>
  Uint8Array.from([
    ...bytesOf(HEADER),
    ...bytesOf('4D 54 72 6B'),
    ...bytesOf(length.toString(16).padStart(8, '0').replace(/../g, '$& ')),
    ...bytesOf(track),
  ]);
const codes = (bytes: Uint8Array) => readTakes(bytes)[0]!.repairs.map((repair) => repair.code);

test('what is no MIDI file is refused with a sentence', () => {
  assert.throws(() => readMidiFile(new Uint8Array()), new NotMidiError('The file is empty.'));
  assert.throws(() => readMidiFile(bytesOf('50 4B 03 04 00 00 00 00')), /not a Standard MIDI File/);
  assert.throws(() => readMidiFile(bytesOf('4D 54 68 64 00 00')), /cut short/);
});

test('a length of 256 MB in a 40-byte file reads what is there', () => {
  const bytes = fileWith('00 90 3C 40 60 3C 00 00 FF 2F 00', 0x10000000);
  const { file, repairs } = readMidiFile(bytes);
  assert.equal(file.tracks[0]!.length, 3);
  assert.deepEqual(
    repairs.map((repair) => repair.code),
    ['chunk-truncated'],
  );
});

test('a meta event that claims more than the track holds ends the track, what came before is kept', () => {
  const bytes = fileWith('00 90 3C 40 00 FF 01 FF FF FF 7F 41');
  const [take] = readTakes(bytes);
  assert.equal(take!.notes.length, 1);
  assert.deepEqual(codes(bytes), ['event-truncated', 'end-of-track-missing', 'note-hung']);
});

test('data without a status is skipped, a broken event is left out, reading goes on', () => {
  const bytes = fileWith('00 3C 40 90 3C 40 10 90 90 3E 50 20 3E 00 00 FF 2F 00');
  const [take] = readTakes(bytes);
  assert.deepEqual([...take!.notes.pitch], [60, 62]);
  assert.ok(codes(bytes).includes('stray-bytes'));
  assert.ok(codes(bytes).includes('event-broken'));
});

test('a tempo of zero and a bar of no beats are reported and change nothing', () => {
  const bytes = fileWith('00 FF 51 03 00 00 00 00 FF 58 04 00 02 18 08 00 FF 58 04 04 FF 18 08 00 FF 2F 00');
  const [take] = readTakes(bytes);
  assert.deepEqual(codes(bytes), ['tempo-invalid', 'meter-invalid', 'meter-invalid']);
  assert.deepEqual(take!.timing.timeline.tempos, [{ tick: 0, microseconds: 500_000 }]);
  assert.deepEqual(take!.timing.timeline.meters, [{ tick: 0, numerator: 4, denominator: 4 }]);
});

test('text that is no UTF-8 is read as Windows-1252', () => {
  const bytes = fileWith('00 FF 06 04 53 70 E5 72 00 FF 2F 00');
  assert.equal(readTakes(bytes)[0]!.timing.markers[0]!.text, 'Spår');
});

test('a track without an end, a header with extra bytes, a wrong track count: read and reported', () => {
  assert.deepEqual(codes(fileWith('00 C0 05')), ['end-of-track-missing']);
  const long = bytesOf(`4D 54 68 64 00 00 00 08 00 01 00 05 01 E0 00 00 4D 54 72 6B 00 00 00 04 00 FF 2F 00`);
  assert.deepEqual(codes(long), ['header-length', 'track-count']);
});

test('bytes before the header and a RIFF wrapper (RP-029) are looked through', () => {
  const inner = midiBytes([trackOf([[0, 480, 60]])]);
  assert.equal(readTakes(Uint8Array.from([1, 2, 3, ...inner]))[0]!.notes.length, 1);
  const size = [inner.length & 255, inner.length >> 8, 0, 0];
  const riff = Uint8Array.from([
    ...Buffer.from('RIFF'),
    ...[inner.length + 12, 0, 0, 0],
    ...Buffer.from('RMIDdata'),
    ...size,
    ...inner,
  ]);
  assert.deepEqual(readMidiFile(riff), readMidiFile(inner));
});

test('unknown chunks are kept where they stood', () => {
  const file = {
    format: 1 as const,
    division: { kind: 'metrical' as const, ppq: 480 },
    tracks: [trackOf([[0, 1, 60]]), trackOf([[0, 1, 62]])],
    otherChunks: [
      { id: 'XFIH', bytes: Uint8Array.of(1, 2, 3), beforeTrack: 1 },
      { id: 'XFKM', bytes: Uint8Array.of(9), beforeTrack: 2 },
    ],
  };
  assert.deepEqual(readMidiFile(writeMidiFile(file)).file, file);
});

test('film time: the four frame rates are read, last what they should, and are written back', () => {
  for (const [word, rate, ticksASecond] of [
    ['E8 04', 24, 96],
    ['E7 28', 25, 1000],
    ['E3 0A', 29.97, (30 / 1.001) * 10],
    ['E2 50', 30, 2400],
  ] as const) {
    const bytes = bytesOf(
      `4D 54 68 64 00 00 00 06 00 00 00 01 ${word} 4D 54 72 6B 00 00 00 05 87 68 FF 2F 00`,
    );
    const [take] = readTakes(bytes);
    assert.equal(take!.file.division.kind === 'smpte' && take!.file.division.framesPerSecond, rate);
    const { timeline, ticks } = take!.timing;
    const seconds = (ticks * timeline.tempos[0]!.microseconds) / 1e6 / timeline.ppq;
    assert.ok(Math.abs(seconds - 1000 / ticksASecond) < 1e-9, `${rate}: ${seconds}`);
    assert.deepEqual(writeMidiFile(take!.file), bytes);
  }
});

test('each track of a format 2 file is a take of its own', () => {
  const file = {
    format: 2 as const,
    division: { kind: 'metrical' as const, ppq: 96 },
    tracks: [trackOf([[0, 96, 60]]), trackOf([[0, 96, 62]])],
    otherChunks: [],
  };
  const takes = readTakes(writeMidiFile(file));
  assert.deepEqual(
    takes.map((take) => [...take.notes.pitch]),
    [[60], [62]],
  );
});

test('a million tracks of nothing are read within the limits of the format', () => {
  const empty = bytesOf('4D 54 72 6B 00 00 00 00');
  const bytes = new Uint8Array(14 + 100_000 * 8);
  bytes.set(bytesOf('4D 54 68 64 00 00 00 06 00 01 FF FF 01 E0'));
  for (let i = 0; i < 100_000; i++) bytes.set(empty, 14 + i * 8);
  assert.equal(readMidiFile(bytes).file.tracks.length, 65_535);
});

test('many broken events and many notes on one pitch take time in proportion, and do not overflow', () => {
  const broken = new Uint8Array(300_000).fill(0x90);
  assert.ok(readTakes(fileWithBody(broken))[0]!.repairs.length <= 10);
  const body: number[] = [];
  for (let i = 0; i < 100_000; i++) body.push(0, 0x90, 60, 64);
  for (let i = 0; i < 100_000; i++) body.push(0, 0x80, 60, 64);
  assert.equal(readTakes(fileWithBody(Uint8Array.from(body)))[0]!.notes.length, 100_000);
});

function fileWithBody(body: Uint8Array): Uint8Array {
  const head = fileWith('', body.length);
  const bytes = new Uint8Array(head.length + body.length);
  bytes.set(head);
  bytes.set(body, head.length);
  return bytes;
}

test('2,000 damaged files: read or refused, nothing else', () => {
  const damage = fc.tuple(
    midiFileArbitrary.map(writeMidiFile),
    fc.array(fc.tuple(fc.nat(), fc.nat(255)), { maxLength: 8 }),
    fc.option(fc.nat()),
  );
  fc.assert(
    fc.property(damage, ([whole, pokes, cut]) => {
      const bytes = whole.slice(0, cut === null ? whole.length : cut % (whole.length + 1));
      if (bytes.length > 0) for (const [at, value] of pokes) bytes[at % bytes.length] = value;
      try {
        for (const take of readTakes(bytes)) {
          assert.ok(take.file.tracks.every((events) => events.at(-1)!.status === STATUS.meta));
          assert.ok(take.notes.length <= bytes.length);
        }
      } catch (error) {
        assert.ok(error instanceof NotMidiError, String(error));
      }
    }),
    { numRuns: 2000 },
  );
});
