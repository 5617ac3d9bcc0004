import { and, asc, eq, inArray, ne, sql } from 'drizzle-orm';
import { randomUUID } from 'node:crypto';
import { outOf } from '../../../core/exchange/card.ts';
import { fileNamesFrom, type NameFacts } from '../../../core/exchange/handoff.ts';
import { OUT, type OutOptions, type PackLayout } from '../../../core/exchange/out-options.ts';
import { leavesAs } from '../../../core/exchange/own-out.ts';
import { keyLabel, type Key } from '../../../core/music/key.ts';
import { roundedBpm } from '../../../core/music/timeline.ts';
import { DEFAULT_PATTERN, unknownTokens } from '../../../core/phrase/naming.ts';
import { keyOfProject } from '../../../core/reuse/in-project.ts';
import type { Db } from '../../db/client.ts';
import {
  basketItems,
  baskets,
  contributors,
  phraseContents,
  phrases,
  projects,
  recipients,
  takes,
} from '../../db/schema.ts';
import { LibraryError, notFound } from '../errors.ts';
import { overKept } from '../kept-meanwhile.ts';
import { withContent } from '../phrases/phrase-rows.ts';
import { tagsOf } from '../phrases/tags.ts';
import { headingAt, itemsIn, rowsOf, tidied, writeRows, type BasketRow } from './basket-rows.ts';
import { getRecipient } from './recipients.ts';

/** Baskets, oldest first, each with the number of its phrases. */
export function listBaskets(db: Db) {
  return db
    .select({
      id: baskets.id,
      name: baskets.name,
      projectId: baskets.projectId,
      project: projects.name,
      recipient: recipients.name,
      mirror: baskets.mirror,
      phrases: sql<number>`(select count(*)::int from ${basketItems} where ${basketItems.basketId} = ${baskets.id})`,
    })
    .from(baskets)
    .leftJoin(projects, eq(projects.id, baskets.projectId))
    .leftJoin(recipients, eq(recipients.id, baskets.recipientId))
    .orderBy(asc(baskets.createdAt), asc(baskets.name));
}

export type BasketListItem = Awaited<ReturnType<typeof listBaskets>>[number];

/** A new basket: as things last left for its recipient, or for nobody; in its project where it is for one. */
export async function createBasket(
  db: Db,
  name: string,
  projectId: string | null,
  recipientId: string | null = null,
): Promise<{ id: string }> {
  const id = randomUUID();
  const recipient = recipientId ? await getRecipient(db, recipientId) : null;
  const way = recipient ? (recipient.out ?? outOf(recipient.card)) : OUT;
  await db.insert(baskets).values({
    ...{ id, name, projectId, recipientId },
    pattern: recipient?.card.pattern ?? DEFAULT_PATTERN,
    out: { ...way, key: projectId ? 'project' : 'captured' },
    layout: recipient?.card.layout ?? 'folders',
    previews: recipient?.card.previews ?? false,
  });
  return { id };
}

/** A basket with its phrases in order and the file names they will have: read from lists alone, no note is looked at. */
export async function getBasket(db: Db, id: string) {
  const { basket, project, recipient } = await basketRow(db, id);
  const rows = await db
    .select({
      id: phrases.id,
      name: phrases.name,
      role: phrases.role,
      bars: phrases.bars,
      state: phrases.state,
      bpm: phrases.bpm,
      keyTonic: phrases.keyTonic,
      keyMode: phrases.keyMode,
      takeKey: phrases.takeKey,
      meterNumerator: phrases.meterNumerator,
      meterDenominator: phrases.meterDenominator,
      pickup: phrases.pickup,
      noteCount: phrases.noteCount,
      program: phrases.program,
      sheafId: phrases.sheafId,
      rights: phrases.rights,
      takeName: takes.name,
      contributor: contributors.name,
      swatch: phraseContents.swatch,
      own: basketItems.own,
      position: basketItems.position,
      /** Another where its notes, name or tags have changed. */
      version: sql<string>`${phrases.changed}::text || ' ' || ${phrases.updatedAt}::text`,
    })
    .from(basketItems)
    .innerJoin(phrases, eq(phrases.id, basketItems.phraseId))
    .innerJoin(phraseContents, withContent)
    .innerJoin(takes, eq(takes.id, phrases.takeId))
    .leftJoin(contributors, eq(contributors.id, phrases.contributorId))
    .where(eq(basketItems.basketId, id))
    .orderBy(asc(basketItems.position));
  const tags = await tagsOf(
    db,
    rows.map((row) => row.id),
  );
  const { key } = basket.out;
  const leaving = rows.map(({ own, takeKey, ...row }) =>
    leavesAs({ key: keyOfProject(row), bpm: row.bpm }, own, { takeKey, key, project }),
  );
  const names = fileNamesFrom(
    basket.pattern,
    rows.map((row, i) => factsOf(row, leaving[i]!, project?.name ?? '')),
  );
  return {
    ...basket,
    project: project?.name ?? null,
    recipient: recipient?.name ?? null,
    unknownTokens: unknownTokens(basket.pattern),
    rows: rowsOf(basket.headings, rows),
    items: rows.map(({ keyTonic, keyMode: _, takeKey, swatch, contributor, position, ...row }, i) => ({
      ...row,
      heading: headingAt(basket.headings, position),
      key: keyTonic === null ? null : takeKey,
      /** As it leaves, where that is otherwise. */
      leaves: leaving[i]!,
      contributor: contributor ?? '',
      tags: tags.get(row.id) ?? [],
      swatch: Buffer.from(swatch).toString('base64'),
      file: `${names[i]}.mid`,
    })),
  };
}

export type BasketDetail = Awaited<ReturnType<typeof getBasket>>;

function factsOf(
  row: {
    name: string;
    role: string;
    bars: number;
    meterNumerator: number;
    meterDenominator: number;
    pickup: number;
    takeName: string;
  },
  { key, bpm }: { key: Key | null; bpm: number },
  project: string,
): NameFacts {
  return {
    ...{ name: row.name, role: row.role, project, source: row.takeName, bars: String(row.bars) },
    hasPickup: row.pickup > 0,
    key: key ? keyLabel(key) : 'nokey',
    tempo: String(roundedBpm(bpm)),
    meter: `${row.meterNumerator}-${row.meterDenominator}`,
  };
}

export interface BasketChange {
  name?: string;
  pattern?: string;
  projectId?: string | null;
  recipientId?: string | null;
  out?: OutOptions;
  layout?: PackLayout;
  previews?: boolean;
  previewSums?: boolean;
  previewBeds?: boolean;
  mirror?: string | null;
}

/**
 * Changes what is said of a basket; `was` says what these fields were when it was begun.
 * @throws LibraryError 404, 409 where another basket is mirrored to that folder, or somebody changed the same meanwhile
 */
export async function updateBasket(
  db: Db,
  id: string,
  { was, ...change }: BasketChange & { was?: BasketChange | undefined },
): Promise<BasketDetail> {
  if (change.mirror) await checkMirror(db, id, change.mirror);
  await db.transaction(async (tx) => {
    const now = await holdBasket(tx, id);
    const kept = Object.fromEntries(
      Object.keys(change).map((field) => [field, now[field as keyof BasketChange]]),
    );
    const next = overKept<BasketChange>(`"${now.name}"`, { base: was, mine: change }, kept);
    await tx.update(baskets).set(next).where(eq(baskets.id, id));
  });
  return getBasket(db, id);
}

async function checkMirror(db: Db, id: string, mirror: string): Promise<void> {
  const [other] = await db
    .select({ name: baskets.name })
    .from(baskets)
    .where(and(sql`lower(${baskets.mirror}) = lower(${mirror})`, ne(baskets.id, id)));
  if (other) throw new LibraryError(409, `The basket "${other.name}" is mirrored to that folder already.`);
}

/** Removes a basket. Its phrases stay in the library. */
export async function removeBasket(db: Db, id: string): Promise<void> {
  await db.delete(baskets).where(eq(baskets.id, id));
}

/**
 * Sets the contents and order of a basket: adding, removing, ordering, headings, what leaves otherwise, and undoing are all this. `was`
 * says what was in it when it was begun: what others put in or took out meanwhile stays so.
 * @throws LibraryError 409 where both changed the same otherwise, 422 where a phrase does not exist.
 */
export async function setBasketRows(
  db: Db,
  id: string,
  rows: readonly BasketRow[],
  was?: readonly BasketRow[],
): Promise<BasketDetail> {
  await db.transaction(async (tx) => {
    const { name, headings } = await holdBasket(tx, id);
    const edit = { base: was && { rows: tidied(was) }, mine: { rows: tidied(rows) } };
    const kept = { rows: rowsOf(headings, await itemsIn(tx, id)) };
    const next = overKept(`"${name}"`, edit, kept, { rows: (row: BasketRow) => row.id }).rows;
    await checkPhrases(
      tx,
      next.flatMap((row) => (row.heading === undefined ? row.id : [])),
    );
    await writeRows(tx, id, next);
  });
  return getBasket(db, id);
}

/** Puts phrases at the end of a basket; those already in it stay where they are. */
export async function addToBasket(db: Db, id: string, phraseIds: string[]): Promise<{ added: number }> {
  return db.transaction(async (tx) => {
    const { headings } = await holdBasket(tx, id);
    await checkPhrases(tx, phraseIds);
    const there = await tx.select().from(basketItems).where(eq(basketItems.basketId, id));
    const known = new Set(there.map((item) => item.phraseId));
    const added = [...new Set(phraseIds)].filter((phraseId) => !known.has(phraseId));
    const first = Math.max(-1, ...[...there, ...headings].map(({ position }) => position)) + 1;
    if (added.length > 0) {
      await tx
        .insert(basketItems)
        .values(added.map((phraseId, i) => ({ basketId: id, phraseId, position: first + i })));
    }
    return { added: added.length };
  });
}

/** Holds a basket's row until the transaction ends: two windows may change one basket. */
async function holdBasket(tx: Db, id: string) {
  const [basket] = await tx.select().from(baskets).where(eq(baskets.id, id)).for('update');
  if (!basket) throw notFound('basket');
  return basket;
}

async function checkPhrases(db: Db, ids: readonly string[]): Promise<void> {
  if (ids.length === 0) return;
  const found = await db
    .select({ id: phrases.id })
    .from(phrases)
    .where(and(inArray(phrases.id, [...ids]), eq(phrases.state, 'kept')));
  if (found.length < new Set(ids).size) {
    throw new LibraryError(422, 'A phrase has to be kept in the library before it can go into a basket.');
  }
}

/** A basket's own row, its project and its recipient. @throws LibraryError 404 */
export async function basketRow(db: Db, id: string) {
  const [found] = await db
    .select({ basket: baskets, project: projects, recipient: recipients })
    .from(baskets)
    .leftJoin(projects, eq(projects.id, baskets.projectId))
    .leftJoin(recipients, eq(recipients.id, baskets.recipientId))
    .where(eq(baskets.id, id));
  if (!found) throw notFound('basket');
  return found;
}
