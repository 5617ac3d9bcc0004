import { rollup } from 'd3-array';
import { randomUUID } from 'node:crypto';
import { asc, eq, inArray, sql } from 'drizzle-orm';
import { alias } from 'drizzle-orm/pg-core';
import { among } from '../../db/among.ts';
import type { Db } from '../../db/client.ts';
import { phrases, phraseTags, tags } from '../../db/schema.ts';
import { LibraryError, notFound } from '../errors.ts';

export function cleanTags(names: readonly string[]): string[] {
  return [...new Set(names.map((name) => name.trim().toLowerCase()).filter(Boolean))];
}

/** Tags by phrase, in alphabetical order. */
export async function tagsOf(db: Db, ids: readonly string[]): Promise<Map<string, string[]>> {
  if (ids.length === 0) return new Map();
  const rows = await db
    .select({ phraseId: phraseTags.phraseId, name: tags.name })
    .from(phraseTags)
    .innerJoin(tags, eq(tags.id, phraseTags.tagId))
    .where(among(phraseTags.phraseId, ids))
    .orderBy(asc(tags.name));
  return rollup(
    rows,
    (own) => own.map(({ name }) => name),
    ({ phraseId }) => phraseId,
  );
}

/** Gives phrases tags, made where there are none of that name. For a transaction. */
export async function addTags(tx: Db, phraseIds: readonly string[], names: readonly string[]): Promise<void> {
  if (names.length === 0) return;
  await tx
    .insert(tags)
    .values(names.map((name) => ({ id: randomUUID(), name })))
    .onConflictDoNothing();
  await tx.execute(sql`insert into ${phraseTags} (phrase_id, tag_id)
    select p.id, t.id from ${phrases} p, ${tags} t
    where ${inArray(sql`p.id`, [...phraseIds])} and ${inArray(sql`t.name`, [...names])} on conflict do nothing`);
}

/** Takes tags from phrases. */
export async function removeTags(
  tx: Db,
  phraseIds: readonly string[],
  names: readonly string[],
): Promise<void> {
  if (names.length === 0) return;
  await tx.execute(sql`delete from ${phraseTags} using ${tags}
    where ${phraseTags.tagId} = ${tags.id} and ${inArray(phraseTags.phraseId, [...phraseIds])}
    and ${inArray(tags.name, [...names])}`);
}

/** Gives a phrase these tags, and no others. For a transaction. */
export async function writeTags(tx: Db, phraseId: string, names: readonly string[]): Promise<void> {
  await tx.delete(phraseTags).where(eq(phraseTags.phraseId, phraseId));
  await addTags(tx, [phraseId], names);
}

const above = alias(tags, 'above');

/** All tags by name, each with the one it stands under and how many phrases have it. */
export function listTags(db: Db) {
  return db
    .select({
      name: tags.name,
      under: above.name,
      phrases: sql<number>`(select count(*)::int from ${phraseTags} where ${phraseTags.tagId} = ${tags.id})`,
    })
    .from(tags)
    .leftJoin(above, eq(above.id, tags.parentId))
    .orderBy(asc(tags.name));
}

export type TagRow = Awaited<ReturnType<typeof listTags>>[number];

/**
 * Renames a tag; called as another one, it becomes one with it. @throws LibraryError 404, 422
 */
export async function renameTag(db: Db, name: string, next: string): Promise<{ merged: boolean }> {
  const [wanted] = cleanTags([next]);
  if (!wanted) throw new LibraryError(422, 'A tag needs a name.');
  return db.transaction(async (tx) => {
    const tag = await tagCalled(tx, name);
    const [other] = await tx.select().from(tags).where(eq(tags.name, wanted));
    if (!other || other.id === tag.id) {
      await tx.update(tags).set({ name: wanted }).where(eq(tags.id, tag.id));
      return { merged: false };
    }
    await tx.execute(sql`insert into ${phraseTags} (phrase_id, tag_id)
      select phrase_id, ${other.id}::uuid from ${phraseTags} where tag_id = ${tag.id} on conflict do nothing`);
    await tx.delete(phraseTags).where(eq(phraseTags.tagId, tag.id));
    // What stood under it stands under the other, which does not stand under itself.
    await tx.update(tags).set({ parentId: other.id }).where(eq(tags.parentId, tag.id));
    if ((await lineOf(tx, other.id)) === null)
      await tx.update(tags).set({ parentId: null }).where(eq(tags.id, other.id));
    await tx.delete(tags).where(eq(tags.id, tag.id));
    return { merged: true };
  });
}

/** Puts a tag under another, or (null) under none. @throws LibraryError 404, 422 where it would stand under itself */
export async function putTagUnder(db: Db, name: string, under: string | null): Promise<void> {
  await db.transaction(async (tx) => {
    const tag = await tagCalled(tx, name);
    const parent = under === null ? null : await tagCalled(tx, under);
    await tx
      .update(tags)
      .set({ parentId: parent?.id ?? null })
      .where(eq(tags.id, tag.id));
    if (parent && (await lineOf(tx, tag.id)) === null)
      throw new LibraryError(422, `"${under}" stands under "${name}": a tag cannot stand under itself.`);
  });
}

async function tagCalled(db: Db, name: string): Promise<typeof tags.$inferSelect> {
  const [tag] = await db.select().from(tags).where(eq(tags.name, name.trim().toLowerCase()));
  if (!tag) throw notFound('tag');
  return tag;
}

/** Ids of a tag and what it stands under, upward; null where that goes round. */
async function lineOf(db: Db, id: string): Promise<string[] | null> {
  const line: string[] = [];
  for (let at: string | null = id; at !== null;) {
    if (line.includes(at)) return null;
    line.push(at);
    const [row]: { parentId: string | null }[] = await db
      .select({ parentId: tags.parentId })
      .from(tags)
      .where(eq(tags.id, at));
    at = row?.parentId ?? null;
  }
  return line;
}
