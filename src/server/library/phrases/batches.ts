import { groups } from 'd3-array';
import { randomUUID } from 'node:crypto';
import { and, asc, count, desc, eq, inArray, sql } from 'drizzle-orm';
import { outlierScores } from '../../../core/normalize/difference.ts';
import type { Recipe } from '../../../core/normalize/recipe.ts';
import type { Db } from '../../db/client.ts';
import { inPieces } from '../../db/in-pieces.ts';
import {
  batches,
  batchItems,
  phrases,
  takes,
  type BatchItemState,
  type BatchPhase,
} from '../../db/schema.ts';
import { LibraryError, notFound } from '../errors.ts';

export type Batch = typeof batches.$inferSelect;
export type BatchItem = typeof batchItems.$inferSelect;

/** Rows of a batch that are listed: the most unusual. */
export const MOST_ROWS = 5000;

/** One recipe, or with null each role's house recipe, for any number of phrases; nothing is changed yet. */
export async function createBatch(
  db: Db,
  request: { title: string; recipe: Recipe | null; phraseIds: readonly string[] },
): Promise<Batch> {
  const ids = [...new Set(request.phraseIds)];
  const there = await db
    .select({ id: phrases.id, takeId: phrases.takeId })
    .from(phrases)
    .where(sql`${phrases.id} = any(${sql.param(ids)}::uuid[])`);
  const takeOf = new Map(there.map(({ id, takeId }) => [id, takeId]));
  // Those of one take after each other: its notes are at hand then.
  const found = ids.filter((id) => takeOf.has(id));
  const rows = groups(found, (id) => takeOf.get(id)).flatMap(([, own]) => own);
  if (rows.length === 0) throw new LibraryError(422, 'Choose at least one phrase.');
  return db.transaction(async (tx) => {
    const { title, recipe } = request;
    const [batch] = await tx.insert(batches).values({ id: randomUUID(), title, recipe }).returning();
    const items = rows.map((phraseId, position) => ({ batchId: batch!.id, position, phraseId }));
    for (const some of inPieces(items)) await tx.insert(batchItems).values(some);
    return batch!;
  });
}

/** A batch with how many of its phrases are in which state. */
export async function getBatch(db: Db, id: string) {
  const [batch] = await db.select().from(batches).where(eq(batches.id, id));
  if (!batch) throw notFound('batch');
  const rows = await db
    .select({ state: batchItems.state, count: count() })
    .from(batchItems)
    .where(eq(batchItems.batchId, id))
    .groupBy(batchItems.state);
  const counts = { waiting: 0, looked: 0, same: 0, refused: 0, left: 0, applied: 0 };
  for (const { state, count: number } of rows) counts[state] = number;
  return { ...batch, counts };
}

export type BatchWithCounts = Awaited<ReturnType<typeof getBatch>>;

/** What would change, or has changed, about each phrase: what is unusual among the others first, and of many no more than that. */
export async function batchTable(db: Db, id: string) {
  const rows = await db
    .select({
      position: batchItems.position,
      phraseId: batchItems.phraseId,
      state: batchItems.state,
      difference: batchItems.difference,
      reason: batchItems.reason,
      name: phrases.name,
      role: phrases.role,
      takeName: takes.name,
    })
    .from(batchItems)
    .innerJoin(phrases, eq(phrases.id, batchItems.phraseId))
    .innerJoin(takes, eq(takes.id, phrases.takeId))
    .where(eq(batchItems.batchId, id))
    .orderBy(asc(batchItems.position));
  const changing = rows.flatMap((row) => (row.difference ? [row.difference] : []));
  const scores = outlierScores(changing);
  const byDifference = new Map(changing.map((difference, i) => [difference, scores[i]!]));
  return rows
    .map((row) => ({ ...row, outlier: row.difference ? byDifference.get(row.difference)! : 0 }))
    .sort(
      (a, b) =>
        Number(b.state === 'refused') - Number(a.state === 'refused') ||
        b.outlier - a.outlier ||
        a.position - b.position,
    )
    .slice(0, MOST_ROWS);
}

export type BatchRow = Awaited<ReturnType<typeof batchTable>>[number];

/** Unfinished ones, and the last that was finished, newest first. */
export async function recentBatches(db: Db, limit = 5): Promise<BatchWithCounts[]> {
  const rows = await db
    .select({ id: batches.id })
    .from(batches)
    .orderBy(desc(batches.createdAt))
    .limit(limit);
  return Promise.all(rows.map(({ id }) => getBatch(db, id)));
}

/** Batches that a process was working on. */
export function runningBatches(db: Db): Promise<Batch[]> {
  return db
    .select()
    .from(batches)
    .where(inArray(batches.phase, ['looking', 'applying', 'takingBack']));
}

/** From which phases a batch goes into which. */
const MAY_FOLLOW: Record<BatchPhase, readonly BatchPhase[]> = {
  looking: ['stopped'],
  looked: ['looking'],
  applying: ['looked', 'stopped', 'takenBack'],
  applied: ['applying'],
  takingBack: ['applied', 'stopped', 'applying'],
  takenBack: ['takingBack'],
  stopped: ['looking', 'applying', 'takingBack'],
};

/** @throws LibraryError 409 where it is not at a phase that this can follow. */
export async function setPhase(db: Db, id: string, phase: BatchPhase): Promise<BatchWithCounts> {
  const changed = await db
    .update(batches)
    .set({ phase })
    .where(and(eq(batches.id, id), inArray(batches.phase, [...MAY_FOLLOW[phase]])))
    .returning({ id: batches.id });
  const batch = await getBatch(db, id);
  if (changed.length === 0)
    throw new LibraryError(409, `This batch is ${batch.phase}: that cannot be done now.`);
  return batch;
}

/** Leaves phrases out of what will be done, or takes them in again. */
export async function leaveOut(
  db: Db,
  id: string,
  phraseIds: readonly string[],
  out: boolean,
): Promise<void> {
  await db
    .update(batchItems)
    .set({ state: out ? 'left' : 'looked' })
    .where(
      and(
        eq(batchItems.batchId, id),
        inArray(batchItems.phraseId, [...phraseIds]),
        eq(batchItems.state, out ? 'looked' : 'left'),
      ),
    );
}

/** The next phrases of a batch in a state. */
export function itemsIn(db: Db, id: string, state: BatchItemState, limit: number): Promise<BatchItem[]> {
  return db
    .select()
    .from(batchItems)
    .where(and(eq(batchItems.batchId, id), eq(batchItems.state, state)))
    .orderBy(asc(batchItems.position))
    .limit(limit);
}

/** Holds an item until the transaction ends; false where it is not in that state any more: another process had it. */
export async function holdItem(tx: Db, item: BatchItem, state: BatchItemState): Promise<boolean> {
  const [held] = await tx
    .select({ state: batchItems.state })
    .from(batchItems)
    .where(and(eq(batchItems.batchId, item.batchId), eq(batchItems.position, item.position)))
    .for('update');
  return held?.state === state;
}

export async function writeItem(
  db: Db,
  item: Pick<BatchItem, 'batchId' | 'position'>,
  change: Partial<Pick<BatchItem, 'state' | 'before' | 'after' | 'difference' | 'reason'>>,
): Promise<void> {
  await db
    .update(batchItems)
    .set(change)
    .where(and(eq(batchItems.batchId, item.batchId), eq(batchItems.position, item.position)));
}
