import { and, asc, eq, inArray, ne, or, sql } from 'drizzle-orm';
import { TWICE, type Likeness } from '../../../core/catalog/alike.ts';
import type { PhraseAsKept } from '../../../core/catalog/compared.ts';
import type { LikeWeights } from '../../../core/catalog/similar.ts';
import { catalogOf } from '../../catalog/catalog.ts';
import { compute } from '../../compute/pool.ts';
import { among } from '../../db/among.ts';
import type { Db, Library } from '../../db/client.ts';
import { phraseContents, phraseParents, phrases, phrasesApart } from '../../db/schema.ts';
import { wholeColumns, withContent } from './phrase-rows.ts';
import { clipOfRow } from './phrases.ts';
import { phraseRows } from './search.ts';

/** Phrases that are compared note by note with one, and that are answered. */
const MOST_COMPARED = 60;
const MOST_LIKE = 40;

/** Two phrases, and what they have in common. */
export interface Link {
  a: string;
  b: string;
  likeness: Likeness;
}

/** Compares pairs of phrases note by note, in a thread; those that have something in common. */
export async function linksAmong(db: Db, pairs: readonly (readonly [string, string])[]): Promise<Link[]> {
  const known = await asKept(db, [...new Set(pairs.flat())]);
  const at = new Map([...known.keys()].map((id, k) => [id, k]));
  const both = pairs.filter(([a, b]) => at.has(a) && at.has(b));
  const found = await compute(
    'likenesses',
    [...known.values()],
    both.map(([a, b]): [number, number] => [at.get(a)!, at.get(b)!]),
  );
  return both.flatMap(([a, b], k) => {
    const likeness = found[k];
    return likeness ? [{ a, b, likeness }] : [];
  });
}

/** Kept phrases that have something in common with one, in words, the nearest first; those said to be different left out. */
export async function twinsOf(library: Library, id: string) {
  const candidates = await catalogOf(library).twins(id, MOST_COMPARED);
  const links = await linksAmong(
    library.db,
    candidates.map((other) => [id, other] as const),
  );
  const apart = await apartFrom(library.db, id);
  const alike = links
    .filter(({ b }) => !apart.has(b))
    .sort((x, y) => rank(x.likeness) - rank(y.likeness) || y.likeness.shared - x.likeness.shared);
  const rows = await phraseRows(
    library.db,
    alike.map(({ b }) => b),
  );
  return alike.flatMap(({ b, likeness }) => {
    const phrase = rows.get(b);
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
  const rows = await phraseRows(
    library.db,
    found.map((one) => one.id),
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
    .where(among(phrases.id, ids));
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

/** Binds phrases as variants of one, each to each, or lets them go again: bound, they are told of each other and never asked about. */
export async function setVariants(db: Db, ids: readonly string[], bound: boolean): Promise<void> {
  const sorted = [...new Set(ids)].sort();
  const pairs = sorted.flatMap((phraseId, k) =>
    sorted.slice(k + 1).map((otherId) => ({ phraseId, otherId })),
  );
  if (bound) {
    await db
      .insert(phrasesApart)
      .values(pairs.map((pair) => ({ ...pair, variants: true })))
      .onConflictDoUpdate({ target: [phrasesApart.phraseId, phrasesApart.otherId], set: { variants: true } });
    return;
  }
  const among = and(inArray(phrasesApart.phraseId, sorted), inArray(phrasesApart.otherId, sorted));
  await db.delete(phrasesApart).where(and(among, eq(phrasesApart.variants, true)));
}

/** Kept phrases that are bound to one as its variants, by name. */
export async function variantsOf(db: Db, id: string) {
  const { phraseId, otherId, variants } = phrasesApart;
  const other = sql`case when ${phraseId} = ${id} then ${otherId} else ${phraseId} end`;
  return db
    .select({ id: phrases.id, name: phrases.name, role: phrases.role })
    .from(phrasesApart)
    .innerJoin(phrases, eq(phrases.id, other))
    .where(and(variants, or(eq(phraseId, id), eq(otherId, id)), ne(phrases.state, 'discarded')))
    .orderBy(asc(phrases.name), asc(phrases.id));
}

/** All pairs that need not be asked about, as "smaller larger": said not to be the same, bound as variants, or made one of the other. */
export async function allApart(db: Db): Promise<Set<string>> {
  const rows = await db.select().from(phrasesApart).orderBy(asc(phrasesApart.phraseId));
  const made = await db
    .select({ phraseId: phraseParents.phraseId, otherId: phraseParents.parentPhraseId })
    .from(phraseParents);
  return new Set(
    [...rows, ...made].flatMap(({ phraseId, otherId }) =>
      otherId ? [[phraseId, otherId].sort().join(' ')] : [],
    ),
  );
}

async function apartFrom(db: Db, id: string): Promise<Set<string>> {
  const rows = await db
    .select()
    .from(phrasesApart)
    .where(or(eq(phrasesApart.phraseId, id), eq(phrasesApart.otherId, id)));
  return new Set(rows.map(({ phraseId, otherId }) => (phraseId === id ? otherId : phraseId)));
}
