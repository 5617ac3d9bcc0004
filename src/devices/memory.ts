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

/** The last stretch as a log. Null where nothing was played. */
export function lastPlayed(memory: RollingMemory): (Stretch & { log: MessageLog }) | null {
  const stretch = lastStretch(memory);
  if (stretch.notes === 0) return null;
  const log = logSince(
    memory.pieces.map((piece) => piece.log),
    stretch.fromMs,
    isPlaying,
  );
  return { ...stretch, log };
}

/** A clock runs whether anything is played or not. */
function isPlaying(log: MessageLog, i: number): boolean {
  return log.status[i]! < REALTIME.clock;
}
