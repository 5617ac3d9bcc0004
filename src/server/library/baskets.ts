import { roundedBpm } from '../../core/music/timeline.ts';
import { randomUUID } from 'node:crypto';
import { and, asc, eq, inArray, sql } from 'drizzle-orm';
import { DEFAULT_PATTERN, unknownTokens } from '../../core/phrase/naming.ts';
import {
  phraseFileNames,
  type HandOff,
  type PackLayout,
  type PhraseOut,
} from '../../core/exchange/handoff.ts';
import { PURPOSES } from '../../core/music/form.ts';
import type { Key } from '../../core/music/key.ts';
import { bpmOfClip, type Clip } from '../../core/phrase/clip.ts';
import { fitted } from '../../core/normalize/fitting.ts';
import { asChosen, type KeyChoice } from '../../core/reuse/in-project.ts';
import type { Db } from '../db/client.ts';
import {
  basketItems,
  baskets,
  contributors,
  phraseContents,
  phraseParents,
  phrases,
  projects,
  sheaves,
  takes,
} from '../db/schema.ts';
import { LibraryError, notFound } from './errors.ts';
import { wholeColumns, withContent, type WholePhrase } from './phrase-rows.ts';
import { clipOfRow } from './phrases.ts';
import { tagsOf } from './tags.ts';
import type { Project } from './projects.ts';

/** Baskets, oldest first, each with the number of its phrases. */
export function listBaskets(db: Db) {
  return db
    .select({
      id: baskets.id,
      name: baskets.name,
      projectId: baskets.projectId,
      project: projects.name,
      phrases: sql<number>`(select count(*)::int from ${basketItems} where ${basketItems.basketId} = ${baskets.id})`,
    })
    .from(baskets)
    .leftJoin(projects, eq(projects.id, baskets.projectId))
    .orderBy(asc(baskets.createdAt), asc(baskets.name));
}

export type BasketListItem = Awaited<ReturnType<typeof listBaskets>>[number];

export async function createBasket(db: Db, name: string, projectId: string | null): Promise<{ id: string }> {
  const id = randomUUID();
  const leaves = projectId ? 'project' : 'captured';
  await db.insert(baskets).values({ id, name, projectId, pattern: DEFAULT_PATTERN, leaves });
  return { id };
}

/** A basket with its phrases in order and the file names they will have. */
export async function getBasket(db: Db, id: string) {
  const { basket, project, handOff, items } = await loadBasket(db, id, new Date().toISOString());
  const names = phraseFileNames(handOff);
  return {
    ...basket,
    project: project?.name ?? null,
    unknownTokens: unknownTokens(basket.pattern),
    items: items.map(({ row, takeName, contributor, tags }, i) => ({
      id: row.id,
      name: row.name,
      role: row.role,
      bars: row.bars,
      state: row.state,
      bpm: row.bpm,
      key: row.keyTonic === null ? null : row.takeKey,
      /** As it leaves, where that is otherwise. */
      leaves: leavesAs(handOff.phrases[i]!.clip),
      meterNumerator: row.meterNumerator,
      meterDenominator: row.meterDenominator,
      noteCount: row.noteCount,
      program: row.program,
      sheafId: row.sheafId,
      takeName,
      rights: row.rights,
      contributor: contributor ?? '',
      tags,
      swatch: Buffer.from(row.swatch).toString('base64'),
      file: `${names[i]}.mid`,
    })),
  };
}

export type BasketDetail = Awaited<ReturnType<typeof getBasket>>;

export interface BasketChange {
  name?: string;
  pattern?: string;
  projectId?: string | null;
  leaves?: KeyChoice;
  fitted?: boolean;
  layout?: PackLayout;
  plain?: boolean;
  previews?: boolean;
}

export async function updateBasket(db: Db, id: string, change: BasketChange): Promise<BasketDetail> {
  await db.update(baskets).set(change).where(eq(baskets.id, id));
  return getBasket(db, id);
}

/** Removes a basket. Its phrases stay in the library. */
export async function removeBasket(db: Db, id: string): Promise<void> {
  await db.delete(baskets).where(eq(baskets.id, id));
}

/**
 * Sets the contents and order of a basket: adding, removing, ordering and undoing are all this. @throws
 * LibraryError 422 where a phrase does not exist.
 */
export async function setBasketItems(db: Db, id: string, phraseIds: string[]): Promise<BasketDetail> {
  const wanted = [...new Set(phraseIds)];
  await db.transaction(async (tx) => {
    await holdBasket(tx, id);
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
async function holdBasket(tx: Db, id: string): Promise<void> {
  const [basket] = await tx.select({ id: baskets.id }).from(baskets).where(eq(baskets.id, id)).for('update');
  if (!basket) throw notFound('basket');
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

/** A basket as it would leave. `madeAt` is an ISO time. @throws LibraryError 404 */
export async function loadBasket(db: Db, id: string, madeAt: string) {
  const [basket] = await db.select().from(baskets).where(eq(baskets.id, id));
  if (!basket) throw notFound('basket');
  const [project] = basket.projectId
    ? await db.select().from(projects).where(eq(projects.id, basket.projectId))
    : [];
  const rows = await db
    .select({
      row: wholeColumns,
      takeName: takes.name,
      sha256: takes.sha256,
      sheafName: sheaves.name,
      contributor: contributors.name,
    })
    .from(basketItems)
    .innerJoin(phrases, eq(phrases.id, basketItems.phraseId))
    .innerJoin(phraseContents, withContent)
    .innerJoin(takes, eq(takes.id, phrases.takeId))
    .leftJoin(sheaves, eq(sheaves.id, phrases.sheafId))
    .leftJoin(contributors, eq(contributors.id, phrases.contributorId))
    .where(eq(basketItems.basketId, id))
    .orderBy(asc(basketItems.position));
  const tags = await tagsOf(
    db,
    rows.map(({ row }) => row.id),
  );
  const parents = await parentsOf(
    db,
    rows.map(({ row }) => row.id),
  );
  const items = rows.map((item) => ({
    ...item,
    tags: tags.get(item.row.id) ?? [],
    parents: parents.get(item.row.id) ?? [],
  }));
  const handOff: HandOff = {
    title: basket.name,
    pattern: basket.pattern,
    madeAt,
    layout: basket.layout,
    plain: basket.plain,
    phrases: items.map((item) => phraseOut(item, basket, project)),
  };
  return { basket, project, items, handOff };
}

function phraseOut(
  item: {
    row: WholePhrase;
    takeName: string;
    sha256: string;
    sheafName: string | null;
    contributor: string | null;
    tags: string[];
    parents: { id: string; done: string }[];
  },
  basket: Pick<typeof baskets.$inferSelect, 'leaves' | 'fitted'>,
  project: Project | undefined,
): PhraseOut {
  const { row } = item;
  const clip = asChosen(clipOfRow(row), row.takeKey, basket.leaves, project);
  return {
    id: row.id,
    name: row.name,
    clip: basket.fitted ? fitted(clip, row.fitting) : clip,
    fitting: basket.fitted ? row.fitting : {},
    bars: row.bars,
    tags: item.tags,
    project: project?.name ?? '',
    sheaf: row.sheafId ? { id: row.sheafId, name: item.sheafName ?? row.name } : null,
    source: { take: item.takeName, sha256: item.sha256, part: row.partName, startBar: row.startBar },
    recipe: row.recipe,
    rights: row.rights,
    contributor: item.contributor ?? '',
    purpose: PURPOSES.find((purpose) => item.tags.includes(purpose)) ?? null,
    changes: row.changes,
    capturedKey: row.capturedKey ?? row.takeKey,
    keptKey: clipOfRow(row).key,
    parents: item.parents,
  };
}

/** What phrases were made of, by their ids. */
async function parentsOf(db: Db, ids: readonly string[]) {
  const found = new Map<string, { id: string; done: string }[]>();
  if (ids.length === 0) return found;
  const rows = await db
    .select({ child: phraseParents.phraseId, id: phraseParents.parentPhraseId, done: phraseParents.done })
    .from(phraseParents)
    .where(inArray(phraseParents.phraseId, [...ids]));
  for (const { child, id, done } of rows)
    if (id) found.set(child, [...(found.get(child) ?? []), { id, done }]);
  return found;
}

/** Key and tempo of a phrase as it leaves. */
function leavesAs({ key, timeline, pickup }: Clip): { key: Key | null; bpm: number } {
  return { key, bpm: roundedBpm(bpmOfClip({ timeline, pickup })) };
}
