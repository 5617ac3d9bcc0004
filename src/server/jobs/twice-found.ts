import { readFile, rm } from 'node:fs/promises';
import { join } from 'node:path';
import { and, gte, sql, type SQL } from 'drizzle-orm';
import { TWICE } from '../../core/catalog/alike.ts';
import { FINGERPRINT } from '../../core/catalog/fingerprint.ts';
import { MARKS_METHOD } from '../../core/catalog/marks.ts';
import { among } from '../db/among.ts';
import type { Db, Library } from '../db/client.ts';
import { FIRST_OPEN } from '../db/first-open.ts';
import { phrases } from '../db/schema.ts';
import { libraryId } from '../library/house.ts';
import { linksAmong, type Link } from '../library/phrases/twice.ts';
import { writeWhole } from '../whole-file.ts';

/** What a search through the whole library has found, and up to which transaction that holds. */
export interface TwiceFound {
  links: Link[];
  /** The first transaction that may have changed a phrase since. */
  since: string;
  /** When it was looked through, in ISO 8601. */
  at: string;
  /** Pairs that were compared note by note, and whether all were. */
  compared: number;
  isWhole: boolean;
}

/** By which methods it was found, and in which library: others find other things. */
async function madeIn(library: Library): Promise<string> {
  return [1, MARKS_METHOD, FINGERPRINT, await libraryId(library.db)].join(' ');
}

const pathOf = ({ dataDirectory }: Library) => join(dataDirectory, 'twice.json');

/** Writes down what was found. What cannot be written is looked for anew at the next start. */
export async function writeTwice(library: Library, found: TwiceFound): Promise<void> {
  const made = await madeIn(library);
  await writeWhole(pathOf(library), JSON.stringify({ made, ...found })).catch(() => {});
}

/** What was written down; null where there is nothing, or it is of other methods or another database. */
export async function readTwice(library: Library): Promise<TwiceFound | null> {
  const text = await readFile(pathOf(library), 'utf8').catch(() => null);
  if (text === null) return null;
  try {
    const { made, ...found } = JSON.parse(text) as TwiceFound & { made: string };
    // A database that knows less than what was written down is another one.
    if (made === (await madeIn(library)) && BigInt(await firstOpen(library.db)) >= BigInt(found.since))
      return found;
  } catch {
    // Damaged, it is as good as none.
  }
  await rm(pathOf(library), { force: true });
  return null;
}

/** The first transaction that may still change something unseen. */
export async function firstOpen(db: Db): Promise<string> {
  const open = sql.raw(FIRST_OPEN) as SQL<string>;
  const [row] = await db.select({ open }).from(sql`(values (1)) one`);
  return row!.open;
}

/** Pairs that are compared in one task of a thread. */
export const PAIRS_AT_ONCE = 200;

/** The same with pairs of which a phrase has changed since held against each other again. */
export async function heldAgain(library: Library, found: TwiceFound): Promise<TwiceFound> {
  const { links } = found;
  const since = await firstOpen(library.db);
  const ids = [...new Set(links.flatMap(({ a, b }) => [a, b]))];
  // Not a word on whether the number is the one of before: what has a larger one changes things while an older one is still open.
  if (ids.length === 0) return { ...found, since };
  const rows = await library.db
    .select({ id: phrases.id })
    .from(phrases)
    .where(and(gte(phrases.changed, Number(found.since)), among(phrases.id, ids)));
  const changed = new Set(rows.map(({ id }) => id));
  const isOld = ({ a, b }: Link) => changed.has(a) || changed.has(b);
  const still = await twiceAmong(
    library.db,
    links.filter(isOld).map(({ a, b }): [string, string] => [a, b]),
  );
  const likeness = new Map(still.map((link) => [`${link.a} ${link.b}`, link.likeness]));
  const held = links.flatMap((link): Link[] => {
    if (!isOld(link)) return [link];
    const now = likeness.get(`${link.a} ${link.b}`);
    return now ? [{ ...link, likeness: now }] : [];
  });
  return { ...found, links: held, since };
}

/** Pairs that are the same thing twice. */
export async function twiceAmong(db: Db, pairs: readonly (readonly [string, string])[]): Promise<Link[]> {
  const found: Link[] = [];
  for (let at = 0; at < pairs.length; at += PAIRS_AT_ONCE)
    found.push(...(await linksAmong(db, pairs.slice(at, at + PAIRS_AT_ONCE))));
  return found.filter(({ likeness }) => TWICE.has(likeness.verdict));
}
