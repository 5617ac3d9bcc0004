import fc from 'fast-check';
import { takeFrom, type Take } from '../../src/core/capture/take.ts';
import {
  channelEvent,
  META,
  metaEvent,
  STATUS,
  type MidiEvent,
  type MidiFile,
} from '../../src/core/midi/smf.ts';
import { writeMidiFile } from '../../src/core/midi/write.ts';

export const bytesOf = (hex: string): Uint8Array =>
  Uint8Array.from(hex.trim().split(/\s+/).filter(Boolean), (byte) => parseInt(byte, 16));

export const endOfTrack = (tick: number): MidiEvent => metaEvent(tick, META.endOfTrack, new Uint8Array());

/** [tick, length, pitch, velocity?, channel?] */
export type NoteSpec = readonly [number, number, number, number?, number?];

export function trackOf(notes: readonly NoteSpec[], extra: readonly MidiEvent[] = []): MidiEvent[] {
  const events = notes.flatMap(([tick, length, pitch, velocity = 90, channel = 0]) => [
    { order: 1, event: channelEvent(tick, STATUS.noteOn, channel, pitch, velocity) },
    { order: 0, event: channelEvent(tick + length, STATUS.noteOff, channel, pitch, 64) },
  ]);
  events.push(...extra.map((event) => ({ order: -1, event })));
  events.sort((a, b) => a.event.tick - b.event.tick || a.order - b.order);
  const list = events.map(({ event }) => event);
  return [...list, endOfTrack(list.at(-1)?.tick ?? 0)];
}

export function fileOf(tracks: MidiEvent[][], ppq = 480): MidiFile {
  return { format: tracks.length > 1 ? 1 : 0, division: { kind: 'metrical', ppq }, tracks, otherChunks: [] };
}

export function takeOf(tracks: MidiEvent[][], ppq = 480): Take {
  return takeFrom(fileOf(tracks, ppq));
}

export const midiBytes = (tracks: MidiEvent[][], ppq = 480): Uint8Array => writeMidiFile(fileOf(tracks, ppq));

/** The bytes of a small file that no other number gives. */
export const tune = (n: number) =>
  midiBytes([
    trackOf(
      Array.from(
        { length: 8 },
        (_, i) => [i * 240, 200, 40 + ((n >> i) & 1) * 7 + i, 1 + (n % 120)] as const,
      ),
    ),
    trackOf([[n, 480, 60]]),
  ]);

const byte7 = fc.nat(127);

const channelMessage = fc
  .tuple(fc.constantFrom(0x80, 0x90, 0xa0, 0xb0, 0xc0, 0xd0, 0xe0), fc.nat(15), byte7, byte7)
  .map(([kind, channel, data1, data2]) =>
    channelEvent(0, kind, channel, data1, kind === 0xc0 || kind === 0xd0 ? 0 : data2),
  );

const payload = fc.uint8Array({ maxLength: 200 });

const metaMessage = fc
  .tuple(fc.constantFrom(0x01, 0x03, 0x05, 0x06, 0x7f), payload)
  .map(([type, bytes]) => metaEvent(0, type, bytes));

/** Data that ends in F7, as a whole message does, or is cut in pieces. */
const sysEx = fc
  .tuple(fc.constantFrom(0xf0, 0xf7), payload)
  .map(([status, bytes]): MidiEvent => ({ tick: 0, status, data1: 0, data2: 0, bytes }));

const trackArbitrary = fc
  .array(
    fc.tuple(
      fc.oneof({ weight: 6, arbitrary: channelMessage }, metaMessage, sysEx),
      fc.oneof(fc.nat(200), fc.nat(200_000)),
    ),
    { maxLength: 60 },
  )
  .map((pairs) => {
    let tick = 0;
    const events = pairs.map(([event, delta]) => ({ ...event, tick: (tick += delta) }));
    return [...events, endOfTrack(tick)];
  });

/** Valid files of every kind of event. */
export const midiFileArbitrary: fc.Arbitrary<MidiFile> = fc
  .tuple(fc.array(trackArbitrary, { minLength: 1, maxLength: 4 }), fc.integer({ min: 1, max: 0x7fff }))
  .map(([tracks, ppq]) => fileOf(tracks, ppq));
