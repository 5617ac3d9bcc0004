import { beginsNote, REALTIME, type WireMessage } from '../core/midi/message.ts';
import {
  appendMessage,
  createLog,
  logSince,
  STREAM,
  type MessageLog,
  type Stream,
} from '../core/capture/message-log.ts';

/** How far back it reaches, in milliseconds. */
export const MEMORY_MS = 5 * 60_000;

/** Messages are forgotten a piece of this length at a time. */
const PIECE_MS = 10_000;

/** What came in lately, whether anything was recording or not. */
export interface RollingMemory {
  pieces: { fromMs: number; log: MessageLog }[];
}

export function createMemory(): RollingMemory {
  return { pieces: [] };
}

export function remember(memory: RollingMemory, message: WireMessage, source: number, stream: Stream): void {
  const last = memory.pieces.at(-1);
  let piece = last;
  if (!last || message.ms - last.fromMs > PIECE_MS) {
    piece = { fromMs: message.ms, log: createLog() };
    memory.pieces.push(piece);
    memory.pieces = memory.pieces.filter(({ fromMs }) => message.ms - fromMs < MEMORY_MS + PIECE_MS);
  }
  appendMessage(piece!.log, message, source, stream);
}

/** Silence that parts what was played last from what was played before, in milliseconds. */
const PAUSE_MS = 4000;

/** What was played since the last pause: from when to when, and how many notes. */
interface Stretch {
  fromMs: number;
  endMs: number;
  notes: number;
}

/** The last stretch without a pause. Seen from the end, so that a long memory costs no more than what was played last. */
export function lastStretch({ pieces }: RollingMemory): Stretch {
  const stretch: Stretch = { fromMs: Infinity, endMs: -Infinity, notes: 0 };
  for (const { log } of pieces.toReversed()) {
    for (let i = log.length - 1; i >= 0; i--) {
      if (!isPlaying(log, i)) continue;
      const ms = log.ms[i]!;
      if (stretch.fromMs - ms > PAUSE_MS && stretch.fromMs < Infinity) return stretch;
      stretch.fromMs = Math.min(stretch.fromMs, ms);
      stretch.endMs = Math.max(stretch.endMs, ms);
      if (log.stream[i] === STREAM.played && beginsNote(log.status[i]!, log.data2[i]!)) stretch.notes++;
    }
  }
  return stretch;
}

/** The last stretch as a log, with the clock that ran meanwhile, if one did. Null where nothing was played. */
export function lastPlayed(memory: RollingMemory): (Stretch & { log: MessageLog; hasClock: boolean }) | null {
  const stretch = lastStretch(memory);
  if (stretch.notes === 0) return null;
  const logs = memory.pieces.map((piece) => piece.log);
  const startMs = lastStart(logs, stretch.fromMs);
  if (startMs === null)
    return { ...stretch, hasClock: false, log: logSince(logs, stretch.fromMs, isPlaying) };
  // The clock from its start on says where bars begin; what was played before the stretch does not belong to it.
  const log = logSince(logs, startMs, (one, i) => !isPlaying(one, i) || one.ms[i]! >= stretch.fromMs - 1e-6);
  return { ...stretch, hasClock: true, log };
}

/** A stretch begins so little before the start of the clock that it belongs to it, in milliseconds. */
const AHEAD_OF_START = 500;

/** When the clock that runs under a stretch was started; null where none did, or no clock came after it. */
function lastStart(logs: readonly MessageLog[], fromMs: number): number | null {
  let start: number | null = null;
  let clocks = 0;
  for (const log of logs)
    for (let i = 0; i < log.length; i++) {
      const [status, ms] = [log.status[i]!, log.ms[i]!];
      if (status === REALTIME.start && ms <= fromMs + AHEAD_OF_START) [start, clocks] = [ms, 0];
      else if (status === REALTIME.stop && ms < fromMs) start = null;
      else if (status === REALTIME.clock && start !== null) clocks++;
    }
  return clocks > 1 ? start : null;
}

/** A clock runs whether anything is played or not. */
function isPlaying(log: MessageLog, i: number): boolean {
  return log.status[i]! < REALTIME.clock;
}
