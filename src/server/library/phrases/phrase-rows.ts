import { createHash, randomUUID } from 'node:crypto';
import { eq, getTableColumns } from 'drizzle-orm';
import type { Db } from '../../db/client.ts';
import { phraseContents, phraseMarks, phrases, phraseParents } from '../../db/schema.ts';
import type { PhraseContent } from './phrase-content.ts';

type PhraseRow = typeof phrases.$inferSelect;
type ContentRow = typeof phraseContents.$inferSelect;

/** A phrase with what it is made of. */
export type WholePhrase = PhraseRow & Omit<ContentRow, 'phraseId'>;

const { phraseId: _, ...contentColumns } = getTableColumns(phraseContents);

/** Columns of a `WholePhrase`, for a query that joins both tables by `withContent`. */
export const wholeColumns = { ...contentColumns, ...getTableColumns(phrases) };

/** How the two are joined. */
export const withContent = eq(phraseContents.phraseId, phrases.id);

/** A phrase whole; undefined where there is none. */
export async function wholePhrase(db: Db, id: string): Promise<WholePhrase | undefined> {
  const [found] = await db
    .select(wholeColumns)
    .from(phrases)
    .innerJoin(phraseContents, withContent)
    .where(eq(phrases.id, id));
  return found;
}

/** What stands in a phrase: where another stands there now, its children are told. */
export function hashOfPhrase({
  notes,
  controls,
  timeline,
}: Pick<WholePhrase, 'notes' | 'controls' | 'timeline'>): string {
  return createHash('sha256').update(notes).update(controls).update(JSON.stringify(timeline)).digest('hex');
}

/** Says of what phrases were made, and what their parents were then. */
export async function insertParents(
  db: Db,
  links: readonly { phraseId: string; parentPhraseId: string; done: string; hash: string }[],
): Promise<void> {
  if (links.length > 0)
    await db.insert(phraseParents).values(links.map((link) => ({ id: randomUUID(), ...link })));
}

/** Writes phrases that were made, with what each is made of and compared by. For a transaction. */
export async function insertPhrases(
  tx: Db,
  made: readonly {
    phrase: typeof phrases.$inferInsert;
    content: Omit<typeof phraseContents.$inferInsert, 'phraseId'>;
    marks: PhraseContent['marks'];
  }[],
): Promise<void> {
  if (made.length === 0) return;
  await tx.insert(phrases).values(made.map(({ phrase }) => phrase));
  await tx
    .insert(phraseContents)
    .values(made.map(({ phrase, content }) => ({ ...content, phraseId: phrase.id })));
  await tx.insert(phraseMarks).values(made.map(({ phrase, marks }) => ({ ...marks, phraseId: phrase.id })));
}

/** Writes what became of a phrase. For a transaction. */
export async function updatePhrase(
  tx: Db,
  id: string,
  change: {
    phrase: Partial<typeof phrases.$inferInsert>;
    content: Partial<typeof phraseContents.$inferInsert>;
    marks: PhraseContent['marks'];
  },
): Promise<void> {
  await tx
    .update(phrases)
    .set({ ...change.phrase, updatedAt: new Date() })
    .where(eq(phrases.id, id));
  await tx.update(phraseContents).set(change.content).where(eq(phraseContents.phraseId, id));
  await writeMarks(tx, id, change.marks);
}

/** Writes what a phrase is compared by. */
export async function writeMarks(db: Db, id: string, marks: PhraseContent['marks']): Promise<void> {
  await db
    .insert(phraseMarks)
    .values({ phraseId: id, ...marks })
    .onConflictDoUpdate({ target: phraseMarks.phraseId, set: marks });
}
