import { group } from 'd3-array';
import { and, asc, eq, getTableColumns, inArray, sql, type SQL } from 'drizzle-orm';
import type { PgSelect } from 'drizzle-orm/pg-core';
import type { TakeFacts } from '../../../core/capture/facts.ts';
import { findPasses } from '../../../core/capture/passes.ts';
import type { Db } from '../../db/client.ts';
import { contributors, parts, phrases, sources, takes } from '../../db/schema.ts';
import { nameFromFile } from './takes.ts';

export const TAKE_SORTS = [
  ...(['newest', 'name', 'parts', 'notes', 'bars', 'length', 'tempo', 'phrases', 'source'] as const),
] as const;
export type TakeSort = (typeof TAKE_SORTS)[number];

export const TAKE_FILTERS = ['all', 'waiting', 'used', 'recorded', 'warned', 'aside'] as const;
export type TakeFilter = (typeof TAKE_FILTERS)[number];

export interface TakeQuery {
  search?: string;
  source?: string;
  filter?: TakeFilter;
  sort?: TakeSort;
  /** The other way round: the oldest, the last of the alphabet, the fewest notes first. */
  turned?: boolean;
  /** How many to leave out at the beginning, and how many to give. */
  offset?: number;
  limit?: number;
}

/** Takes on one page of the list. */
export const TAKES_AT_ONCE = 200;

const phrasesMade = sql<number>`(select count(*)::int from ${phrases} where ${phrases.takeId} = ${takes.id}
  and ${phrases.state} <> 'discarded')`;

const bpmFound = sql`(${takes.facts} #>> '{tempos,0,bpm}')::real`;

const partsFound = sql`(select count(*) from ${parts} where ${parts.takeId} = ${takes.id})`;

/** What each order goes by, and whether the most come first; what has none stands last, either way. */
const ORDERS: Record<TakeSort, { by: SQL; mostFirst?: true }> = {
  newest: { by: sql`${takes.createdAt}`, mostFirst: true },
  name: { by: sql`lower(${takes.name})` },
  parts: { by: partsFound, mostFirst: true },
  notes: { by: sql`(${takes.facts} ->> 'notes')::int`, mostFirst: true },
  bars: { by: sql`(${takes.facts} ->> 'bars')::int`, mostFirst: true },
  length: { by: sql`(${takes.facts} ->> 'seconds')::real`, mostFirst: true },
  tempo: { by: bpmFound },
  phrases: { by: phrasesMade, mostFirst: true },
  source: { by: sql`${sources.name}` },
};

function orderOf(sort: TakeSort, turned: boolean): SQL {
  const { by, mostFirst = false } = ORDERS[sort];
  const way = mostFirst === turned ? sql`asc` : sql`desc`;
  // Takes that came at one moment, or from one source, have an order of their own too.
  const next = sort === 'source' ? sql`lower(${takes.name}), ${takes.id}` : sql`${takes.id} ${way}`;
  return sql`${by} ${way} nulls last, ${next}`;
}

const FILTERS: Record<TakeFilter, SQL> = {
  all: sql`not ${takes.aside}`,
  waiting: sql`not ${takes.aside} and ${phrasesMade} = 0`,
  used: sql`not ${takes.aside} and ${phrasesMade} > 0`,
  recorded: sql`not ${takes.aside} and ${takes.capture} is not null`,
  warned: sql`not ${takes.aside} and jsonb_array_length(${takes.account} -> 'findings') > 0`,
  aside: sql`${takes.aside}`,
};

/** Takes that are asked for, each with its parts' roles and the number of phrases made of it; and how many there are. */
export async function listTakes(db: Db, query: TakeQuery = {}) {
  const { search, source, filter = 'all', sort = 'newest', turned = false } = query;
  const { offset = 0, limit = TAKES_AT_ONCE } = query;
  const words = (search ?? '').toLowerCase().split(/\s+/).filter(Boolean);
  const text = sql`lower(concat_ws(' ', ${takes.name}, ${takes.fileName}, ${sources.name}, ${contributors.name}))`;
  const where = and(
    FILTERS[filter],
    source === undefined ? undefined : eq(sources.name, source),
    ...words.map((word) => sql`position(${word} in ${text}) > 0`),
  );
  const joined = <Query extends PgSelect>(select: Query) =>
    select
      .leftJoin(sources, eq(sources.id, takes.sourceId))
      .leftJoin(contributors, eq(contributors.id, takes.contributorId))
      .where(where);
  const { moves: _moves, dropped: _dropped, ...narrow } = getTableColumns(takes);
  const columns = {
    ...narrow,
    facts: sql<TakeFacts>`${takes.facts} || '{"streams":[],"markers":[],"repairs":[]}'`,
    source: sources.name,
    contributor: contributors.name,
  };
  const rows = await joined(
    db
      .select({ ...columns, phrases: phrasesMade })
      .from(takes)
      .$dynamic(),
  )
    .orderBy(orderOf(sort, turned))
    .limit(limit)
    .offset(offset);
  const [{ total } = { total: 0 }] = await joined(
    db
      .select({ total: sql<number>`count(*)::int` })
      .from(takes)
      .$dynamic(),
  );
  const ids = rows.map(({ id }) => id);
  const partRows =
    ids.length === 0
      ? []
      : await db
          .select({ takeId: parts.takeId, name: parts.name, role: parts.role, notes: parts.notes })
          .from(parts)
          .where(inArray(parts.takeId, ids))
          .orderBy(asc(parts.position));
  const byTake = group(partRows, ({ takeId }) => takeId);
  return {
    total,
    takes: rows.map((row) => ({ ...row, parts: byTake.get(row.id) ?? [] })),
  };
}

export type TakeRow = Awaited<ReturnType<typeof listTakes>>['takes'][number];

/** Names of all sources of takes. */
export async function listSources(db: Db): Promise<string[]> {
  const rows = await db.select({ name: sources.name }).from(sources).orderBy(asc(sources.name));
  return rows.map(({ name }) => name);
}

/** What a list of files says of a take. */
export async function takeBriefs(db: Db, ids: readonly string[]) {
  if (ids.length === 0) return [];
  const rows = await db
    .select({
      id: takes.id,
      name: takes.name,
      facts: takes.facts,
      guesses: takes.guesses,
      account: takes.account,
    })
    .from(takes)
    .where(inArray(takes.id, [...ids]));
  return rows.map(({ facts, account, ...row }) => ({
    ...row,
    format: facts.format,
    tracks: facts.tracks,
    notes: facts.notes,
    seconds: facts.seconds,
    bpm: facts.tempos[0]?.bpm ?? null,
    streams: facts.streams.length,
    repairs: facts.repairs.map(({ message }) => message),
    warnings: (account?.findings ?? []).map(({ text }) => text),
  }));
}

export type TakeBrief = Awaited<ReturnType<typeof takeBriefs>>[number];

/** Takes among some that look like passes of one performance by their names and lengths. */
export async function passesAmong(
  db: Db,
  ids: readonly string[],
): Promise<{ name: string; takeIds: string[] }[]> {
  if (ids.length < 2) return [];
  const rows = await db
    .select({ id: takes.id, fileName: takes.fileName, facts: takes.facts })
    .from(takes)
    .where(and(inArray(takes.id, [...ids]), eq(takes.aside, false)))
    .orderBy(asc(takes.fileName));
  const candidates = rows.map(({ fileName, facts }) => ({
    name: nameFromFile(fileName),
    bars: facts.bars,
    bpm: facts.tempos[0]?.bpm ?? null,
  }));
  return findPasses(candidates).map(({ name, files }) => ({ name, takeIds: files.map((i) => rows[i]!.id) }));
}
