import { bisector } from 'd3-array';
import {
  CLOCKS_PER_QUARTER,
  CLOCKS_PER_SONG_STEP,
  REALTIME,
  SONG_POSITION,
  songPosition,
} from '../midi/message.ts';
import { msPerQuarter } from '../music/timeline.ts';
import type { Milliseconds } from '../music/units.ts';
import { messageAt, type MessageLog } from './message-log.ts';

/**
 * Time as a recording counts it: from milliseconds to quarter notes from bar one, and the tempo along the way.
 */
export interface BeatClock {
  quarterAt(ms: number): number;
  /** BPM from a quarter note on, first at or before 0; empty where no tempo is known. */
  tempos: { quarter: number; bpm: number }[];
}

/** The recording's own click: one tempo from bar one on. */
export function clickClock(startMs: number, bpm: number): BeatClock {
  return { quarterAt: (ms) => ((ms - startMs) * bpm) / 60_000, tempos: [{ quarter: 0, bpm }] };
}

/** Tempo by which a recording without a click is written: a plain ruler of time, not a claim. */
export const RULER_BPM = 120;

/** Follows another's MIDI clock. Undefined where it never ran for two clocks. */
export function followedClock(
  log: MessageLog,
  order: Uint32Array,
): (BeatClock & { startMs: number }) | undefined {
  const pulses = clockPulses(log, order);
  if (pulses.length < 2) return undefined;
  const quarterAt = (ms: number) => pulseAt(pulses, ms) / CLOCKS_PER_QUARTER;
  return { quarterAt, tempos: temposOf(pulses), startMs: pulses[0]!.ms };
}

/** A clock message: its place, counted in clocks from the beginning of the song, and its time. */
interface Pulse {
  position: number;
  ms: number;
}

/**
 * The clocks that count: from the first start or continue to the stop after it. The first clock after a start is
 * the downbeat of bar one; after a continue it is where the last song position pointed (MIDI 1.0, System Real Time).
 */
function clockPulses(log: MessageLog, order: Uint32Array): Pulse[] {
  const pulses: Pulse[] = [];
  let running = false;
  let position = 0;
  for (const i of order) {
    const status = log.status[i]!;
    if (status === SONG_POSITION) {
      position = songPosition(log.data1[i]!, log.data2[i]!) * CLOCKS_PER_SONG_STEP;
    } else if (status === REALTIME.start || status === REALTIME.continue) {
      if (pulses.length > 0) break;
      if (status === REALTIME.start) position = 0;
      running = true;
    } else if (status === REALTIME.stop && running) break;
    else if (status === REALTIME.clock && running)
      pulses.push({ position: position++, ms: messageAt(log, i).ms });
  }
  return pulses;
}

const byMs = bisector(({ ms }: Pulse) => ms);

/** Place of a time between clocks, and beyond them at the pace of the nearest two. */
function pulseAt(pulses: readonly Pulse[], ms: number): number {
  const next = byMs.right(pulses, ms, 1, pulses.length - 1);
  const [a, b] = [pulses[next - 1]!, pulses[next]!];
  return a.position + (ms - a.ms) / Math.max(1e-6, b.ms - a.ms);
}

/** Tempo of each quarter note; one that hardly differs from the one before is not told again. */
function temposOf(pulses: readonly Pulse[]): { quarter: number; bpm: number }[] {
  const tempos: { quarter: number; bpm: number }[] = [];
  for (let i = 0; i + 1 < pulses.length; i += CLOCKS_PER_QUARTER) {
    const next = Math.min(i + CLOCKS_PER_QUARTER, pulses.length - 1);
    const quarters = (next - i) / CLOCKS_PER_QUARTER;
    const bpm = (60_000 * quarters) / (pulses[next]!.ms - pulses[i]!.ms);
    const before = tempos.at(-1);
    if (!before || Math.abs(bpm / before.bpm - 1) > 0.002) {
      tempos.push({ quarter: pulses[i]!.position / CLOCKS_PER_QUARTER, bpm });
    }
  }
  return tempos;
}

/** When a clock of one tempo sends, from bar one on: times in milliseconds, within `from` and `to` (excluded). */
export function clockTimes(
  startMs: Milliseconds,
  bpm: number,
  from: Milliseconds,
  to: Milliseconds,
): Milliseconds[] {
  const step = msPerQuarter(bpm) / CLOCKS_PER_QUARTER;
  // One expression decides on both sides of a boundary: a clock belongs to one window, however numbers are rounded.
  const timeOf = (n: number) => startMs + n * step;
  let n = Math.max(0, Math.ceil((from - startMs) / step) - 1);
  while (timeOf(n) < from) n++;
  const times: number[] = [];
  for (; timeOf(n) < to; n++) times.push(timeOf(n));
  return times;
}
