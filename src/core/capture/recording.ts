import { beginsNote, endsNote } from '../midi/message.ts';
import {
  channelEvent,
  META,
  metaEvent,
  meterEvent,
  tempoEvent,
  STATUS,
  type MidiEvent,
  type MidiFile,
  kindOf,
  channelOf,
} from '../midi/smf.ts';
import { encodeText } from '../midi/text.ts';
import type { Key } from '../music/key.ts';
import { barTicks, microsecondsOf } from '../music/timeline.ts';
import { clickClock, followedClock, RULER_BPM, type BeatClock } from './clock.ts';
import {
  inOrderOfTime,
  messageAt,
  STREAM,
  type LoggedMessage,
  type MessageLog,
  type Stream,
} from './message-log.ts';

/** Ticks a quarter note of recordings: half a millisecond at 120 BPM. */
export const RECORDING_PPQ = 960;

/** Which time a recording is written in: our click, another's MIDI clock, or none. */
export const RECORDING_CLOCKS = ['click', 'followed', 'none'] as const;
export type RecordingClock = (typeof RECORDING_CLOCKS)[number];

/** What a recording is known by from its first second on, so that it can be finished without the page that began it. */
export interface RecordingPlan {
  name: string;
  /** When it was recorded, ISO 8601: two takes that sound the same are still two. */
  recordedAt: string;
  clock: RecordingClock;
  bpm: number;
  meter: { numerator: number; denominator: number };
  /** When bar one begins, on the clock of the messages. */
  startMs: number;
  countInBars: number;
  /** Bars after which it stops by itself; null where it is stopped by hand. */
  bars: number | null;
  sources: { name: string; kind: 'device' | 'stand-in' }[];
  /** How many bars before a mark are meant by it. */
  markBars: number;
  /** The chart that the source was asked to play, where one was typed. */
  chart?: string;
  /** The key that it was asked to play in, where one was typed. */
  key?: Key;
  /** How many instruments the source said it would play. */
  parts?: number;
  /** What was played to the source, and is answered. */
  answers?: { kind: 'phrase' | 'take'; id: string; name: string };
}

/** What is known of a recorded take besides its notes. */
export interface CaptureFacts extends Omit<RecordingPlan, 'name' | 'startMs' | 'markBars'> {
  /** Bars written before bar one, because something was played during the count-in. */
  barsBefore: number;
  /** Bars (counted in the take) that were marked while it played: from and how many. */
  stars: { bar: number; bars: number }[];
  /** Notes that still sounded when the recording ended. */
  endedNotes: number;
  /** Sources that went away while it ran, and the bar (of the take) in which they did. */
  lost?: { source: string; bar: number }[];
  /** Messages that came in. */
  messages: number;
  /** The file of the keys that set it off, by its SHA-256. */
  input?: string;
  /** How late the page handled the messages, in milliseconds; the stored times are the senders' own. */
  lateness?: { median: number; p95: number; most: number };
}

export interface Recording {
  played: MidiFile;
  /** What set it off, over the same bars; null where nothing was. */
  input: MidiFile | null;
  facts: CaptureFacts;
}

/**
 * Messages and their plan as Standard MIDI Files. A track a source; what still sounds at the end is ended there and
 * counted. Bars begin at bar one of the click or the clock; without either, ticks only measure time.
 */
export function recordingOf(
  log: MessageLog,
  plan: RecordingPlan,
  endMs: number,
  lost: readonly { source: string; ms: number }[] = [],
): Recording {
  const order = inOrderOfTime(log);
  const followed = plan.clock === 'followed' ? followedClock(log, order) : undefined;
  const clock: BeatClock & { startMs?: number } =
    followed ??
    (plan.clock === 'click'
      ? clickClock(plan.startMs, plan.bpm)
      : { ...clickClock(plan.startMs, RULER_BPM), tempos: [] });
  const bar = barTicks(RECORDING_PPQ, plan.meter);
  const messages = [...order].map((i) => messageAt(log, i)).filter(isKept);
  const first = messages.find(
    ({ stream, bytes }) => stream === STREAM.played && beginsNote(bytes[0]!, bytes[2]!),
  );
  // Notes before bar one are kept where they were: whole bars are written for them.
  const barsBefore = first ? Math.max(0, Math.ceil(-rawTick(clock, first.ms) / bar - 1e-6)) : 0;
  const tickAt = (ms: number) => Math.max(0, rawTick(clock, ms) + barsBefore * bar);
  const asked = plan.bars === null ? 0 : (plan.bars + barsBefore) * bar;
  // What came belongs to it, whatever was taken for its end.
  const end = Math.max(tickAt(endMs), tickAt(messages.at(-1)?.ms ?? endMs), asked, 1);

  const write = (stream: Stream) => {
    const ended = { count: 0 };
    const tracks = plan.sources.flatMap((source, index) => {
      const mine = messages.filter((message) => message.stream === stream && message.source === index);
      return mine.length > 0 ? [sourceTrack(source.name, mine, tickAt, end, ended)] : [];
    });
    return { tracks, ended: ended.count };
  };
  const played = write(STREAM.played);
  const input = write(STREAM.input);
  const marks = messages.filter(({ stream }) => stream === STREAM.mark).map(({ ms }) => tickAt(ms));
  const stars = marks.map((tick) => starOf(tick, bar, plan.markBars));
  const head = conductor(plan, clock, barsBefore, stars, bar, end);
  const file = (tracks: MidiEvent[][]): MidiFile => ({
    format: 1,
    division: { kind: 'metrical', ppq: RECORDING_PPQ },
    otherChunks: [],
    tracks: [head, ...tracks],
  });
  const { name: _name, startMs: _start, markBars: _mark, ...kept } = plan;
  return {
    played: file(played.tracks),
    input: input.tracks.length > 0 ? file(input.tracks) : null,
    facts: {
      ...kept,
      // A clock that was to be followed and never ran leaves a recording without bars.
      clock: plan.clock === 'followed' && !followed ? 'none' : plan.clock,
      barsBefore,
      stars,
      endedNotes: played.ended,
      messages: log.length,
      ...(lost.length > 0
        ? { lost: lost.map(({ source, ms }) => ({ source, bar: Math.floor(tickAt(ms) / bar) + 1 })) }
        : {}),
    },
  };
}

/** Real-time messages keep time and active sensing keeps the line: neither belongs into a file. */
function isKept({ stream, bytes }: LoggedMessage): boolean {
  return stream === STREAM.mark || bytes[0]! < 0xf0 || (bytes[0] === 0xf0 && bytes.length > 1);
}

function rawTick(clock: BeatClock, ms: number): number {
  return Math.round(clock.quarterAt(ms) * RECORDING_PPQ);
}

/** The whole bars before a mark, the bar it lies in included when it came in its second half. */
function starOf(tick: number, bar: number, bars: number): { bar: number; bars: number } {
  const end = Math.max(1, Math.round(tick / bar));
  const from = Math.max(0, end - bars);
  return { bar: from + 1, bars: end - from };
}

function sourceTrack(
  name: string,
  messages: readonly LoggedMessage[],
  tickAt: (ms: number) => number,
  end: number,
  ended: { count: number },
): MidiEvent[] {
  const events: MidiEvent[] = [];
  const sounding = new Map<number, number>();
  for (const { ms, bytes } of messages) {
    const [status = 0, data1 = 0, data2 = 0] = bytes;
    const tick = Math.min(tickAt(ms), end);
    if (status === 0xf0) {
      events.push({ tick, status, data1: 0, data2: 0, bytes: bytes.slice(1) });
      continue;
    }
    const key = (channelOf(status) << 7) | data1;
    if (beginsNote(status, data2)) sounding.set(key, (sounding.get(key) ?? 0) + 1);
    else if (endsNote(status, data2)) {
      const count = sounding.get(key) ?? 0;
      // An end without a beginning: the note began before the recording.
      if (count === 0) continue;
      sounding.set(key, count - 1);
    }
    events.push(channelEvent(tick, kindOf(status), channelOf(status), data1, data2));
  }
  for (const [key, count] of sounding) {
    for (let n = 0; n < count; n++) {
      events.push(channelEvent(end, STATUS.noteOff, key >> 7, key & 0x7f, 64));
      ended.count++;
    }
  }
  return [
    metaEvent(0, META.trackName, encodeText(name)),
    ...events,
    metaEvent(end, META.endOfTrack, new Uint8Array()),
  ];
}

function conductor(
  plan: RecordingPlan,
  clock: BeatClock,
  barsBefore: number,
  stars: { bar: number; bars: number }[],
  bar: number,
  end: number,
): MidiEvent[] {
  const events = [
    metaEvent(0, META.trackName, encodeText(plan.name)),
    metaEvent(0, META.text, encodeText(`Recorded ${plan.recordedAt}`)),
    meterEvent(0, plan.meter),
    ...clock.tempos.map(({ quarter, bpm }, i) => {
      const tick = i === 0 ? 0 : Math.round(quarter * RECORDING_PPQ) + barsBefore * bar;
      return tempoEvent(tick, microsecondsOf(bpm));
    }),
    ...(barsBefore > 0 ? [metaEvent(barsBefore * bar, META.marker, encodeText('Bar one'))] : []),
    ...stars.map((star) => metaEvent((star.bar - 1) * bar, META.marker, encodeText('That one'))),
  ];
  events.sort((a, b) => a.tick - b.tick);
  return [...events, metaEvent(end, META.endOfTrack, new Uint8Array())];
}
