/**
 * A Standard MIDI File as plain data. Source: MIDI Manufacturers Association,
 * "Standard MIDI Files 1.0" (RP-001); "MIDI 1.0 Detailed Specification".
 */

/**
 * One event of a track, close to the wire.
 *
 * - Channel message: `status` 0x80..0xEF, `data1`, `data2` 0..127 (`data2` is 0 where the message has one
 *   data byte), `bytes` null.
 * - System exclusive: `status` 0xF0 (start) or 0xF7 (continuation or escape), `bytes` its data.
 * - Meta event: `status` 0xFF, `data1` its type, `bytes` its data.
 */
export interface MidiEvent {
  /** Ticks since the start of the track. */
  tick: number;
  status: number;
  data1: number;
  data2: number;
  bytes: Uint8Array | null;
}

/** How ticks are counted: against the beat, or against film time. */
export type Division =
  | { kind: 'metrical'; ppq: number }
  | { kind: 'smpte'; framesPerSecond: 24 | 25 | 29.97 | 30; ticksPerFrame: number };

/** A chunk that is neither header nor track, kept as it came. */
export interface OtherChunk {
  id: string;
  bytes: Uint8Array;
  /** It stood before the track of this index. */
  beforeTrack: number;
}

export interface MidiFile {
  format: 0 | 1 | 2;
  division: Division;
  /** Events of each track in file order; the last is its end of track. */
  tracks: MidiEvent[][];
  otherChunks: OtherChunk[];
}

/** Something in the file that was not as the standard has it, and what was done about it. */
export interface Repair {
  code: RepairCode;
  message: string;
  /** Track, counted from 1; 0 for the file as a whole. */
  track: number;
  tick: number;
}

export type RepairCode =
  | 'leading-bytes'
  | 'riff-damaged'
  | 'header-length'
  | 'format-unknown'
  | 'division-zero'
  | 'track-count'
  | 'chunk-truncated'
  | 'trailing-bytes'
  | 'stray-bytes'
  | 'event-truncated'
  | 'event-broken'
  | 'status-unexpected'
  | 'number-too-long'
  | 'time-overflow'
  | 'end-of-track-missing'
  | 'data-after-end'
  | 'tempo-invalid'
  | 'meter-invalid'
  | 'key-invalid'
  | 'text-long'
  | 'too-many-changes'
  | 'note-hung'
  | 'note-off-orphan';

/** Thrown when bytes hold no Standard MIDI File at all. The message is a sentence for the reader. */
export class NotMidiError extends Error {
  override readonly name = 'NotMidiError';
}

export const META = {
  text: 0x01,
  copyright: 0x02,
  trackName: 0x03,
  instrumentName: 0x04,
  lyric: 0x05,
  marker: 0x06,
  cuePoint: 0x07,
  deviceName: 0x09,
  channelPrefix: 0x20,
  port: 0x21,
  endOfTrack: 0x2f,
  tempo: 0x51,
  smpteOffset: 0x54,
  meter: 0x58,
  key: 0x59,
} as const;

export const STATUS = {
  noteOff: 0x80,
  noteOn: 0x90,
  polyPressure: 0xa0,
  controller: 0xb0,
  program: 0xc0,
  channelPressure: 0xd0,
  pitchBend: 0xe0,
  sysEx: 0xf0,
  escape: 0xf7,
  meta: 0xff,
} as const;

export const CONTROLLER = {
  bankMsb: 0,
  modulation: 1,
  volume: 7,
  pan: 10,
  expression: 11,
  bankLsb: 32,
  sustain: 64,
  allSoundOff: 120,
  resetControllers: 121,
  allNotesOff: 123,
} as const;

/** The kind of a message by its status, as STATUS names it: of a channel message without its channel, of any other all of it. */
export function kindOf(status: number): number {
  return status < 0xf0 ? status & 0xf0 : status;
}

/** The channel, 0..15, of a channel message by its status. */
export function channelOf(status: number): number {
  return status & 0x0f;
}

/** Data bytes of a channel message: 1 for program change and channel pressure, else 2. */
export function channelDataLength(status: number): 1 | 2 {
  const kind = kindOf(status);
  return kind === STATUS.program || kind === STATUS.channelPressure ? 1 : 2;
}

export function isMeta(event: MidiEvent, type: number): boolean {
  return event.status === STATUS.meta && event.data1 === type;
}

export function channelEvent(
  tick: number,
  kind: number,
  channel: number,
  data1: number,
  data2 = 0,
): MidiEvent {
  return { tick, status: kind | channel, data1, data2, bytes: null };
}

export function metaEvent(tick: number, type: number, bytes: Uint8Array): MidiEvent {
  return { tick, status: STATUS.meta, data1: type, data2: 0, bytes };
}

/** The most microseconds a quarter note that a file can say: three bytes (RP-001). */
const SLOWEST = 0xffffff;

/** A tempo, in microseconds a quarter note, as near as a file can say it. */
export function tempoEvent(tick: number, microseconds: number): MidiEvent {
  const value = Math.min(SLOWEST, Math.max(1, Math.round(microseconds)));
  return metaEvent(tick, META.tempo, Uint8Array.of(value >> 16, (value >> 8) & 0xff, value & 0xff));
}

/** A meter; 24 MIDI clocks a metronome click, eight 32nds a quarter: RP-001's usual values. */
export function meterEvent(
  tick: number,
  { numerator, denominator }: { numerator: number; denominator: number },
): MidiEvent {
  return metaEvent(tick, META.meter, Uint8Array.of(numerator, Math.log2(denominator), 24, 8));
}

/** Ticks a quarter note; for a film-time file, at 120 BPM (half its ticks a second). */
export function ticksPerQuarter(division: Division): number {
  return division.kind === 'metrical' ? division.ppq : ticksPerSecond(division) / 2;
}

/** Ticks a second of a film-time division. */
export function ticksPerSecond(division: Extract<Division, { kind: 'smpte' }>): number {
  // "29.97" is 30 frames in 1.001 seconds.
  const frames = division.framesPerSecond === 29.97 ? 30 / 1.001 : division.framesPerSecond;
  return frames * division.ticksPerFrame;
}
