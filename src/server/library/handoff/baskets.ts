import { rollup } from 'd3-array';
import { roundedBpm } from '../../../core/music/timeline.ts';
import { randomUUID } from 'node:crypto';
import { and, asc, eq, inArray, ne, sql } from 'drizzle-orm';
import { DEFAULT_PATTERN, unknownTokens } from '../../../core/phrase/naming.ts';
import { outOf } from '../../../core/exchange/card.ts';
import {
  fileNamesFrom,
  type HandOff,
  type NameFacts,
  type PhraseOut,
} from '../../../core/exchange/handoff.ts';
import { OUT, type OutOptions, type PackLayout } from '../../../core/exchange/out-options.ts';
import { PURPOSES } from '../../../core/music/form.ts';
import { keyLabel, type Key } from '../../../core/music/key.ts';
import { asChosen, keyOfProject, leavesIn, type KeyChoice } from '../../../core/reuse/in-project.ts';
import type { Db } from '../../db/client.ts';
import {
  basketItems,
  baskets,
  contributors,
  phraseContents,
  phraseParents,
  phrases,
  projects,
  recipients,
  sheaves,
  takes,
} from '../../db/schema.ts';
import { LibraryError, notFound } from '../errors.ts';
import { overKept } from '../kept-meanwhile.ts';
import { libraryId } from '../house.ts';
import { hashOfPhrase, wholeColumns, withContent, type WholePhrase } from '../phrases/phrase-rows.ts';
import { clipOfRow } from '../phrases/phrases.ts';
import { tagsOf } from '../phrases/tags.ts';
import type { Project } from '../projects.ts';
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
  const leaving = rows.map((row) => leavesIn({ ...row, key: keyOfProject(row) }, basket.out.key, project));
  const names = fileNamesFrom(
    basket.pattern,
    rows.map((row, i) => factsOf(row, leaving[i]!, project?.name ?? '')),
  );
  return {
    ...basket,
    project: project?.name ?? null,
    recipient: recipient?.name ?? null,
    unknownTokens: unknownTokens(basket.pattern),
    items: rows.map(({ keyTonic, keyMode: _, takeKey, swatch, contributor, ...row }, i) => ({
      ...row,
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
 * Sets the contents and order of a basket: adding, removing, ordering and undoing are all this. `was` says what was in it when it was
 * begun: what others put in or took out meanwhile stays so.
 * @throws LibraryError 409 where both changed the order otherwise, 422 where a phrase does not exist.
 */
export async function setBasketItems(
  db: Db,
  id: string,
  phraseIds: string[],
  was?: string[],
): Promise<BasketDetail> {
  await db.transaction(async (tx) => {
    const { name } = await holdBasket(tx, id);
    const edit = { base: was && { ids: was }, mine: { ids: [...new Set(phraseIds)] } };
    const kept = { ids: await idsIn(tx, id) };
    const { ids: wanted } = overKept(`"${name}"`, edit, kept, { ids: (phraseId: string) => phraseId });
    await checkPhrases(tx, wanted);
    await tx.delete(basketItems).where(eq(basketItems.basketId, id));
    if (wanted.length > 0) {
      await tx
        .insert(basketItems)
        .values(wanted.map((phraseId, position) => ({ basketId: id, phraseId, position })));
    }
  });
  return getBasket(db, id);
}

/** Puts phrases at the end of a basket; those already in it stay where they are. */
export async function addToBasket(db: Db, id: string, phraseIds: string[]): Promise<{ added: number }> {
  return db.transaction(async (tx) => {
    await holdBasket(tx, id);
    await checkPhrases(tx, phraseIds);
    const there = await tx.select().from(basketItems).where(eq(basketItems.basketId, id));
    const known = new Set(there.map((item) => item.phraseId));
    const added = [...new Set(phraseIds)].filter((phraseId) => !known.has(phraseId));
    const first = Math.max(-1, ...there.map((item) => item.position)) + 1;
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

/** A basket, or some of its phrases, as it would leave. `madeAt` is an ISO time. @throws LibraryError 404 */
export async function loadBasket(db: Db, id: string, madeAt: string, only?: readonly string[]) {
  const { basket, project, recipient } = await basketRow(db, id);
  const ids = only ?? (await idsIn(db, id));
  const found = await phrasesOut(db, ids, basket.out.key, project);
  const handOff: HandOff = {
    title: basket.name,
    pattern: basket.pattern,
    madeAt,
    layout: basket.layout,
    out: basket.out,
    card: recipient?.card ?? null,
    recipient: recipient?.name ?? null,
    library: await libraryId(db),
    phrases: found.map(({ phrase }) => phrase),
  };
  return { basket, project, recipient, rows: found.map(({ row }) => row), handOff };
}

/** The phrases of a basket, in order. */
export async function idsIn(db: Db, basketId: string): Promise<string[]> {
  const items = await db
    .select({ id: basketItems.phraseId })
    .from(basketItems)
    .where(eq(basketItems.basketId, basketId))
    .orderBy(asc(basketItems.position));
  return items.map((item) => item.id);
}

/** Phrases as they would leave, in the order of the ids; those that are not there are left out. */
export async function phrasesOut(
  db: Db,
  ids: readonly string[],
  key: KeyChoice,
  project: Project | null,
): Promise<{ row: WholePhrase; phrase: PhraseOut }[]> {
  if (ids.length === 0) return [];
  const rows = await db
    .select({
      row: wholeColumns,
      takeName: takes.name,
      sha256: takes.sha256,
      sheafName: sheaves.name,
      contributor: contributors.name,
    })
    .from(phrases)
    .innerJoin(phraseContents, withContent)
    .innerJoin(takes, eq(takes.id, phrases.takeId))
    .leftJoin(sheaves, eq(sheaves.id, phrases.sheafId))
    .leftJoin(contributors, eq(contributors.id, phrases.contributorId))
    .where(inArray(phrases.id, [...ids]));
  const [tags, parents] = [await tagsOf(db, ids), await parentsOf(db, ids)];
  const byId = new Map(rows.map((item) => [item.row.id, item]));
  return ids.flatMap((id) => {
    const item = byId.get(id);
    if (!item) return [];
    const { row } = item;
    const kept = clipOfRow(row);
    const phrase: PhraseOut = {
      id: row.id,
      ...{ isKept: true, saysId: true },
      hash: hashOfPhrase(row),
      name: row.name,
      clip: asChosen(kept, row.takeKey, key, project),
      fitting: row.fitting,
      bars: row.bars,
      tags: tags.get(id) ?? [],
      project: project?.name ?? '',
      sheaf: row.sheafId ? { id: row.sheafId, name: item.sheafName ?? row.name } : null,
      source: { take: item.takeName, sha256: item.sha256, part: row.partName, startBar: row.startBar },
      recipe: row.recipe,
      rights: row.rights,
      contributor: item.contributor ?? '',
      purpose: PURPOSES.find((purpose) => tags.get(id)?.includes(purpose)) ?? null,
      changes: row.changes,
      capturedKey: row.capturedKey ?? row.takeKey,
      keptKey: kept.key,
      parents: parents.get(id) ?? [],
    };
    return [{ row, phrase }];
  });
}

/** What phrases were made of, by their ids. */
async function parentsOf(db: Db, ids: readonly string[]) {
  if (ids.length === 0) return new Map<string, { id: string; done: string }[]>();
  const rows = await db
    .select({ child: phraseParents.phraseId, id: phraseParents.parentPhraseId, done: phraseParents.done })
    .from(phraseParents)
    .where(inArray(phraseParents.phraseId, [...ids]));
  return rollup(
    rows,
    (own) => own.flatMap(({ id, done }) => (id ? [{ id, done }] : [])),
    ({ child }) => child,
  );
}
