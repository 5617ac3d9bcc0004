import { asc, eq } from 'drizzle-orm';
import type { Db } from '../db/client.ts';
import { sources } from '../db/schema.ts';
import { notFound } from './errors.ts';
import { cleanTags } from './phrases/tags.ts';

/** Devices, programs and folders by name, with what their takes have where nobody says otherwise. */
export function listSourceDefaults(db: Db) {
  return db
    .select({ id: sources.id, name: sources.name, rights: sources.rights, tags: sources.tags })
    .from(sources)
    .orderBy(asc(sources.name));
}

export type SourceDefaults = Awaited<ReturnType<typeof listSourceDefaults>>[number];

/** Says what a source's takes have from now on; those that are there stay as they are. @throws LibraryError 404 */
export async function setSourceDefaults(
  db: Db,
  id: string,
  change: { rights?: string; tags?: string[] },
): Promise<SourceDefaults> {
  const { rights, tags } = change;
  const [row] = await db
    .update(sources)
    .set({
      ...(rights === undefined ? {} : { rights: rights.trim() }),
      ...(tags === undefined ? {} : { tags: cleanTags(tags) }),
    })
    .where(eq(sources.id, id))
    .returning({ id: sources.id, name: sources.name, rights: sources.rights, tags: sources.tags });
  if (!row) throw notFound('source');
  return row;
}
