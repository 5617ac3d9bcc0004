import type { WireMessage } from '../core/midi/message.ts';
import { beginsNote } from '../core/midi/message.ts';
import {
  appendMessage,
  createLog,
  messageAt,
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

/** What was played since the last pause: as a log, with the time of its first message. Null where nothing was. */
export function lastPlayed(memory: RollingMemory): { log: MessageLog; fromMs: number; notes: number } | null {
  const all = memory.pieces
    .flatMap(({ log }) => Array.from({ length: log.length }, (_, i) => messageAt(log, i)))
    // A clock runs whether anything is played or not.
    .filter(({ bytes }) => bytes[0]! < 0xf8)
    .sort((a, b) => a.ms - b.ms);
  let from = all.length;
  for (let i = all.length - 1; i >= 0; i--) {
    if (i < all.length - 1 && all[i + 1]!.ms - all[i]!.ms > PAUSE_MS) break;
    from = i;
  }
  const played = all.slice(from);
  const notes = played.filter(
    ({ bytes, stream }) => stream === 0 && beginsNote(bytes[0]!, bytes[2] ?? 0),
  ).length;
  if (notes === 0) return null;
  const log = createLog(played.length);
  for (const message of played) appendMessage(log, message, message.source, message.stream as Stream);
  return { log, fromMs: played[0]!.ms, notes };
}
