import { randomUUID } from 'node:crypto';
import { asc, desc, eq } from 'drizzle-orm';
import type { Account } from '../../../core/analyze/account.ts';
import { decodeLog, STREAM } from '../../../core/capture/message-log.ts';
import type { CaptureFacts, RecordingPlan } from '../../../core/capture/recording.ts';
import { beginsNote } from '../../../core/midi/message.ts';
import { compute } from '../../compute/pool.ts';
import { lastMs } from '../../compute/recorded-take.ts';
import type { Db, Library } from '../../db/client.ts';
import { captureChunks, captures, originals } from '../../db/schema.ts';
import { notFound } from '../errors.ts';
import { sha256Of } from '../../checksum.ts';
import { keepOriginalFile } from '../keeping/originals.ts';
import { takeIn } from './takes.ts';

/** Begins to keep a recording. */
export async function beginCapture(db: Db, plan: RecordingPlan): Promise<{ id: string }> {
  const id = randomUUID();
  await db.insert(captures).values({ id, plan });
  return { id };
}

/** Keeps what has come in since the last piece. The same piece twice is one. @throws LibraryError 404 */
export async function keepPiece(db: Db, id: string, position: number, bytes: Uint8Array): Promise<void> {
  const alive = await db
    .update(captures)
    .set({ updatedAt: new Date() })
    .where(eq(captures.id, id))
    .returning({ id: captures.id });
  if (alive.length === 0) throw notFound('recording');
  await db.insert(captureChunks).values({ captureId: id, position, bytes }).onConflictDoNothing();
}

/** How a recording ended. */
export interface CaptureEnd {
  /** On the clock of its messages; with the last message where it is not known. */
  endMs?: number;
  lateness?: CaptureFacts['lateness'];
  /** Sources that went away while it ran, and when. */
  lost?: { source: string; ms: number }[];
  /** Instead of the name it began with. */
  name?: string;
}

export interface FinishedCapture {
  /** Null where nothing was played: there is nothing to keep. */
  takeId: string | null;
  account: Account;
}

/**
 * Makes a take of a recording: of all that was kept of it, whether its page is still there or not. The keys that
 * set it off are kept beside it as a file of their own.
 */
export async function finishCapture(
  library: Library,
  id: string,
  { endMs, lateness, lost, name }: CaptureEnd = {},
): Promise<FinishedCapture> {
  const { db } = library;
  const [row] = await db.select().from(captures).where(eq(captures.id, id));
  if (!row) throw notFound('recording');
  const plan = { ...row.plan, ...(name ? { name } : {}) };
  const asked = {
    bars: plan.bars,
    chart: plan.chart,
    parts: plan.parts,
    ...(plan.key ? { key: plan.key } : {}),
  };
  const recorded = await compute('recordedTake', await piecesOf(db, id), plan, asked, { endMs, lost });
  const { bytes, input, facts, account } = recorded;
  if (!bytes) {
    await db.delete(captures).where(eq(captures.id, id));
    return { takeId: null, account };
  }
  const capture: CaptureFacts = { ...facts, ...(lateness ? { lateness } : {}) };
  if (input) capture.input = await keepInput(library, input, sha256Of(bytes));
  const source = plan.sources.map((one) => one.name).join(', ');
  const { takeIds } = await takeIn(library, {
    bytes,
    fileName: `${plan.name}.mid`,
    name: plan.name,
    source,
    asked,
    capture,
  });
  await db.delete(captures).where(eq(captures.id, id));
  return { takeId: takeIds[0]!, account };
}

async function piecesOf(db: Db, id: string): Promise<Uint8Array[]> {
  const rows = await db
    .select({ bytes: captureChunks.bytes })
    .from(captureChunks)
    .where(eq(captureChunks.captureId, id))
    .orderBy(asc(captureChunks.position));
  return rows.map(({ bytes }) => bytes);
}

async function keepInput(library: Library, bytes: Uint8Array, inputOf: string): Promise<string> {
  const sha256 = sha256Of(bytes);
  await keepOriginalFile(library, sha256, bytes, { inputOf });
  await library.db.insert(originals).values({ sha256, bytes }).onConflictDoNothing();
  return sha256;
}

/** A page that records gives a sign of life at least this often, in milliseconds, with time for a slow line. */
const ALIVE_MS = 6000;

/** Recordings that were not finished, with how much was played; those that are alive still run on some page. */
export async function unfinishedCaptures(db: Db) {
  const rows = await db.select().from(captures).orderBy(desc(captures.createdAt));
  return Promise.all(
    rows.map(async (row) => {
      const log = decodeLog(await piecesOf(db, row.id));
      let notes = 0;
      for (let i = 0; i < log.length; i++) {
        if (log.stream[i] === STREAM.played && beginsNote(log.status[i]!, log.data2[i]!)) notes++;
      }
      const seconds = Math.max(0, (lastMs(log, row.plan) - row.plan.startMs) / 1000);
      return { ...row, notes, seconds, alive: Date.now() - row.updatedAt.getTime() < ALIVE_MS };
    }),
  );
}

export type UnfinishedCapture = Awaited<ReturnType<typeof unfinishedCaptures>>[number];
