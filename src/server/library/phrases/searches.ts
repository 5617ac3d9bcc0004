import { randomUUID } from 'node:crypto';
import { asc, eq } from 'drizzle-orm';
import type { Db } from '../../db/client.ts';
import { searches } from '../../db/schema.ts';
import { notFound } from '../errors.ts';

/** Kept searches by name. */
export function listSearches(db: Db) {
  return db
    .select({ id: searches.id, name: searches.name, query: searches.query })
    .from(searches)
    .orderBy(asc(searches.name));
}

export type KeptSearch = Awaited<ReturnType<typeof listSearches>>[number];

/** Keeps a search under a name; under the name of another, it takes its place. */
export async function keepSearch(db: Db, name: string, query: string): Promise<KeptSearch> {
  const [row] = await db
    .insert(searches)
    .values({ id: randomUUID(), name: name.trim(), query })
    .onConflictDoUpdate({ target: searches.name, set: { query } })
    .returning({ id: searches.id, name: searches.name, query: searches.query });
  return row!;
}

/** Forgets a search, and answers it. @throws LibraryError 404 */
export async function forgetSearch(db: Db, id: string): Promise<KeptSearch> {
  const [row] = await db
    .delete(searches)
    .where(eq(searches.id, id))
    .returning({ id: searches.id, name: searches.name, query: searches.query });
  if (!row) throw notFound('search');
  return row;
}
