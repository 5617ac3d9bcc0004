import { and, asc, eq, lt, sql } from 'drizzle-orm';
import equal from 'fast-deep-equal';
import { MARKS_METHOD } from '../../core/catalog/marks.ts';
import { compute } from '../compute/pool.ts';
import type { Db, Library } from '../db/client.ts';
import { phraseContents, phraseMarks, phrases } from '../db/schema.ts';
import { storageProblem } from '../library/errors.ts';
import type { MayGoOn, Work } from './engine.ts';
import { wholeColumns, withContent, writeMarks, type WholePhrase } from '../library/phrases/phrase-rows.ts';
import { clipOfRow } from '../library/phrases/phrases.ts';
import { storedTake } from '../library/takes/takes.ts';

/** Phrases that are read at once; between them the others have their turn. */
const AT_ONCE = 24;

const isWaiting = lt(phraseMarks.method, MARKS_METHOD);

/** How many phrases wait to be read anew: those of an older version, and those whose chords have changed. */
export async function countUnmarked(db: Db): Promise<number> {
  const [row] = await db
    .select({ count: sql<number>`count(*)::int` })
    .from(phraseMarks)
    .where(isWaiting);
  return row!.count;
}

/** There is one piece of this work. */
const ALL = 'all';

/** What phrases are compared by, found where it is not known. */
export const MARKS: Work = {
  kind: 'marks',
  open: async ({ db }) => ((await countUnmarked(db)) > 0 ? [ALL] : []),
  run: markPhrases,
};

/** Reads phrases until none waits. What was found is kept: a process that is killed goes on where it was. */
async function markPhrases({ db }: Library, _: string, mayGoOn: MayGoOn): Promise<void> {
  while (await mayGoOn()) {
    const rows = await db
      .select(wholeColumns)
      .from(phraseMarks)
      .innerJoin(phrases, eq(phrases.id, phraseMarks.phraseId))
      .innerJoin(phraseContents, withContent)
      .where(isWaiting)
      .orderBy(asc(phraseMarks.method), asc(phrases.takeId))
      .limit(AT_ONCE);
    if (rows.length === 0) return;
    for (const row of rows) await markOne(db, row);
  }
}

async function markOne(db: Db, row: WholePhrase): Promise<void> {
  try {
    const stored = row.changes ? null : (await storedTake(db, row.takeId)).stored;
    const { marks, changes } = await compute('marksAgain', clipOfRow(row), row, stored);
    await db.transaction(async (tx) => {
      const own = eq(phraseContents.phraseId, row.id);
      const [now] = await tx
        .select({ changes: phraseContents.changes })
        .from(phraseContents)
        .where(own)
        .for('update');
      // Changed meanwhile, it waits for the next look.
      if (!equal(now?.changes, row.changes)) return;
      await writeMarks(tx, row.id, marks);
      if (!row.changes) await tx.update(phraseContents).set({ changes }).where(own);
    });
  } catch (error) {
    if (storageProblem(error)) throw error;
    console.error(error);
    // One that cannot be read does not keep the others waiting.
    await db
      .update(phraseMarks)
      .set({ method: MARKS_METHOD })
      .where(and(eq(phraseMarks.phraseId, row.id), isWaiting));
  }
}
