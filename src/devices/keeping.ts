import type { Account } from '../core/analyze/account.ts';
import { encodeLog } from '../core/capture/message-log.ts';
import type { CaptureFacts, RecordingPlan } from '../core/capture/recording.ts';
import { useRecorder } from './recorder-state.ts';
import { running, type Running } from './running.ts';

/** Where recordings are kept: the page's side of the server's captures. */
export interface CaptureStore {
  begin(plan: RecordingPlan): Promise<{ id: string }>;
  keep(id: string, position: number, bytes: Uint8Array): Promise<unknown>;
  finish(id: string, end: CaptureEnding): Promise<{ takeId: string | null; account: Account }>;
}

export interface CaptureEnding {
  endMs: number;
  lateness?: CaptureFacts['lateness'];
  lost?: { source: string; ms: number }[];
}

/** Where recordings are kept; undefined until somebody says. */
export let store: CaptureStore | undefined;

/** Says where recordings are kept. Called once, before anything is recorded. */
export function keepRecordingsIn(captures: CaptureStore): void {
  store = captures;
}

/** What came in is kept at least so often, in milliseconds. */
export const KEEP_EVERY_MS = 600;

/** In silence, a sign of life is given so often, in milliseconds. */
const ALIVE_EVERY_MS = 2000;

/**
 * Sends what has come in to where it is kept; in silence, now and then an empty piece: the recording is alive. A piece
 * that fails is sent again before the next.
 */
export function keepMore(now: Running, at: number): void {
  if (now.kept === now.log.length && at - now.keptAt < ALIVE_EVERY_MS) return;
  now.keptAt = at;
  const from = now.kept;
  const piece = encodeLog(now.log, from);
  const position = now.pieces;
  now.kept = now.log.length;
  now.pieces++;
  now.keeping = now.keeping.then(() => keepPiece(now.id, position, piece));
}

/** Sends what has come in since the last piece, if anything has. */
export function keepRest(now: Running): void {
  if (now.kept < now.log.length) keepMore(now, performance.now());
}

/** Seconds for which a server that is away is waited for. */
const KEEP_TRIES = 120;

/** Tried again under its own number, so that the order stays. @throws Error where the server stays away. */
async function keepPiece(id: string, position: number, piece: Uint8Array): Promise<void> {
  for (let tries = 1; ; tries++) {
    try {
      await store!.keep(id, position, piece);
      if (tries > 1) useRecorder.setState({ problem: null });
      return;
    } catch (error) {
      if (tries === KEEP_TRIES) throw error;
      useRecorder.setState({ problem: `What was played last is not kept yet: ${(error as Error).message}` });
      await new Promise((resolve) => setTimeout(resolve, 1000));
    }
  }
}

/** The page is going: what has come in since the last piece is handed over. */
export function handOverRest(): void {
  if (running) keepRest(running);
}
