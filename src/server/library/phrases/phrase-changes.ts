import { eq, inArray } from 'drizzle-orm';
import type { Db } from '../../db/client.ts';
import { inPieces } from '../../db/in-pieces.ts';
import { phrases } from '../../db/schema.ts';
import { LibraryError } from '../errors.ts';
import { addTags, cleanTags, removeTags, tagsOf, writeTags } from './tags.ts';

/** What many phrases are told at once; what is left out stays as it is. */
export interface PhraseChanges {
  addTags?: readonly string[] | undefined;
  removeTags?: readonly string[] | undefined;
  /** 1..5, 0 for passed over, null for not rated. */
  rating?: number | null | undefined;
  projectId?: string | null | undefined;
  rights?: string | undefined;
}

/** What a phrase was before: enough to put it back. */
export interface PhraseBefore {
  id: string;
  tags: string[];
  rating: number | null;
  projectId: string | null;
  rights: string;
}

/** Rows that are named in one statement. */
const AT_ONCE = 2000;

/**
 * Tells many phrases the same, all or nothing, and answers what they were before. @throws LibraryError 422 where a phrase does not
 * exist
 */
export async function changePhrases(
  db: Db,
  ids: readonly string[],
  { addTags: adding = [], removeTags: removing = [], ...change }: PhraseChanges,
): Promise<{ before: PhraseBefore[] }> {
  const wanted = [...new Set(ids)];
  return db.transaction(async (tx) => {
    const before = await phrasesBefore(tx, wanted);
    if (before.length < wanted.length)
      throw new LibraryError(422, 'One of these phrases is not there. Nothing was changed.');
    const told = Object.fromEntries(Object.entries(change).filter(([, value]) => value !== undefined));
    for (const some of inPieces(wanted, AT_ONCE)) {
      if (Object.keys(told).length > 0)
        await tx
          .update(phrases)
          .set({ ...told, updatedAt: new Date() })
          .where(inArray(phrases.id, some));
      await addTags(tx, some, cleanTags(adding));
      await removeTags(tx, some, cleanTags(removing));
    }
    return { before };
  });
}

/** Puts phrases back as they were. */
export async function restorePhrases(db: Db, before: readonly PhraseBefore[]): Promise<void> {
  await db.transaction(async (tx) => {
    for (const { id, tags: names, ...was } of before) {
      await tx.update(phrases).set(was).where(eq(phrases.id, id));
      await writeTags(tx, id, cleanTags(names));
    }
  });
}

/** They were listened to, now. */
export async function heardPhrases(db: Db, ids: readonly string[]): Promise<void> {
  await db
    .update(phrases)
    .set({ heardAt: new Date() })
    .where(inArray(phrases.id, [...ids]));
}

async function phrasesBefore(db: Db, ids: readonly string[]): Promise<PhraseBefore[]> {
  const found: PhraseBefore[] = [];
  for (const some of inPieces(ids, AT_ONCE)) {
    const rows = await db
      .select({
        id: phrases.id,
        rating: phrases.rating,
        projectId: phrases.projectId,
        rights: phrases.rights,
      })
      .from(phrases)
      .where(inArray(phrases.id, some));
    const names = await tagsOf(db, some);
    found.push(...rows.map((row) => ({ ...row, tags: names.get(row.id) ?? [] })));
  }
  return found;
}
