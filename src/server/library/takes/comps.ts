import { randomUUID } from 'node:crypto';
import { desc, eq, inArray, sql } from 'drizzle-orm';
import { mergedComp, problemOfComp, type Comp } from '../../../core/comp/document.ts';
import type { CompTally } from '../../../core/comp/comp.ts';
import { roundedBpm } from '../../../core/music/timeline.ts';
import { strictestRights } from '../../../core/phrase/rights.ts';
import { compute } from '../../compute/pool.ts';
import type { Db, Library } from '../../db/client.ts';
import { comps, takes } from '../../db/schema.ts';
import { LibraryError, notFound } from '../errors.ts';
import { MADE_HERE, tellRoles } from '../phrases/made.ts';
import { storedTake, takeIn, type TakeRow } from './takes.ts';

const DETAIL = {
  id: comps.id,
  comp: comps.comp,
  takeId: comps.takeId,
  revision: comps.revision,
  aside: comps.aside,
};

/** Comps that are used, the last changed first. */
export function listComps(db: Db) {
  return db
    .select({
      id: comps.id,
      title: comps.title,
      takes: sql<number>`jsonb_array_length(${comps.comp} -> 'takes')`,
      takeId: comps.takeId,
      updatedAt: comps.updatedAt,
    })
    .from(comps)
    .where(eq(comps.aside, false))
    .orderBy(desc(comps.updatedAt), desc(comps.id));
}

export type CompItem = Awaited<ReturnType<typeof listComps>>[number];

/** Begins a comp; nothing is taken yet. @throws LibraryError 404, 422 */
export async function createComp(
  db: Db,
  { title, chart, takes }: Pick<Comp, 'title' | 'chart' | 'takes'>,
): Promise<CompDetail> {
  const comp: Comp = { title, chart, bpm: null, takes, taken: {}, stars: {} };
  check(comp);
  const [row] = await db.insert(comps).values({ id: randomUUID(), title, comp }).returning({ id: comps.id });
  return getComp(db, row!.id);
}

/** A comp with its takes as they stand: what the page needs to open them. @throws LibraryError 404 */
export async function getComp(db: Db, id: string) {
  const [row] = await db.select(DETAIL).from(comps).where(eq(comps.id, id));
  if (!row) throw notFound('comp');
  return { ...row, takes: await passesOf(db, row.comp.takes) };
}

export type CompDetail = Awaited<ReturnType<typeof getComp>>;

/** What the page opens takes by, in their order: moves, and the bars that were marked while they played. @throws LibraryError 404 */
async function passesOf(db: Db, ids: readonly string[]) {
  const { id, name, pattern, moves, movesDone, revision, capture } = takes;
  const rows = await db
    .select({ id, name, pattern, moves, movesDone, revision, capture })
    .from(takes)
    .where(inArray(id, [...ids]));
  const byId = new Map(rows.map((row) => [row.id, row]));
  return ids.map((wanted) => {
    const row = byId.get(wanted);
    if (!row) throw notFound('take');
    const { capture: recorded, movesDone: done, ...pass } = row;
    return { ...pass, moves: row.moves.slice(0, done), stars: recorded?.stars ?? [] };
  });
}

/**
 * Saves a comp that was made of `base`. Other bars that somebody else decided meanwhile stay.
 * @throws LibraryError 404; 409 where both changed the same; 422
 */
export async function saveComp(
  db: Db,
  id: string,
  { base, comp }: { base: Comp; comp: Comp },
): Promise<{ comp: Comp; revision: number }> {
  check(comp);
  return db.transaction(async (tx) => {
    const [now] = await tx.select(DETAIL).from(comps).where(eq(comps.id, id)).for('update');
    if (!now) throw notFound('comp');
    const merged = mergedComp(base, comp, now.comp);
    if (merged.both !== null)
      throw new LibraryError(
        409,
        'Somebody else has decided the same bars otherwise meanwhile. Nothing was saved here: look at both.',
      );
    const { value } = merged;
    const revision = now.revision + 1;
    await tx
      .update(comps)
      .set({ comp: value, title: value.title, revision, updatedAt: new Date() })
      .where(eq(comps.id, id));
    return { comp: value, revision };
  });
}

/** Sets a comp aside, or brings it back. @throws LibraryError 404 */
export async function setCompAside(db: Db, id: string, aside: boolean): Promise<void> {
  const found = await db.update(comps).set({ aside }).where(eq(comps.id, id)).returning({ id: comps.id });
  if (found.length === 0) throw notFound('comp');
}

/**
 * Keeps what a comp comes to as a take of its own: as free as the strictest of those it was taken from, by all who contributed. Its markers
 * say whence each bar is. Nothing of the passes is changed.
 * @throws LibraryError 404; 422 where nothing is taken
 */
export async function keepComp(library: Library, id: string): Promise<{ takeId: string; tally: CompTally }> {
  const { db } = library;
  const [kept] = await db.select(DETAIL).from(comps).where(eq(comps.id, id));
  if (!kept) throw notFound('comp');
  const { comp } = kept;
  const rows: TakeRow[] = [];
  const given = [];
  for (const takeId of comp.takes) {
    const { row, stored } = await storedTake(db, takeId);
    rows.push(row);
    given.push({ name: row.name, stored });
  }
  const { bytes, bpm, bars, roles, tally, used } = await compute('compOut', given, comp, comp.title);
  const from = rows.filter((row) => used.includes(row.id));
  const names = [...new Set(from.flatMap(({ contributor }) => contributor ?? []))];
  const { takeIds } = await takeIn(library, {
    bytes,
    fileName: `${comp.title}.mid`,
    name: comp.title,
    source: MADE_HERE,
    rights: strictestRights(from.map(({ rights }) => rights)),
    ...(names.length > 0 ? { contributor: names.join(' and ') } : {}),
    asked: { chart: comp.chart, bars, bpm: roundedBpm(bpm) },
  });
  const takeId = takeIds[0]!;
  await tellRoles(db, takeId, roles);
  await db.update(comps).set({ takeId }).where(eq(comps.id, id));
  return { takeId, tally };
}

function check(comp: Comp): void {
  const problem = problemOfComp(comp);
  if (problem) throw new LibraryError(422, problem);
}
