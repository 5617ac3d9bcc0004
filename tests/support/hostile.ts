import { writeMidiFile } from '../../src/core/midi/write.ts';
import {
  channelEvent,
  META,
  metaEvent,
  STATUS,
  type MidiEvent,
  type MidiFile,
} from '../../src/core/midi/smf.ts';

/** Files made to hurt: each is small to send, and of a size that is chosen. */

const end = (tick: number): MidiEvent => metaEvent(tick, META.endOfTrack, new Uint8Array());

function file(tracks: MidiEvent[][], format: 0 | 1 | 2 = 1, ppq = 480): MidiFile {
  return {
    format,
    division: { kind: 'metrical', ppq },
    tracks: tracks.map((events) => [...events, end(events.at(-1)?.tick ?? 0)]),
    otherChunks: [],
  };
}

const note = (tick: number, length: number, pitch: number, channel = 0): MidiEvent[] => [
  channelEvent(tick, STATUS.noteOn, channel, pitch, 90),
  channelEvent(tick + length, STATUS.noteOn, channel, pitch, 0),
];

const song = Array.from({ length: 64 }, (_, i) => note(i * 480, 400, 48 + ((i * 5) % 24))).flat();

const range = (count: number) => Array.from({ length: count }, (_, i) => i);

/** A family of hostile files: what a size means, its three sizes, and the bytes of one. */
export interface HostileFamily {
  name: string;
  sizes: readonly [number, number, number];
  bytes: (size: number) => Uint8Array;
}

/** A variable-length quantity of up to five bytes, by hand: times that no writer of ours would write. */
function quantity(value: number): number[] {
  const out = [value & 0x7f];
  for (let rest = Math.floor(value / 128); rest > 0; rest = Math.floor(rest / 128))
    out.unshift(0x80 | (rest & 0x7f));
  return out;
}

/** A file of one track whose note begins far out, reached in steps that each fit a length. */
function farNote(ticks: number, ppq: number): Uint8Array {
  const body: number[] = [0, 0x90, 60, 90, 0x60, 60, 0];
  for (let left = ticks; left > 0;) {
    const step = Math.min(left, 0x0ffffff0);
    body.push(...quantity(step), 0xff, 0x01, 0);
    left -= step;
  }
  body.push(0, 0x90, 64, 90, ...quantity(ppq), 64, 0, 0, 0xff, 0x2f, 0);
  const length = body.length;
  return Uint8Array.from([
    ...[0x4d, 0x54, 0x68, 0x64, 0, 0, 0, 6, 0, 0, 0, 1, ppq >> 8, ppq & 0xff, 0x4d, 0x54, 0x72, 0x6b],
    ...[length >> 24, (length >> 16) & 0xff, (length >> 8) & 0xff, length & 0xff],
    ...body,
  ]);
}

const metas = (type: number, data: (i: number) => Uint8Array) => (size: number) =>
  writeMidiFile(file([range(size).map((i) => metaEvent(i * 24, type, data(i))), song]));

export const HOSTILE: readonly HostileFamily[] = [
  { name: 'far note, 1 tick a quarter', sizes: [1e7, 1e8, 1.9e9], bytes: (ticks) => farNote(ticks, 1) },
  { name: 'far note, 24 ticks a quarter', sizes: [1e7, 1e8, 1.9e9], bytes: (ticks) => farNote(ticks, 24) },
  {
    name: 'meters',
    sizes: [5_000, 50_000, 500_000],
    bytes: metas(META.meter, (i) => Uint8Array.of(1 + (i % 7), 2, 24, 8)),
  },
  {
    name: 'tempos',
    sizes: [5_000, 50_000, 500_000],
    bytes: metas(META.tempo, (i) => Uint8Array.of(7, i & 0xff, (i >> 8) & 0xff)),
  },
  {
    name: 'markers',
    sizes: [5_000, 50_000, 500_000],
    bytes: metas(META.marker, (i) => new TextEncoder().encode(`m${i}`)),
  },
  {
    name: 'tracks',
    sizes: [500, 5_000, 20_000],
    bytes: (size) => writeMidiFile(file(range(size).map((i) => note(i * 10, 100, 40 + (i % 40), i % 16)))),
  },
  {
    name: 'patterns of a format 2 file',
    sizes: [750, 7_500, 30_000],
    bytes: (size) =>
      writeMidiFile(
        file(
          range(size).map((i) => note(0, 100, 40 + (i % 40))),
          2,
        ),
      ),
  },
  {
    name: 'notes that never end',
    sizes: [2_500, 25_000, 100_000],
    bytes: (size) =>
      writeMidiFile(
        file([range(size).map((i) => channelEvent(i * 12, STATUS.noteOn, 0, 40 + (i % 48), 90))]),
      ),
  },
  {
    name: 'notes over each other on one pitch',
    sizes: [2_500, 25_000, 100_000],
    bytes: (size) =>
      writeMidiFile(
        file([
          [
            ...range(size).map((i) => channelEvent(i * 2, STATUS.noteOn, 0, 60, 90)),
            ...range(size).map((i) => channelEvent(2 * size + i * 2, STATUS.noteOn, 0, 60, 0)),
          ],
        ]),
      ),
  },
  {
    name: 'notes',
    sizes: [10_000, 100_000, 1_000_000],
    bytes: (size) =>
      writeMidiFile(
        file([
          range(size).flatMap((i) => [
            channelEvent(i * 60, STATUS.noteOn, 0, 36 + ((i * 7) % 48), 90),
            channelEvent(i * 60 + 50, STATUS.noteOn, 0, 36 + ((i * 7) % 48), 0),
          ]),
        ]),
      ),
  },
  {
    name: 'controllers',
    sizes: [40_000, 400_000, 4_000_000],
    bytes: (size) =>
      writeMidiFile(
        file([
          [
            ...note(0, 400, 60),
            ...range(size).map((i) => channelEvent(480 + i, STATUS.controller, 0, 1, i & 0x7f)),
          ],
        ]),
      ),
  },
  {
    name: 'a long name',
    sizes: [150_000, 1_500_000, 15_000_000],
    bytes: (size) =>
      writeMidiFile(file([[metaEvent(0, META.trackName, new Uint8Array(size).fill(0x41)), ...song]])),
  },
];
