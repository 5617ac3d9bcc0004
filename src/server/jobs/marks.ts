import { and, asc, eq, lt, sql } from 'drizzle-orm';
import equal from 'fast-deep-equal';
import { MARKS_METHOD } from '../../core/catalog/marks.ts';
import { compute } from '../compute/pool.ts';
import type { Db, Library } from '../db/client.ts';
import { phraseContents, phraseMarks, phrases } from '../db/schema.ts';
import { awayProblem, storageProblem } from '../library/errors.ts';
import { hold } from './holds.ts';
import { wholeColumns, withContent, writeMarks, type WholePhrase } from '../library/phrase-rows.ts';
import { clipOfRow } from '../library/phrases.ts';
import { storedTake } from '../library/takes.ts';

/** Phrases that are read at once; between them the others have their turn. */
const AT_ONCE = 24;

/** Between two looks, in milliseconds. */
const EVERY = 5000;

const isWaiting = lt(phraseMarks.method, MARKS_METHOD);

/** How many phrases wait to be read anew: those of an older version, and those whose chords have changed. */
export async function countUnmarked(db: Db): Promise<number> {
  const [row] = await db
    .select({ count: sql<number>`count(*)::int` })
    .from(phraseMarks)
    .where(isWaiting);
  return row!.count;
}

let isEnding = false;
let working: Promise<void> | null = null;

/**
 * Finds what phrases are compared by where it is not known, until none waits. What was found is kept: a process that is killed goes on
 * where it was.
 */
function markPhrases({ db }: Pick<Library, 'db'>): Promise<void> {
  working ??= work(db).finally(() => (working = null));
  return working;
}

/** Looks again and again, for as long as the process runs; of several processes, one reads. */
export function watchMarks(library: Pick<Library, 'db'>): void {
  const look = () =>
    hold(library, 'marks')
      .then((isOurs) => (isOurs ? markPhrases(library) : undefined))
      // The next look goes on with it.
      .catch((error: unknown) => storageProblem(error) ?? awayProblem(error) ?? console.error(error))
      .finally(() => isEnding || setTimeout(look, EVERY).unref());
  void look();
}

/** Lets what is under way end, and begins nothing more. */
export async function endMarks(): Promise<void> {
  isEnding = true;
  await working?.catch(() => {});
}

async function work(db: Db): Promise<void> {
  while (!isEnding) {
    const rows = await db
      .select(wholeColumns)
      .from(phraseMarks)
      .innerJoin(phrases, eq(phrases.id, phraseMarks.phraseId))
      .innerJoin(phraseContents, withContent)
      .where(isWaiting)
      .orderBy(asc(phraseMarks.method), asc(phrases.takeId))
      .limit(AT_ONCE);
    if (rows.length === 0) return;
    for (const row of rows) {
      if (isEnding) return;
      await markOne(db, row);
    }
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
