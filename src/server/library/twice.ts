import { and, asc, eq, inArray, or } from 'drizzle-orm';
import { TWICE, type Likeness } from '../../core/catalog/alike.ts';
import type { PhraseAsKept } from '../../core/catalog/compared.ts';
import type { LikeWeights } from '../../core/catalog/similar.ts';
import { catalogOf } from '../catalog/catalog.ts';
import { compute } from '../compute/pool.ts';
import type { Db, Library } from '../db/client.ts';
import { phraseContents, phrases, phrasesApart } from '../db/schema.ts';
import { wholeColumns, withContent } from './phrase-rows.ts';
import { clipOfRow } from './phrases.ts';
import { phraseRows } from './search.ts';

/** Phrases that are compared note by note with one, and that are answered. */
const MOST_COMPARED = 60;
const MOST_LIKE = 40;

/** Kept phrases that have something in common with one, in words, the nearest first; those said to be different left out. */
export async function twinsOf(library: Library, id: string) {
  const candidates = await catalogOf(library).twins(id, MOST_COMPARED);
  const ids = [id, ...candidates];
  const known = await asKept(library.db, ids);
  const there = ids.filter((one) => known.has(one));
  if (there[0] !== id) return [];
  const pairs = there.slice(1).map((_, k): [number, number] => [0, k + 1]);
  const found = await compute(
    'likenesses',
    there.map((one) => known.get(one)!),
    pairs,
  );
  const apart = await apartFrom(library.db, id);
  const alike = found.flatMap((likeness, k) =>
    likeness && !apart.has(there[k + 1]!) ? [{ id: there[k + 1]!, likeness }] : [],
  );
  const rows = new Map(
    (
      await phraseRows(
        library.db,
        alike.map((one) => one.id),
      )
    ).map((row) => [row.id, row]),
  );
  return alike
    .sort((a, b) => rank(a.likeness) - rank(b.likeness) || b.likeness.shared - a.likeness.shared)
    .flatMap(({ id: other, likeness }) => {
      const phrase = rows.get(other);
      return phrase ? [{ phrase, likeness }] : [];
    });
}

export type Twin = Awaited<ReturnType<typeof twinsOf>>[number];

function rank({ verdict }: Likeness): number {
  return TWICE.has(verdict) ? 0 : 1;
}

/** Kept phrases of the same role that are most like one by what they are like, each with the two strongest agreements. */
export async function likeThis(library: Library, id: string, weights: LikeWeights) {
  const found = await catalogOf(library).like(id, weights, MOST_LIKE);
  const rows = new Map(
    (
      await phraseRows(
        library.db,
        found.map((one) => one.id),
      )
    ).map((row) => [row.id, row]),
  );
  return found.flatMap(({ id: other, distance, agreements }) => {
    const phrase = rows.get(other);
    return phrase ? [{ phrase, distance, agreements }] : [];
  });
}

export type LikeThis = Awaited<ReturnType<typeof likeThis>>[number];

/** Phrases as they are compared, by id. */
export async function asKept(db: Db, ids: readonly string[]): Promise<Map<string, PhraseAsKept>> {
  if (ids.length === 0) return new Map();
  const rows = await db
    .select(wholeColumns)
    .from(phrases)
    .innerJoin(phraseContents, withContent)
    .where(inArray(phrases.id, [...ids]));
  return new Map(rows.map((row) => [row.id, { clip: clipOfRow(row), numerals: row.numerals }]));
}

/** Says that two phrases are not the same, or takes that back. */
export async function setApart(db: Db, ids: readonly [string, string], apart: boolean): Promise<void> {
  const [phraseId, otherId] = [...ids].sort() as [string, string];
  if (apart) await db.insert(phrasesApart).values({ phraseId, otherId }).onConflictDoNothing();
  else
    await db
      .delete(phrasesApart)
      .where(and(eq(phrasesApart.phraseId, phraseId), eq(phrasesApart.otherId, otherId)));
}

/** All pairs that were said not to be the same, as "smaller larger". */
export async function allApart(db: Db): Promise<Set<string>> {
  const rows = await db.select().from(phrasesApart).orderBy(asc(phrasesApart.phraseId));
  return new Set(rows.map(({ phraseId, otherId }) => `${phraseId} ${otherId}`));
}

async function apartFrom(db: Db, id: string): Promise<Set<string>> {
  const rows = await db
    .select()
    .from(phrasesApart)
    .where(or(eq(phrasesApart.phraseId, id), eq(phrasesApart.otherId, id)));
  return new Set(rows.map(({ phraseId, otherId }) => (phraseId === id ? otherId : phraseId)));
}
