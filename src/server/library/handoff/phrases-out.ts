import { rollup } from 'd3-array';
import { eq } from 'drizzle-orm';
import type { HandOff, PhraseOut } from '../../../core/exchange/handoff.ts';
import { leavingOwn, type OwnOut } from '../../../core/exchange/own-out.ts';
import { PURPOSES } from '../../../core/music/form.ts';
import type { KeyChoice } from '../../../core/reuse/in-project.ts';
import { among } from '../../db/among.ts';
import type { Db } from '../../db/client.ts';
import { contributors, phraseContents, phraseParents, phrases, sheaves, takes } from '../../db/schema.ts';
import { libraryId } from '../house.ts';
import { hashOfPhrase, wholeColumns, withContent, type WholePhrase } from '../phrases/phrase-rows.ts';
import { clipOfRow } from '../phrases/phrases.ts';
import { tagsOf } from '../phrases/tags.ts';
import type { Project } from '../projects.ts';
import { headingAt, itemsIn } from './basket-rows.ts';
import { basketRow } from './baskets.ts';

/** A basket, or some of its phrases, as it would leave. `madeAt` is an ISO time. @throws LibraryError 404 */
export async function loadBasket(db: Db, id: string, madeAt: string, only?: readonly string[]) {
  const found = await basketRow(db, id);
  const { basket, project, recipient } = found;
  const leaving = await basketPhrases(db, found, basket.out.key, only);
  const handOff: HandOff = {
    title: basket.name,
    pattern: basket.pattern,
    madeAt,
    layout: basket.layout,
    out: basket.out,
    card: recipient?.card ?? null,
    recipient: recipient?.name ?? null,
    library: await libraryId(db),
    phrases: leaving.map(({ phrase }) => phrase),
  };
  return { basket, project, recipient, rows: leaving.map(({ row }) => row), handOff };
}

/** The phrases of a basket, or some of them, as they leave: each under its heading, and in its own way where it has one. */
export async function basketPhrases(
  db: Db,
  { basket, project }: Awaited<ReturnType<typeof basketRow>>,
  key: KeyChoice,
  only?: readonly string[],
) {
  const items = await itemsIn(db, basket.id);
  const byId = new Map(items.map((item) => [item.id, item]));
  const own = new Map(items.map((item) => [item.id, item.own]));
  const found = await phrasesOut(db, only ?? [...byId.keys()], { key, project, own });
  return found.map(({ row, phrase }) => {
    const item = byId.get(row.id);
    const heading = item ? headingAt(basket.headings, item.position) : '';
    return { row, phrase: heading ? { ...phrase, heading } : phrase };
  });
}

/** Phrases as they would leave, in the order of the ids; those that are not there are left out. */
export async function phrasesOut(
  db: Db,
  ids: readonly string[],
  {
    key,
    project,
    own: ways,
  }: { key: KeyChoice; project: Project | null; own?: ReadonlyMap<string, OwnOut | null> },
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
    .where(among(phrases.id, ids));
  const [tags, parents] = [await tagsOf(db, ids), await parentsOf(db, ids)];
  const byId = new Map(rows.map((item) => [item.row.id, item]));
  return ids.flatMap((id) => {
    const item = byId.get(id);
    if (!item) return [];
    const { row } = item;
    const kept = clipOfRow(row);
    const own = ways?.get(id) ?? null;
    const phrase: PhraseOut = {
      id: row.id,
      ...{ isKept: true, saysId: true },
      hash: hashOfPhrase(row),
      name: row.name,
      clip: leavingOwn(kept, own, { takeKey: row.takeKey, key, project }),
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
      ...(own ? { own } : {}),
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
    .where(among(phraseParents.phraseId, ids));
  return rollup(
    rows,
    (own) => own.flatMap(({ id, done }) => (id ? [{ id, done }] : [])),
    ({ child }) => child,
  );
}
