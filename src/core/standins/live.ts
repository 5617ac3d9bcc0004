import { bisectRight } from 'd3-array';
import { channelOf } from '../midi/smf.ts';
import { clockTimes } from '../capture/clock.ts';
import {
  beginsNote,
  CLOCKS_PER_QUARTER,
  CLOCKS_PER_SONG_STEP,
  endsNote,
  REALTIME,
  SONG_POSITION,
  songPosition,
  type WireMessage,
} from '../midi/message.ts';
import type { Mishap } from './mishaps.ts';
import { performanceMessages, performanceTicks, PPQ } from './performance.ts';
import type { Held, StandIn } from './stand-in.ts';
import type { AnySettings } from './stand-ins.ts';

/** A message and when it is due, in quarter notes from bar one. */
interface Due {
  quarter: number;
  bytes: readonly number[];
}

/**
 * A stand-in as a device on a wire: messages go in, messages come out, each with its time in milliseconds. Plain
 * state that the functions below change.
 */
export interface LiveStandIn {
  /** What it plays by itself; empty where it answers held keys. */
  performance: { played: Due[]; input: Due[]; quarters: number };
  answers:
    | ((
        held: readonly Held[],
        until: number,
      ) => { tick: number; length: number; pitch: number; velocity: number }[])
    | null;
  bpm: number;
  clock: LiveClock | null;
  next: { played: number; input: number };
  held: Held[];
  /** Keys that went down while no clock ran are counted from here. */
  answered: number;
  /** Ends of answered notes that are still to come. */
  ends: Due[];
  sounding: Set<number>;
}

/** Its own clock at one tempo, or another's, by the times of its pulses and the place of the first. */
type LiveClock =
  | { kind: 'own'; startMs: number; sentUntil: number }
  | { kind: 'followed'; first: number; pulses: number[]; running: boolean };

/** A stand-in switched on. @throws ChartError where its chart cannot be read. */
export function switchOn(
  standIn: StandIn<AnySettings>,
  settings: AnySettings,
  mishaps: readonly Mishap[],
  answersKeys: boolean,
): LiveStandIn {
  const respond = answersKeys ? standIn.respond?.bind(standIn) : undefined;
  const performance = standIn.play(settings, mishaps);
  const perMs = settings.bpm / 60_000;
  const due = (messages: WireMessage[]): Due[] =>
    messages.map(({ ms, bytes }) => ({ quarter: ms * perMs, bytes: [...bytes] }));
  return {
    performance: respond
      ? { played: [], input: [], quarters: Infinity }
      : {
          played: due(performanceMessages(performance)),
          input: performance.input ? due(performanceMessages(performance, [performance.input])) : [],
          quarters: performanceTicks(performance) / PPQ,
        },
    answers: respond ? (held, until) => respond(held, settings, until) : null,
    bpm: settings.bpm,
    clock: null,
    next: { played: 0, input: 0 },
    held: [],
    answered: 0,
    ends: [],
    sounding: new Set(),
  };
}

/** Begins to play by its own clock, which it also sends. */
export function startPlaying(live: LiveStandIn, startMs: number): void {
  rewind(live);
  live.clock = { kind: 'own', startMs, sentUntil: startMs };
}

/** Stops, and ends what sounds. */
export function stopPlaying(live: LiveStandIn, ms: number): WireMessage[] {
  const ends = [...live.sounding].map((key) => ({ ms, bytes: [0x80 | (key >> 7), key & 0x7f, 64] }));
  live.sounding.clear();
  live.ends = [];
  const told = live.clock?.kind === 'own' ? [{ ms, bytes: [REALTIME.stop] }] : [];
  live.clock = null;
  return [...ends, ...told];
}

function rewind(live: LiveStandIn): void {
  live.next = { played: 0, input: 0 };
  live.held = [];
  live.answered = 0;
  live.ends = [];
}

/** Hears a message: a clock to follow, or keys to answer. Answers what it has to send at once. */
export function hearMessage(live: LiveStandIn, message: WireMessage): WireMessage[] {
  const [status = 0, data1 = 0, data2 = 0] = message.bytes;
  if (status === REALTIME.start || status === REALTIME.continue) {
    const first = status === REALTIME.start ? 0 : live.clock?.kind === 'followed' ? live.clock.first : 0;
    rewind(live);
    live.next.played = live.performance.played.findIndex(
      ({ quarter }) => quarter >= first / CLOCKS_PER_QUARTER,
    );
    if (live.next.played < 0) live.next.played = live.performance.played.length;
    live.clock = { kind: 'followed', first, pulses: [], running: true };
  } else if (status === SONG_POSITION) {
    const first = songPosition(data1, data2) * CLOCKS_PER_SONG_STEP;
    live.clock = { kind: 'followed', first, pulses: [], running: false };
  } else if (status === REALTIME.clock) {
    if (live.clock?.kind === 'followed' && live.clock.running) live.clock.pulses.push(message.ms);
  } else if (status === REALTIME.stop) return stopPlaying(live, message.ms);
  else if (live.answers && (beginsNote(status, data2) || endsNote(status, data2))) {
    // Without a clock, the first key is bar one.
    if (!live.clock) live.clock = { kind: 'own', startMs: message.ms, sentUntil: message.ms };
    const tick = Math.round(quarterAt(live, message.ms) * PPQ);
    if (beginsNote(status, data2)) live.held.push({ tick, end: null, pitch: data1, velocity: data2 });
    else {
      const down = live.held.find(({ pitch, end }) => pitch === data1 && end === null);
      if (down) down.end = tick;
    }
  }
  return [];
}

/** What it has sent up to a moment, since it was asked last. */
export function messagesUntil(
  live: LiveStandIn,
  now: number,
): { played: WireMessage[]; input: WireMessage[] } {
  if (!live.clock) return { played: [], input: [] };
  const until = quarterAt(live, now);
  const take = (kind: 'played' | 'input') => {
    const list = live.performance[kind];
    const from = live.next[kind];
    while (live.next[kind] < list.length && list[live.next[kind]]!.quarter <= until) live.next[kind]++;
    return list.slice(from, live.next[kind]);
  };
  const dues = [...take('played'), ...answersUntil(live, until)].sort((a, b) => a.quarter - b.quarter);
  const played = dues.map(({ quarter, bytes }) => ({ ms: msAt(live, quarter), bytes }));
  for (const { bytes } of dues) keepTrack(live.sounding, bytes);
  const input = take('input').map(({ quarter, bytes }) => ({ ms: msAt(live, quarter), bytes }));
  if (live.clock.kind === 'own') {
    const { startMs, sentUntil } = live.clock;
    if (sentUntil === startMs) played.unshift({ ms: startMs, bytes: [REALTIME.start] });
    const ticks = clockTimes(startMs, live.bpm, sentUntil, now).map((ms) => ({
      ms,
      bytes: [REALTIME.clock],
    }));
    live.clock.sentUntil = now;
    played.push(...ticks);
    played.sort((a, b) => a.ms - b.ms);
    if (until >= live.performance.quarters) {
      played.push({ ms: now, bytes: [REALTIME.stop] });
      live.clock = null;
    }
  }
  return { played, input };
}

function answersUntil(live: LiveStandIn, until: number): Due[] {
  if (!live.answers || !Number.isFinite(until)) return [];
  const notes = live.answers(live.held, Math.max(0, until * PPQ));
  const fresh = notes.slice(live.answered);
  live.answered = notes.length;
  const begins = fresh.map(({ tick, pitch, velocity }) => ({
    quarter: tick / PPQ,
    bytes: [0x90, pitch, velocity],
  }));
  live.ends.push(
    ...fresh.map(({ tick, length, pitch }) => ({ quarter: (tick + length) / PPQ, bytes: [0x80, pitch, 64] })),
  );
  const over = live.ends.filter(({ quarter }) => quarter <= until);
  live.ends = live.ends.filter(({ quarter }) => quarter > until);
  return [...over, ...begins];
}

function keepTrack(sounding: Set<number>, [status = 0, data1 = 0, data2 = 0]: readonly number[]): void {
  const key = (channelOf(status) << 7) | data1;
  if (beginsNote(status, data2)) sounding.add(key);
  else if (endsNote(status, data2)) sounding.delete(key);
}

/** Quarter notes from bar one at a time; before a followed clock has two pulses, nothing is due. */
function quarterAt(live: LiveStandIn, ms: number): number {
  const { clock, bpm } = live;
  if (!clock) return -Infinity;
  if (clock.kind === 'own') return ((ms - clock.startMs) * bpm) / 60_000;
  const { pulses, first } = clock;
  const last = pulses.length - 1;
  if (last < 1) return -Infinity;
  if (ms >= pulses[last]!) return (first + last) / CLOCKS_PER_QUARTER;
  const high = bisectRight(pulses, ms, 1, last);
  const low = high - 1;
  const share = (ms - pulses[low]!) / (pulses[high]! - pulses[low]!);
  return (first + low + share) / CLOCKS_PER_QUARTER;
}

function msAt(live: LiveStandIn, quarter: number): number {
  const clock = live.clock!;
  if (clock.kind === 'own') return clock.startMs + (quarter * 60_000) / live.bpm;
  const at = Math.max(0, quarter * CLOCKS_PER_QUARTER - clock.first);
  const low = Math.min(Math.floor(at), clock.pulses.length - 2);
  const [a, b] = [clock.pulses[low]!, clock.pulses[low + 1]!];
  return a + (at - low) * (b - a);
}
