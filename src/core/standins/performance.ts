import {
  channelEvent,
  CONTROLLER,
  META,
  metaEvent,
  meterEvent,
  tempoEvent,
  STATUS,
  type MidiEvent,
  type MidiFile,
} from '../midi/smf.ts';
import { encodeText } from '../midi/text.ts';
import type { WireMessage } from '../midi/message.ts';
import { barTicks, microsecondsOf } from '../music/timeline.ts';

/** Ticks a quarter note of all stand-ins. */
export const PPQ = 480;
export const SIXTEENTH = PPQ / 4;

/** A note as a stand-in means it, before it becomes bytes. Ticks from bar one. */
export interface Played {
  tick: number;
  length: number;
  pitch: number;
  velocity: number;
  /** Its end is never sent. */
  hung?: boolean;
}

export interface PlayedPart {
  name: string;
  /** 0..15. */
  channel: number;
  /** 0..127; null where none is sent. */
  program: number | null;
  notes: Played[];
}

/** What a stand-in plays, as plain data: the same for playing live and for exporting a file. */
export interface Performance {
  title: string;
  bpm: number;
  meter: { numerator: number; denominator: number };
  /** Bars that were asked for. */
  bars: number;
  parts: PlayedPart[];
  /** The keys that set it off: kept beside a take, never mixed in. Null where there are none. */
  input: PlayedPart | null;
}

/** Ticks from bar one to the end of the last bar in which something is asked or sounds. */
export function performanceTicks({ bars, meter, parts }: Performance): number {
  const bar = barTicks(PPQ, meter);
  const last = Math.max(0, ...parts.flatMap(({ notes }) => notes.map(({ tick, length }) => tick + length)));
  // A hand may let go a little after the bar line.
  return Math.max(bars, Math.ceil((last - PPQ / 4) / bar)) * bar;
}

/** The Standard MIDI File that a device exports of it: a conductor track, then a track a part. */
export function performanceFile(performance: Performance): MidiFile {
  const end = performanceTicks(performance);
  return {
    format: 1,
    division: { kind: 'metrical', ppq: PPQ },
    otherChunks: [],
    tracks: [conductor(performance, end), ...performance.parts.map((part) => partTrack(part, end))],
  };
}

/** A pass for each part, as devices export them that can only send one instrument at a time. */
export function passFiles(performance: Performance): { name: string; midi: MidiFile }[] {
  const end = performanceTicks(performance);
  return performance.parts
    .filter(({ notes }) => notes.length > 0)
    .map((part) => ({
      name: `${performance.title} - ${part.name}`,
      midi: {
        format: 0,
        division: { kind: 'metrical', ppq: PPQ },
        otherChunks: [],
        tracks: [[...conductor(performance, end).slice(1, -1), ...partTrack(part, end)]],
      },
    }));
}

/** The same as a device sends it: timed messages, in milliseconds from bar one. */
export function performanceMessages(performance: Performance, parts = performance.parts): WireMessage[] {
  const milliseconds = 60_000 / performance.bpm / PPQ;
  const end = performanceTicks(performance);
  return parts
    .flatMap((part) => partMessages(part, end))
    .sort((a, b) => a.tick - b.tick || a.order - b.order)
    .map(({ tick, status, data1, data2 }) => ({
      ms: tick * milliseconds,
      bytes: status >> 4 === 0xc ? [status, data1] : [status, data1, data2],
    }));
}

function conductor({ title, bpm, meter }: Performance, end: number): MidiEvent[] {
  return [
    metaEvent(0, META.trackName, encodeText(title)),
    tempoEvent(0, microsecondsOf(bpm)),
    meterEvent(0, meter),
    metaEvent(end, META.endOfTrack, new Uint8Array()),
  ];
}

function partTrack(part: PlayedPart, end: number): MidiEvent[] {
  return [
    metaEvent(0, META.trackName, encodeText(part.name)),
    ...partMessages(part, end).map(({ order: _, ...event }) => event),
    metaEvent(end, META.endOfTrack, new Uint8Array()),
  ];
}

/** Set-up, then notes; at one tick, what ends comes before what begins. */
function partMessages(part: PlayedPart, end: number): (MidiEvent & { order: number })[] {
  const { channel, program } = part;
  const events = part.notes.flatMap(({ tick, length, pitch, velocity, hung }) => [
    { ...channelEvent(tick, STATUS.noteOn, channel, pitch, velocity), order: 2 },
    ...(hung
      ? []
      : [{ ...channelEvent(Math.min(tick + length, end), STATUS.noteOff, channel, pitch, 64), order: 1 }]),
  ]);
  const setUp =
    program === null
      ? []
      : [
          channelEvent(0, STATUS.program, channel, program),
          channelEvent(0, STATUS.controller, channel, CONTROLLER.volume, 100),
        ];
  return [...setUp.map((event) => ({ ...event, order: 0 })), ...events].sort(
    (a, b) => a.tick - b.tick || a.order - b.order,
  );
}
