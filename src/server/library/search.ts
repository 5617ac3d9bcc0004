import { and, asc, eq, gt, inArray, or, sql, type SQL } from 'drizzle-orm';
import type { Mode } from '../../core/music/key.ts';
import type { Role } from '../../core/split/roles.ts';
import type { Db } from '../db/client.ts';
import { contributors, phrases, phraseTags, projects, sources, tags, takes } from '../db/schema.ts';
import { tagsOf } from './phrases.ts';

/** What a list of phrases is narrowed to. Values of one facet widen, facets narrow. */
export interface PhraseFilter {
  text?: string;
  roles?: Role[];
  /** "tonic mode", such as "9 minor". */
  keys?: string[];
  /** "4/4". */
  meters?: string[];
  bars?: number[];
  /** Lower ends of tempo bands of ten BPM. */
  tempos?: number[];
  tags?: string[];
  /** Numerals that the changes begin with, end with, or have one after the other ("V7 I"). */
  starts?: string;
  ends?: string;
  changes?: string;
  /** What was set aside, instead of what is kept. */
  aside?: boolean;
}

export type FacetName = 'roles' | 'keys' | 'meters' | 'bars' | 'tempos' | 'tags';

export interface FacetValue {
  value: string;
  count: number;
}

const PAGE = 200;
const TEMPO_BAND = 10;

/** The key a phrase is heard in: its take's. The key it is kept in says only whether it is major or minor. */
const keyValue = sql<string>`case when ${phrases.keyTonic} is not null
  then (${phrases.takeKey} ->> 'tonic') || ' ' || (${phrases.takeKey} ->> 'mode') end`;
const meterValue = sql<string>`${phrases.meterNumerator} || '/' || ${phrases.meterDenominator}`;
const tempoValue = sql<number>`(floor(${phrases.bpm} / ${sql.raw(String(TEMPO_BAND))}) * ${sql.raw(String(TEMPO_BAND))})::int`;
const nameOrder = sql`lower(${phrases.name})`;

/** Conditions of a filter; one facet can be left out, to count what it could be widened to. */
function conditions(filter: PhraseFilter, without?: FacetName): SQL {
  const list: (SQL | undefined)[] = [eq(phrases.state, filter.aside ? 'discarded' : 'kept')];
  const facet = (name: FacetName, values: readonly unknown[] | undefined, make: () => SQL) => {
    if (name !== without && values && values.length > 0) list.push(make());
  };
  const plain = (text: string) => text.replace(/[\\%_]/g, '\\$&');
  for (const word of (filter.text ?? '').toLowerCase().split(/\s+/).filter(Boolean)) {
    list.push(sql`${phrases.searchText} like ${`%${plain(word)}%`}`);
  }
  const numerals = (pattern: string) => list.push(sql`${phrases.numerals} like ${pattern}`);
  if (filter.starts) numerals(` ${plain(filter.starts)} %`);
  if (filter.ends) numerals(`% ${plain(filter.ends)} `);
  if (filter.changes) numerals(`% ${plain(filter.changes)} %`);
  facet('roles', filter.roles, () => inArray(phrases.role, filter.roles!));
  facet('keys', filter.keys, () => inArray(keyValue, filter.keys!));
  facet('meters', filter.meters, () => inArray(meterValue, filter.meters!));
  facet('bars', filter.bars, () => inArray(phrases.bars, filter.bars!));
  facet('tempos', filter.tempos, () => inArray(tempoValue, filter.tempos!));
  facet(
    'tags',
    filter.tags,
    () => sql`exists (select 1 from ${phraseTags} join ${tags} on ${tags.id} = ${phraseTags.tagId}
      where ${phraseTags.phraseId} = ${phrases.id} and ${inArray(tags.name, filter.tags!)})`,
  );
  return and(...list)!;
}

/** A page of kept phrases by name, from behind the cursor on, and the cursor of the next page. */
export async function searchPhrases(db: Db, filter: PhraseFilter, cursor?: { name: string; id: string }) {
  const behind =
    cursor && or(gt(nameOrder, cursor.name), and(eq(nameOrder, cursor.name), gt(phrases.id, cursor.id)));
  const rows = await db
    .select({
      id: phrases.id,
      name: phrases.name,
      role: phrases.role,
      keyTonic: phrases.keyTonic,
      keyMode: phrases.keyMode,
      takeKey: phrases.takeKey,
      bpm: phrases.bpm,
      bars: phrases.bars,
      meterNumerator: phrases.meterNumerator,
      meterDenominator: phrases.meterDenominator,
      noteCount: phrases.noteCount,
      program: phrases.program,
      partName: phrases.partName,
      startBar: phrases.startBar,
      number: phrases.number,
      state: phrases.state,
      sheafId: phrases.sheafId,
      takeId: phrases.takeId,
      takeName: takes.name,
      sourceName: sources.name,
      project: projects.name,
      rights: phrases.rights,
      contributor: contributors.name,
      swatch: sql<string>`encode(${phrases.swatch}, 'base64')`,
      order: sql<string>`${nameOrder}`,
    })
    .from(phrases)
    .innerJoin(takes, eq(takes.id, phrases.takeId))
    .leftJoin(sources, eq(sources.id, takes.sourceId))
    .leftJoin(projects, eq(projects.id, phrases.projectId))
    .leftJoin(contributors, eq(contributors.id, phrases.contributorId))
    .where(and(conditions(filter), behind))
    .orderBy(asc(nameOrder), asc(phrases.id))
    .limit(PAGE + 1);
  const page = rows.slice(0, PAGE);
  const last = page.at(-1);
  const byPhrase = await tagsOf(
    db,
    page.map((row) => row.id),
  );
  return {
    phrases: page.map(({ order: _order, keyTonic, keyMode, takeKey, ...row }) => ({
      ...row,
      keptIn: keyTonic !== null && keyMode ? { tonic: keyTonic, mode: keyMode as Mode } : null,
      key: keyTonic !== null ? takeKey : null,
      tags: byPhrase.get(row.id) ?? [],
    })),
    next: rows.length > PAGE && last ? { name: last.order, id: last.id } : null,
  };
}

export type PhraseListItem = Awaited<ReturnType<typeof searchPhrases>>['phrases'][number];

/** Ids of all kept phrases a filter finds, by name. */
export async function foundIds(db: Db, filter: PhraseFilter): Promise<string[]> {
  const rows = await db
    .select({ id: phrases.id })
    .from(phrases)
    .innerJoin(takes, eq(takes.id, phrases.takeId))
    .where(conditions(filter))
    .orderBy(asc(nameOrder), asc(phrases.id));
  return rows.map(({ id }) => id);
}

/** Number of phrases in all, and by each facet: what the list would hold if only that value were chosen. */
export async function countFacets(db: Db, filter: PhraseFilter) {
  const columns: Record<Exclude<FacetName, 'tags'>, SQL<string | number>> = {
    roles: sql<string>`${phrases.role}`,
    keys: keyValue,
    meters: meterValue,
    bars: sql<number>`${phrases.bars}`,
    tempos: tempoValue,
  };
  const facets = {} as Record<FacetName, FacetValue[]>;
  for (const [name, column] of Object.entries(columns) as [keyof typeof columns, SQL][]) {
    const rows = await db
      .select({ value: sql<string>`${column}::text`, count: sql<number>`count(*)::int` })
      .from(phrases)
      .where(and(conditions(filter, name), sql`${column} is not null`))
      .groupBy(sql`1`)
      .orderBy(sql`1`);
    facets[name] = rows;
  }
  facets.tags = await db
    .select({ value: tags.name, count: sql<number>`count(*)::int` })
    .from(phraseTags)
    .innerJoin(tags, eq(tags.id, phraseTags.tagId))
    .innerJoin(phrases, eq(phrases.id, phraseTags.phraseId))
    .where(conditions(filter, 'tags'))
    .groupBy(tags.name)
    .orderBy(asc(tags.name));
  const [total] = await db
    .select({ count: sql<number>`count(*)::int` })
    .from(phrases)
    .where(conditions(filter));
  const [aside] = await db
    .select({ count: sql<number>`count(*)::int` })
    .from(phrases)
    .where(eq(phrases.state, 'discarded'));
  return { total: total!.count, facets, aside: aside!.count };
}

export type FacetCounts = Awaited<ReturnType<typeof countFacets>>;
