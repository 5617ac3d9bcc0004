import { randomUUID } from 'node:crypto';
import { and, asc, count, desc, eq, inArray, ne, sql } from 'drizzle-orm';
import type { Db } from '../../db/client.ts';
import { inPieces } from '../../db/in-pieces.ts';
import { makingItems, makings, takes } from '../../db/schema.ts';
import { LibraryError, notFound } from '../errors.ts';
import { makeWhole } from './make-phrases.ts';

/**
 * Asks for drafts of all bars of every part of some takes, one take after the other. What was asked for before and has ended is forgotten.
 * @throws LibraryError 404 where a take is not there
 */
export async function createMaking(
  db: Db,
  takeIds: readonly string[],
  projectId: string | null,
): Promise<{ id: string }> {
  const ids = [...new Set(takeIds)];
  const there = await db.select({ id: takes.id }).from(takes).where(inArray(takes.id, ids));
  if (there.length < ids.length) throw notFound('take');
  const id = randomUUID();
  const rows = ids.map((takeId, position) => ({ makingId: id, position, takeId }));
  await db.transaction(async (tx) => {
    await tx.delete(makings).where(ne(makings.state, 'running'));
    await tx.insert(makings).values({ id, projectId });
    for (const some of inPieces(rows)) await tx.insert(makingItems).values(some);
  });
  return { id };
}

const isDone = ne(makingItems.state, 'waiting');

/** The making that was asked for last, with how far it is, and, once it has ended, what came of it; null where none was. */
export async function lastMaking(db: Db) {
  const [row] = await db.select().from(makings).orderBy(desc(makings.createdAt), desc(makings.id)).limit(1);
  if (!row) return null;
  const own = eq(makingItems.makingId, row.id);
  const [counts] = await db
    .select({ of: count(), done: sql<number>`count(*) filter (where ${isDone})::int` })
    .from(makingItems)
    .where(own);
  // It is asked for several times a second while it runs: then, numbers are enough.
  const come = row.state === 'running' ? { phraseIds: [], refused: [] } : await comeOf(db, row.id);
  return { ...row, ...counts!, ...come };
}

export type MakingDetail = NonNullable<Awaited<ReturnType<typeof lastMaking>>>;

/** What has come of its takes: what was made, and of which nothing was, with the reason. */
async function comeOf(
  db: Db,
  id: string,
): Promise<{ phraseIds: string[]; refused: { name: string; reason: string }[] }> {
  const done = await db
    .select({
      state: makingItems.state,
      phraseIds: makingItems.phraseIds,
      reason: makingItems.reason,
      name: takes.name,
    })
    .from(makingItems)
    .innerJoin(takes, eq(takes.id, makingItems.takeId))
    .where(and(eq(makingItems.makingId, id), isDone))
    .orderBy(asc(makingItems.position));
  return {
    phraseIds: done.flatMap(({ phraseIds }) => phraseIds),
    refused: done.flatMap(({ state, name, reason }) => (state === 'refused' ? [{ name, reason }] : [])),
  };
}

/** Makings that are to go on, the oldest first. */
export function runningMakings(db: Db): Promise<{ id: string }[]> {
  return db
    .select({ id: makings.id })
    .from(makings)
    .where(eq(makings.state, 'running'))
    .orderBy(asc(makings.createdAt));
}

/** Stops it before the next take; what was made stays. @throws LibraryError 404 */
export async function stopMaking(db: Db, id: string): Promise<void> {
  const found = await db
    .update(makings)
    .set({ state: 'stopped' })
    .where(and(eq(makings.id, id), eq(makings.state, 'running')))
    .returning({ id: makings.id });
  if (found.length > 0) return;
  const [row] = await db.select({ id: makings.id }).from(makings).where(eq(makings.id, id));
  if (!row) throw notFound('making');
}

/** Makes the drafts of the next take that waits, of a making that is to go on; false where there is none: then it is done. */
export async function makeNext(db: Db, id: string): Promise<boolean> {
  const [making] = await db
    .select()
    .from(makings)
    .where(and(eq(makings.id, id), eq(makings.state, 'running')));
  if (!making) return false;
  const [item] = await db
    .select({ position: makingItems.position, takeId: makingItems.takeId })
    .from(makingItems)
    .where(and(eq(makingItems.makingId, id), eq(makingItems.state, 'waiting')))
    .orderBy(asc(makingItems.position))
    .limit(1);
  if (!item) {
    await db.update(makings).set({ state: 'done' }).where(eq(makings.id, id));
    return false;
  }
  const own = and(eq(makingItems.makingId, id), eq(makingItems.position, item.position));
  try {
    // With what was made it is written that it was: nothing is made twice, wherever the process dies.
    await makeWhole(db, item.takeId, making.projectId, async (tx, phraseIds) => {
      await tx.update(makingItems).set({ state: 'made', phraseIds }).where(own);
    });
  } catch (error) {
    if (!(error instanceof LibraryError)) throw error;
    await db.update(makingItems).set({ state: 'refused', reason: error.message }).where(own);
  }
  return true;
}
