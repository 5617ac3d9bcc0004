import { randomUUID } from 'node:crypto';
import { stringify } from 'csv-stringify/sync';
import { and, asc, desc, eq, gt, inArray, max, sql } from 'drizzle-orm';
import type { Db } from '../db/client.ts';
import { inPieces } from '../db/in-pieces.ts';
import { jobItems, jobs, type IntakeSettings, type ItemState, type JobState } from '../db/schema.ts';
import { LibraryError, notFound } from './errors.ts';

export type Job = typeof jobs.$inferSelect;
export type JobItem = typeof jobItems.$inferSelect;

/** A file that is to be taken in. */
export interface NewItem {
  file: string;
  path: string;
  depth?: number;
}

/** What came of a file. */
export interface ItemOutcome {
  position: number;
  state: Exclude<ItemState, 'waiting'>;
  takeId?: string;
  reason?: string;
}

export async function createIntake(
  db: Db,
  origin: Job['origin'],
  settings: IntakeSettings = {},
): Promise<Job> {
  const [row] = await db
    .insert(jobs)
    .values({ id: randomUUID(), kind: 'intake', origin, settings })
    .returning();
  return row!;
}

/** Adds files to an intake, in their order after those that are there. @throws LibraryError 404, 409 where it has ended. */
export async function addItems(db: Db, jobId: string, items: readonly NewItem[]): Promise<void> {
  await db.transaction(async (tx) => {
    const [job] = await tx.select().from(jobs).where(eq(jobs.id, jobId)).for('update');
    if (!job) throw notFound('job');
    if (job.state !== 'running') throw new LibraryError(409, 'This intake has ended; begin another one.');
    await insertItems(tx, jobId, items);
  });
}

async function insertItems(tx: Db, jobId: string, items: readonly NewItem[]): Promise<void> {
  const [last] = await tx
    .select({ position: max(jobItems.position) })
    .from(jobItems)
    .where(eq(jobItems.jobId, jobId));
  let position = (last?.position ?? -1) + 1;
  for (const some of inPieces(items))
    await tx
      .insert(jobItems)
      .values(some.map(({ file, path, depth = 0 }) => ({ jobId, position: position++, file, path, depth })));
}

/** No more files will come. */
export async function closeIntake(db: Db, id: string): Promise<void> {
  await db.update(jobs).set({ closed: true, updatedAt: new Date() }).where(eq(jobs.id, id));
}

/** An intake of files that lie somewhere already, all of them there from the beginning. */
export async function intakeOf(
  db: Db,
  origin: Job['origin'],
  settings: IntakeSettings,
  items: readonly NewItem[],
): Promise<Job> {
  const job = await createIntake(db, origin, settings);
  await addItems(db, job.id, items);
  await closeIntake(db, job.id);
  return job;
}

/** The next files after a position that nothing has come of yet. */
export async function waitingItems(db: Db, jobId: string, after: number, limit: number): Promise<JobItem[]> {
  return db
    .select()
    .from(jobItems)
    .where(and(eq(jobItems.jobId, jobId), eq(jobItems.state, 'waiting'), gt(jobItems.position, after)))
    .orderBy(asc(jobItems.position))
    .limit(limit);
}

/** Writes what came of files. */
export async function finishItems(tx: Db, jobId: string, outcomes: readonly ItemOutcome[]): Promise<void> {
  if (outcomes.length > 0) {
    const column = <T>(pick: (outcome: ItemOutcome) => T) => sql.param(outcomes.map(pick));
    await tx.execute(sql`update job_items set state = new.state, take_id = new.take_id, reason = new.reason, path = null
      from unnest(${column((o) => o.position)}::int[], ${column((o) => o.state)}::text[],
        ${column((o) => o.takeId ?? null)}::uuid[], ${column((o) => o.reason ?? null)}::text[])
        as new (position, state, take_id, reason)
      where job_items.job_id = ${jobId} and job_items.position = new.position`);
  }
  await tx.update(jobs).set({ updatedAt: new Date() }).where(eq(jobs.id, jobId));
}

/** An archive's files take its place, at the end of the row. */
export async function openItem(
  db: Db,
  jobId: string,
  position: number,
  inside: { items: NewItem[]; refused: { file: string; reason: string }[] },
): Promise<void> {
  await db.transaction(async (tx) => {
    await tx.select().from(jobs).where(eq(jobs.id, jobId)).for('update');
    await insertItems(tx, jobId, inside.items);
    const [last] = await tx
      .select({ position: max(jobItems.position) })
      .from(jobItems)
      .where(eq(jobItems.jobId, jobId));
    const rows = inside.refused.map(({ file, reason }, i) => ({
      jobId,
      position: last!.position! + 1 + i,
      file,
      state: 'refused' as const,
      reason,
    }));
    for (const some of inPieces(rows)) await tx.insert(jobItems).values(some);
    await finishItems(tx, jobId, [{ position, state: 'opened' }]);
  });
}

export async function endJob(db: Db, id: string, state: JobState): Promise<void> {
  const ended = await db
    .update(jobs)
    .set({ state, updatedAt: new Date() })
    .where(and(eq(jobs.id, id), eq(jobs.state, 'running')))
    .returning({ id: jobs.id });
  if (ended.length === 0) await getJob(db, id);
}

/** How many files of a job are in which state. */
export type ItemCounts = Record<ItemState, number>;

const NO_ITEMS: ItemCounts = { waiting: 0, taken: 0, known: 0, refused: 0, opened: 0 };

export async function getJob(db: Db, id: string) {
  const [job] = await db.select().from(jobs).where(eq(jobs.id, id));
  if (!job) throw notFound('job');
  return { ...job, counts: (await countItems(db, [id])).get(id) ?? NO_ITEMS };
}

export type JobWithCounts = Awaited<ReturnType<typeof getJob>>;

async function countItems(db: Db, ids: readonly string[]): Promise<Map<string, ItemCounts>> {
  const found = new Map<string, ItemCounts>();
  if (ids.length === 0) return found;
  const rows = await db
    .select({ jobId: jobItems.jobId, state: jobItems.state, count: sql<number>`count(*)::int` })
    .from(jobItems)
    .where(inArray(jobItems.jobId, [...ids]))
    .groupBy(jobItems.jobId, jobItems.state);
  for (const { jobId, state, count } of rows) {
    found.set(jobId, { ...(found.get(jobId) ?? NO_ITEMS), [state]: count });
  }
  return found;
}

/** The last intakes, newest first. */
export async function recentIntakes(db: Db, limit = 5): Promise<JobWithCounts[]> {
  const rows = await db
    .select()
    .from(jobs)
    .where(eq(jobs.kind, 'intake'))
    .orderBy(desc(jobs.createdAt))
    .limit(limit);
  const counts = await countItems(
    db,
    rows.map(({ id }) => id),
  );
  return rows.map((row) => ({ ...row, counts: counts.get(row.id) ?? NO_ITEMS }));
}

export async function runningIntakes(db: Db): Promise<Job[]> {
  return db.select().from(jobs).where(eq(jobs.state, 'running')).orderBy(asc(jobs.createdAt));
}

/** Files of a job with what came of them, refused ones first, those that were opened left out. */
export async function itemsOf(
  db: Db,
  jobId: string,
  query: { state?: ItemState; offset?: number; limit?: number } = {},
): Promise<JobItem[]> {
  return db
    .select()
    .from(jobItems)
    .where(
      and(
        eq(jobItems.jobId, jobId),
        query.state ? eq(jobItems.state, query.state) : sql`${jobItems.state} <> 'opened'`,
      ),
    )
    .orderBy(sql`${jobItems.state} = 'refused' desc`, asc(jobItems.position))
    .offset(query.offset ?? 0)
    .limit(query.limit ?? 200);
}

/** Refused files and why, as CSV (RFC 4180). A cell that a spreadsheet would run as a formula is made text. */
export async function refusedCsv(db: Db, jobId: string): Promise<string> {
  const rows = await itemsOf(db, jobId, { state: 'refused', limit: 1_000_000 });
  return stringify(rows, {
    columns: ['file', 'reason'],
    header: true,
    quoted_string: true,
    record_delimiter: 'windows',
    escape_formulas: true,
  });
}
