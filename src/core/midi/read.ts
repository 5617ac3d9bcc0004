import {
  channelDataLength,
  META,
  NotMidiError,
  STATUS,
  type Division,
  type MidiEvent,
  type MidiFile,
  type OtherChunk,
  type Repair,
  type RepairCode,
} from './smf.ts';

/** Result of reading: the file, and what had to be mended on the way (at most a few of each kind a track). */
export interface ReadResult {
  file: MidiFile;
  repairs: Repair[];
}

/** The header counts tracks in 16 bits; chunks beyond that are left out. */
const MOST_TRACKS = 0xffff;

/**
 * A later tick than this ends its track: the largest variable-length quantity (RP-001), so that whatever was read can be
 * written again, whichever events were left out between.
 */
export const LAST_TICK = 0x0fffffff;

/**
 * Reads a Standard MIDI File (RP-001), bare or in a RIFF wrapper (RP-029), of format 0, 1 or 2.
 *
 * Damage is tolerated: all that can be read is returned, with a list of repairs. Memory and time are bounded
 * by the number of bytes, whatever lengths the bytes claim.
 *
 * @throws NotMidiError when there is no header chunk to be found or it says nothing usable.
 */
export function readMidiFile(input: Uint8Array): ReadResult {
  const repairs: Repair[] = [];
  const note = (code: RepairCode, message: string) => repairs.push({ code, message, track: 0, tick: 0 });
  // A plain view, also of a Node Buffer: its parts are cheaper to make, and all readers see one kind of array.
  const plain = new Uint8Array(input.buffer, input.byteOffset, input.byteLength);
  const bytes = findHeader(unwrapRiff(plain, note), note);
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
  const headerLength = view.getUint32(4);
  if (bytes.length < 14 || headerLength < 6) {
    throw new NotMidiError('The MIDI header is cut short: format, tracks and resolution are missing.');
  }
  if (headerLength !== 6)
    note('header-length', `The header says ${headerLength} bytes; the first 6 were used.`);
  const format = readFormat(view.getUint16(8), note);
  const announced = view.getUint16(10);
  const division = readDivision(view.getUint16(12), note);

  const tracks: MidiEvent[][] = [];
  const otherChunks: OtherChunk[] = [];
  let at = 8 + Math.min(headerLength, bytes.length - 8);
  while (at + 8 <= bytes.length && tracks.length < MOST_TRACKS) {
    const id = chunkId(bytes, at);
    const length = view.getUint32(at + 4);
    const start = at + 8;
    const end = Math.min(start + length, bytes.length);
    if (end < start + length) {
      repairs.push({
        code: 'chunk-truncated',
        message: `Chunk "${printable(id)}" says ${length} bytes, ${end - start} are there; those were read.`,
        track: id === 'MTrk' ? tracks.length + 1 : 0,
        tick: 0,
      });
    }
    if (id === 'MTrk') tracks.push(readTrack(bytes, start, end, tracks.length + 1, repairs));
    else otherChunks.push({ id, bytes: bytes.subarray(start, end), beforeTrack: tracks.length });
    at = end;
  }
  if (at < bytes.length)
    note('trailing-bytes', `${bytes.length - at} bytes after the last chunk were left out.`);
  if (tracks.length !== announced) {
    note('track-count', `The header announces ${announced} tracks; ${tracks.length} are there.`);
  }
  return { file: { format, division, tracks, otherChunks }, repairs };
}

function unwrapRiff(bytes: Uint8Array, note: (code: RepairCode, message: string) => void): Uint8Array {
  if (bytes.length < 12 || chunkId(bytes, 0) !== 'RIFF' || chunkId(bytes, 8) !== 'RMID') return bytes;
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
  let at = 12;
  while (at + 8 <= bytes.length) {
    const length = view.getUint32(at + 4, true);
    if (chunkId(bytes, at) === 'data') {
      if (at + 8 + length > bytes.length) {
        note(
          'riff-damaged',
          'The RIFF wrapper promises more MIDI data than is there; what is there was read.',
        );
      }
      return bytes.subarray(at + 8, Math.min(at + 8 + length, bytes.length));
    }
    at += 8 + length + (length & 1);
  }
  note('riff-damaged', 'The RIFF wrapper has no data chunk; the file was searched for MIDI instead.');
  return bytes;
}

/** Devices and mail programs sometimes put bytes before the header: it is looked for, not only at the start. */
function findHeader(bytes: Uint8Array, note: (code: RepairCode, message: string) => void): Uint8Array {
  if (bytes.length === 0) throw new NotMidiError('The file is empty.');
  for (let at = 0; at + 4 <= bytes.length; at++) {
    if (bytes[at] === 0x4d && chunkId(bytes, at) === 'MThd') {
      if (at > 0) note('leading-bytes', `${at} bytes before the MIDI header were left out.`);
      if (bytes.length - at < 14) break;
      return bytes.subarray(at);
    }
  }
  if (chunkId(bytes.subarray(0, 4), 0) === 'MThd') {
    throw new NotMidiError('The MIDI header is cut short: format, tracks and resolution are missing.');
  }
  if (chunkId(bytes, 0).startsWith('PK')) {
    throw new NotMidiError('This is a ZIP archive, not a Standard MIDI File; unpack it first.');
  }
  throw new NotMidiError('This is not a Standard MIDI File: it has no MIDI header ("MThd").');
}

function readFormat(value: number, note: (code: RepairCode, message: string) => void): 0 | 1 | 2 {
  if (value === 0 || value === 1 || value === 2) return value;
  note('format-unknown', `Format ${value} does not exist; the tracks were read as simultaneous (format 1).`);
  return 1;
}

function readDivision(value: number, note: (code: RepairCode, message: string) => void): Division {
  if (value & 0x8000) {
    const frames = 256 - (value >> 8);
    const ticksPerFrame = value & 0xff;
    const framesPerSecond = frames === 29 ? 29.97 : frames;
    if (
      ticksPerFrame > 0 &&
      (framesPerSecond === 24 ||
        framesPerSecond === 25 ||
        framesPerSecond === 29.97 ||
        framesPerSecond === 30)
    ) {
      return { kind: 'smpte', framesPerSecond, ticksPerFrame };
    }
  } else if (value > 0) {
    return { kind: 'metrical', ppq: value };
  }
  note('division-zero', `The resolution ${value} means nothing; 480 ticks a quarter note were assumed.`);
  return { kind: 'metrical', ppq: 480 };
}

/** Where reading stands in one track, and what was mended in it so far. */
interface TrackCursor {
  bytes: Uint8Array;
  at: number;
  end: number;
  tick: number;
  /** Status of the last channel message while it is in force, else 0. */
  running: number;
  /** The next event has lost its time with a broken one before it, and is read as sounding now. */
  resync: boolean;
  repair: (code: RepairCode, message: string) => void;
}

/** Reads the events between two offsets. Always ends with an end of track. */
function readTrack(
  bytes: Uint8Array,
  start: number,
  end: number,
  track: number,
  repairs: Repair[],
): MidiEvent[] {
  const events: MidiEvent[] = [];
  const seen = new Map<RepairCode, number>();
  const cursor: TrackCursor = {
    bytes,
    at: start,
    end,
    tick: 0,
    running: 0,
    resync: false,
    repair: (code, message) => {
      const count = seen.get(code) ?? 0;
      seen.set(code, count + 1);
      // A thoroughly broken track would otherwise repeat the same sentence a million times.
      if (count < 3) repairs.push({ code, message, track, tick: cursor.tick });
    },
  };
  for (;;) {
    readPlainRun(cursor, events);
    if (!readDelta(cursor)) break;
    const event = readEvent(cursor);
    if (event === null) break;
    if (event === SKIPPED) continue;
    events.push(event);
    if (event.status === STATUS.meta && event.data1 === META.endOfTrack) {
      if (cursor.at < end) {
        cursor.repair('data-after-end', `${end - cursor.at} bytes after the end of the track were left out.`);
      }
      return events;
    }
  }
  cursor.repair('end-of-track-missing', 'The track has no end mark; it was ended after its last event.');
  const none = bytes.subarray(end, end);
  events.push({ tick: cursor.tick, status: STATUS.meta, data1: META.endOfTrack, data2: 0, bytes: none });
  return events;
}

/**
 * The common case without ceremony: reads channel messages for as long as all is as it should be. Whatever is
 * not (a meta event, damage, the end) is left to the careful reader, with the cursor before it.
 */
function readPlainRun(cursor: TrackCursor, events: MidiEvent[]): void {
  if (cursor.resync) return;
  const { bytes, end } = cursor;
  let { at, tick, running } = cursor;
  for (;;) {
    let next = at;
    let byte = bytes[next++]!;
    let delta = byte & 0x7f;
    // Three bytes of time are as much as any music needs; longer ones are read with care.
    if (byte >= 0x80) {
      byte = bytes[next++]!;
      delta = (delta << 7) | (byte & 0x7f);
      if (byte >= 0x80) {
        byte = bytes[next++]!;
        delta = (delta << 7) | (byte & 0x7f);
        if (byte >= 0x80) break;
      }
    }
    let status = bytes[next]!;
    if (status >= 0x80) next++;
    else status = running;
    if (!(status >= 0x80 && status < 0xf0)) break;
    const data1 = bytes[next++]!;
    const data2 = (status & 0xe0) === 0xc0 ? 0 : bytes[next++]!;
    if (next > end || (data1 | data2) >= 0x80 || tick + delta > LAST_TICK) break;
    tick += delta;
    events.push({ tick, status, data1, data2, bytes: null });
    at = next;
    running = status;
  }
  cursor.at = at;
  cursor.tick = tick;
  cursor.running = running;
}

/** Stands for an event that was left out while reading goes on behind it. */
const SKIPPED: MidiEvent = { tick: 0, status: 0, data1: 0, data2: 0, bytes: null };

/** Moves to the next event's time. False where the track has no further event. */
function readDelta(cursor: TrackCursor): boolean {
  if (cursor.at >= cursor.end) return false;
  if (cursor.resync) {
    cursor.resync = false;
    return true;
  }
  const delta = readQuantity(cursor);
  if (delta < 0 || cursor.at >= cursor.end) return truncated(cursor) !== null;
  if (cursor.tick + delta > LAST_TICK) {
    cursor.repair('time-overflow', 'An event lies beyond any usable time; the track was ended before it.');
    return false;
  }
  cursor.tick += delta;
  return true;
}

/** The event at the cursor; SKIPPED where it was left out; null where the track ends inside it. */
function readEvent(cursor: TrackCursor): MidiEvent | null {
  const { bytes, tick } = cursor;
  let status = bytes[cursor.at]!;
  if (status >= 0x80) cursor.at++;
  else if (cursor.running) status = cursor.running;
  else return skipStrayData(cursor);

  if (status < 0xf0) return readChannelEvent(cursor, status);
  // RP-001: meta events and system exclusive cancel running status.
  cursor.running = 0;
  if (status === STATUS.meta) {
    if (cursor.at >= cursor.end) return truncated(cursor);
    const type = bytes[cursor.at++]! & 0x7f;
    const data = readData(cursor);
    if (data && data.length > LONG_TEXT && isText(type))
      cursor.repair(
        'text-long',
        `A text of ${data.length.toLocaleString('en')} bytes is shown cut; its bytes are kept.`,
      );
    if (data) return { tick, status, data1: type, data2: 0, bytes: data };
    return type === META.endOfTrack
      ? { tick, status, data1: type, data2: 0, bytes: bytes.subarray(0, 0) }
      : truncated(cursor);
  }
  if (status === STATUS.sysEx || status === STATUS.escape) {
    const data = readData(cursor);
    return data ? { tick, status, data1: 0, data2: 0, bytes: data } : truncated(cursor);
  }
  const size = status === 0xf2 ? 2 : status === 0xf1 || status === 0xf3 ? 1 : 0;
  cursor.repair(
    'status-unexpected',
    `Byte ${cursor.at - 1}: status ${status.toString(16)} has no place in a file.`,
  );
  cursor.at = Math.min(cursor.at + size, cursor.end);
  return SKIPPED;
}

/** Longer texts are shown cut. */
const LONG_TEXT = 800;

/** Meta events 1 to 15 are texts (RP-001). */
function isText(type: number): boolean {
  return type >= 0x01 && type <= 0x0f;
}

function readChannelEvent(cursor: TrackCursor, status: number): MidiEvent | null {
  const { bytes, at, end, tick } = cursor;
  const size = channelDataLength(status);
  if (at + size > end) return truncated(cursor);
  const data1 = bytes[at]!;
  const data2 = size === 2 ? bytes[at + 1]! : 0;
  cursor.running = status;
  if ((data1 | data2) < 0x80) {
    cursor.at = at + size;
    return { tick, status, data1, data2, bytes: null };
  }
  cursor.repair('event-broken', `Byte ${at}: a status stands where data belongs; the event was left out.`);
  cursor.at = data1 < 0x80 ? at + 1 : at;
  cursor.resync = true;
  return SKIPPED;
}

/** Data without a status has nothing to attach to: skips to the next byte that could be one. */
function skipStrayData(cursor: TrackCursor): MidiEvent | null {
  const from = cursor.at;
  while (cursor.at < cursor.end && cursor.bytes[cursor.at]! < 0x80) cursor.at++;
  cursor.repair(
    'stray-bytes',
    `Byte ${from}: ${cursor.at - from} bytes of data without a status were skipped.`,
  );
  cursor.resync = true;
  return SKIPPED;
}

function truncated(cursor: TrackCursor): null {
  cursor.repair('event-truncated', 'The track ends inside an event; that event was left out.');
  cursor.at = cursor.end;
  return null;
}

/** A variable-length quantity (RP-001): seven bits a byte, at most four bytes. -1 where the track ends inside. */
function readQuantity(cursor: TrackCursor): number {
  let value = 0;
  for (let i = 0; i < 4; i++) {
    if (cursor.at >= cursor.end) return -1;
    const byte = cursor.bytes[cursor.at++]!;
    value = (value << 7) | (byte & 0x7f);
    if (byte < 0x80) return value;
  }
  cursor.repair('number-too-long', `Byte ${cursor.at}: a number of more than four bytes was cut to four.`);
  return value;
}

/** Data that stands behind its length; null where the track ends first. Not copied. */
function readData(cursor: TrackCursor): Uint8Array | null {
  const length = readQuantity(cursor);
  if (length < 0 || cursor.at + length > cursor.end) return null;
  cursor.at += length;
  return cursor.bytes.subarray(cursor.at - length, cursor.at);
}

function chunkId(bytes: Uint8Array, at: number): string {
  return String.fromCharCode(bytes[at] ?? 0, bytes[at + 1] ?? 0, bytes[at + 2] ?? 0, bytes[at + 3] ?? 0);
}

function printable(id: string): string {
  return id.replace(/[^ -~]/g, '?');
}
