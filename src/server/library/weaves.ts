import { randomUUID } from 'node:crypto';
import { desc, eq, sql } from 'drizzle-orm';
import { mergedWeave } from '../../core/weave/merge.ts';
import { problemOfWeave, type Weave } from '../../core/weave/weave.ts';
import type { Db } from '../db/client.ts';
import { projects, weaves } from '../db/schema.ts';
import { LibraryError, notFound } from './errors.ts';

/** What is answered of one. */
const DETAIL = {
  id: weaves.id,
  projectId: weaves.projectId,
  weave: weaves.weave,
  revision: weaves.revision,
  aside: weaves.aside,
};

/** Weaves that are used, the last changed first; of each what a list shows, and not the whole sheet. */
export function listWeaves(db: Db) {
  return db
    .select({
      id: weaves.id,
      title: weaves.title,
      projectName: projects.name,
      updatedAt: weaves.updatedAt,
      sections: sql<string[]>`jsonb_path_query_array(${weaves.weave}, '$.sections[*].name')`,
      parts: sql<number>`jsonb_array_length(${weaves.weave} -> 'parts')`,
    })
    .from(weaves)
    .leftJoin(projects, eq(projects.id, weaves.projectId))
    .where(eq(weaves.aside, false))
    .orderBy(desc(weaves.updatedAt), desc(weaves.id));
}

export type WeaveItem = Awaited<ReturnType<typeof listWeaves>>[number];

/** @throws LibraryError 422 where it could not be laid */
export async function createWeave(db: Db, weave: Weave, projectId: string | null): Promise<WeaveDetail> {
  check(weave);
  const [row] = await db
    .insert(weaves)
    .values({ id: randomUUID(), title: weave.title, projectId, weave })
    .returning(DETAIL);
  return row!;
}

/** @throws LibraryError 404 */
export async function getWeave(db: Db, id: string) {
  const [row] = await db.select(DETAIL).from(weaves).where(eq(weaves.id, id));
  if (!row) throw notFound('weave');
  return row;
}

export type WeaveDetail = Awaited<ReturnType<typeof getWeave>>;

/**
 * Saves a weave that was made of `base`. What somebody else changed in other cells meanwhile stays.
 * @throws LibraryError 404; 409 where both changed the same, with what; 422 where it could not be laid
 */
export async function saveWeave(
  db: Db,
  id: string,
  { base, weave }: { base: Weave; weave: Weave },
): Promise<WeaveDetail> {
  check(weave);
  return db.transaction(async (tx) => {
    const [now] = await tx
      .select({ weave: weaves.weave, revision: weaves.revision })
      .from(weaves)
      .where(eq(weaves.id, id))
      .for('update');
    if (!now) throw notFound('weave');
    const merged = mergedWeave(base, weave, now.weave);
    if (merged.both !== null)
      throw new LibraryError(
        409,
        `Another window changed ${merged.both.join(', ')} meanwhile. Nothing was saved here: look at both.`,
      );
    const [row] = await tx
      .update(weaves)
      .set({
        weave: merged.value,
        title: merged.value.title,
        revision: now.revision + 1,
        updatedAt: new Date(),
      })
      .where(eq(weaves.id, id))
      .returning(DETAIL);
    return row!;
  });
}

/** Sets a weave aside, or brings it back. @throws LibraryError 404 */
export async function setWeaveAside(db: Db, id: string, aside: boolean): Promise<void> {
  const found = await db.update(weaves).set({ aside }).where(eq(weaves.id, id)).returning({ id: weaves.id });
  if (found.length === 0) throw notFound('weave');
}

function check(weave: Weave): void {
  const problem = problemOfWeave(weave);
  if (problem) throw new LibraryError(422, problem);
}
