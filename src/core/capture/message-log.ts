import { channelDataLength } from '../midi/smf.ts';
import type { WireMessage } from '../midi/message.ts';

/**
 * Messages in the order in which they came, as columns that grow: recording must not wait for memory. Times are
 * milliseconds on the page's clock, as the sender stamped them.
 */
export interface MessageLog {
  length: number;
  ms: Float64Array;
  /** Index of the source in the recording's list. */
  source: Uint8Array;
  stream: Uint8Array;
  status: Uint8Array;
  data1: Uint8Array;
  data2: Uint8Array;
  /** Bytes of messages longer than three, by their index. */
  long: Map<number, Uint8Array>;
}

/** What a message is to a take: what was played, what set it off, or a mark made by hand. */
export const STREAM = { played: 0, input: 1, mark: 2 } as const;

export type Stream = (typeof STREAM)[keyof typeof STREAM];

export interface LoggedMessage {
  ms: number;
  source: number;
  stream: number;
  bytes: Uint8Array;
}

export function createLog(capacity = 1024): MessageLog {
  return {
    length: 0,
    ms: new Float64Array(capacity),
    source: new Uint8Array(capacity),
    stream: new Uint8Array(capacity),
    status: new Uint8Array(capacity),
    data1: new Uint8Array(capacity),
    data2: new Uint8Array(capacity),
    long: new Map(),
  };
}

export function appendMessage(log: MessageLog, message: WireMessage, source: number, stream: Stream): void {
  if (log.length === log.ms.length) grow(log);
  const i = log.length++;
  const { bytes } = message;
  log.ms[i] = message.ms;
  log.source[i] = source;
  log.stream[i] = stream;
  log.status[i] = bytes[0] ?? 0;
  log.data1[i] = bytes[1] ?? 0;
  log.data2[i] = bytes[2] ?? 0;
  if (bytes.length > 3) log.long.set(i, Uint8Array.from(bytes));
}

function grow(log: MessageLog): void {
  const capacity = log.ms.length * 2;
  const ms = new Float64Array(capacity);
  ms.set(log.ms);
  log.ms = ms;
  for (const column of ['source', 'stream', 'status', 'data1', 'data2'] as const) {
    const larger = new Uint8Array(capacity);
    larger.set(log[column]);
    log[column] = larger;
  }
}

export function messageAt(log: MessageLog, i: number): LoggedMessage {
  return { ms: log.ms[i]!, source: log.source[i]!, stream: log.stream[i]!, bytes: bytesAt(log, i) };
}

function bytesAt(log: MessageLog, i: number): Uint8Array {
  const long = log.long.get(i);
  if (long) return long;
  const status = log.status[i]!;
  const length = messageLength(status);
  return Uint8Array.of(status, log.data1[i]!, log.data2[i]!).subarray(0, length);
}

/** Bytes of a message by its status (MIDI 1.0); 3 for system exclusive, which is kept among the long ones. */
export function messageLength(status: number): number {
  if (status < 0xf0) return channelDataLength(status) === 1 ? 2 : 3;
  if (status >= 0xf4) return 1;
  if (status === 0xf1 || status === 0xf3) return 2;
  return 3;
}

/** Indices in order of time; messages at one time stay in the order in which they came. */
export function inOrderOfTime(log: MessageLog): Uint32Array {
  const order = Uint32Array.from({ length: log.length }, (_, i) => i);
  return order.sort((a, b) => log.ms[a]! - log.ms[b]! || a - b);
}

/** The messages of some logs from a time on that are wanted, as a log of its own: what is taken out of the rolling memory. */
export function logSince(
  logs: readonly MessageLog[],
  ms: number,
  isWanted: (log: MessageLog, i: number) => boolean = () => true,
): MessageLog {
  const kept = createLog();
  for (const log of logs) {
    for (let i = 0; i < log.length; i++) {
      if (log.ms[i]! < ms || !isWanted(log, i)) continue;
      const message = messageAt(log, i);
      appendMessage(kept, message, message.source, message.stream as Stream);
    }
  }
  return kept;
}

/** Bytes of one message's head: time (8), source, stream, number of bytes (2). */
const HEAD = 12;

/** Messages `from` to `to` (excluded) as bytes, for sending and storing. Numbers are big-endian. */
export function encodeLog(log: MessageLog, from = 0, to = log.length): Uint8Array {
  const messages = Array.from({ length: to - from }, (_, i) => messageAt(log, from + i));
  const size = messages.reduce((sum, { bytes }) => sum + HEAD + bytes.length, 0);
  const out = new Uint8Array(size);
  const view = new DataView(out.buffer);
  let at = 0;
  for (const { ms, source, stream, bytes } of messages) {
    view.setFloat64(at, ms);
    view.setUint8(at + 8, source);
    view.setUint8(at + 9, stream);
    view.setUint16(at + 10, bytes.length);
    out.set(bytes, at + HEAD);
    at += HEAD + bytes.length;
  }
  return out;
}

/** Reads what `encodeLog` wrote, one piece after the other. A piece that was cut off ends with its last whole message. */
export function decodeLog(pieces: readonly Uint8Array[]): MessageLog {
  const log = createLog();
  for (const piece of pieces) {
    const view = new DataView(piece.buffer, piece.byteOffset, piece.byteLength);
    for (let at = 0; at + HEAD <= piece.length;) {
      const length = view.getUint16(at + 10);
      const bytes = piece.slice(at + HEAD, at + HEAD + length);
      if (bytes.length < length || length === 0) break;
      appendMessage(
        log,
        { ms: view.getFloat64(at), bytes },
        view.getUint8(at + 8),
        view.getUint8(at + 9) as Stream,
      );
      at += HEAD + length;
    }
  }
  return log;
}
