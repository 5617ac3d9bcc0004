import { FIRST_OPEN } from '../db/first-open.ts';
import type pg from 'pg';
import type { CatalogMarks, CatalogRow } from '../../core/catalog/catalog.ts';

/** Pages of a table that are read at once: some tens of milliseconds, in which PGlite answers nobody else. */
const PAGES = 120;

/**
 * What a phrase tells, but for what stands in other tables: a row an array, since names would be most of the text. The order is
 * that of `toldRow`.
 */
const TOLD = `p.id, p.name, p.state, p.role, p.bpm, p.bars, p.program, p.numerals, p.rights, p.rating,
  case when p.key_tonic is not null then p.take_key end, p.meter_numerator || '/' || p.meter_denominator, p.pickup > 0, p.part_name,
  p.sheaf_id, extract(epoch from p.heard_at) * 1000, extract(epoch from p.created_at) * 1000, p.take_id, p.project_id,
  p.contributor_id`;

type Told = [
  id: string,
  name: string,
  state: CatalogRow['state'],
  role: CatalogRow['role'],
  bpm: number,
  bars: number,
  program: number,
  numerals: string,
  rights: string,
  rating: number | null,
  key: CatalogRow['key'],
  meter: string,
  hasPickup: boolean,
  part: string,
  sheaf: string | null,
  heardAt: number | null,
  createdAt: number,
  takeId: string,
  projectId: string | null,
  contributorId: string | null,
];

/** What phrases take from other tables. */
interface Around {
  takes: Map<string, Pick<CatalogRow, 'take' | 'file' | 'source'>>;
  projects: Map<string, string>;
  contributors: Map<string, string>;
  /** By phrase. */
  tags: Map<string, string[]>;
  used: Map<string, number>;
}

function toldRow(told: Told, { takes, projects, contributors, tags, used }: Around): CatalogRow {
  const [id, name, state, role, bpm, bars, program, numerals, rights, rating, ...rest] = told;
  const [key, meter, hasPickup, part, sheaf, heardAt, createdAt, takeId, projectId, contributorId] = rest;
  return {
    ...{ id, name, state, role, bpm, bars, program, numerals, rights, rating, key, meter, hasPickup },
    ...{ part, sheaf, heardAt, createdAt },
    ...(takes.get(takeId) ?? { take: '', file: '', source: null }),
    project: (projectId && projects.get(projectId)) || null,
    contributor: (contributorId && contributors.get(contributorId)) || null,
    tags: tags.get(id) ?? [],
    used: used.get(id) ?? 0,
  };
}

/** All phrases, a piece after the other, without their marks. */
export async function* allRows(client: pg.Client): AsyncGenerator<CatalogRow[]> {
  const around = await readAround(client);
  for await (const rows of pieces<Told>(
    client,
    'phrases',
    `select json_build_array(${TOLD}) as r from phrases p where %`,
  ))
    yield rows.map((told) => toldRow(told, around));
}

/** The marks of all phrases, a piece after the other. */
export async function* allMarks(client: pg.Client): AsyncGenerator<CatalogMarks[]> {
  for await (const rows of pieces<Packed>(
    client,
    'phrase_marks',
    `select ${PACKED} as r from phrase_marks m where %`,
  ))
    yield rows.map(unpacked);
}

/** Phrases that are read at once where not all are. */
const AT_ONCE = 2000;

/** Phrases that transactions from that one on have changed, with their marks, a piece after the other. */
export async function* changedSince(
  client: pg.Client,
  transaction: string,
): AsyncGenerator<{ rows: CatalogRow[]; marks: CatalogMarks[] }> {
  let [last, lastId] = [String(BigInt(transaction) - 1n), LAST_ID];
  for (;;) {
    const told = await list<{ row: Told; changed: string; takeId: string }>(
      client,
      `select json_build_object('row', json_build_array(${TOLD}), 'changed', p.changed::text, 'takeId', p.take_id) as r from
        (select * from phrases where (changed, id) > ($1, $2) order by changed, id limit ${AT_ONCE}) p`,
      [last, lastId],
    );
    if (told.length === 0) return;
    const ids = told.map(({ row: [id] }) => id);
    const takeIds = [...new Set(told.map(({ takeId }) => takeId))];
    const around = await readAround(client, ids, takeIds);
    const marks = await list<Packed>(
      client,
      `select ${PACKED} as r from phrase_marks m where m.phrase_id = any($1::uuid[])`,
      [ids],
    );
    yield {
      rows: told.map(({ row }) => toldRow(row, around)),
      marks: marks.map(unpacked),
    };
    if (told.length < AT_ONCE) return;
    const end = told.at(-1)!;
    [last, lastId] = [end.changed, end.row[0]];
  }
}

/** Behind every id. */
const LAST_ID = 'ffffffff-ffff-ffff-ffff-ffffffffffff';

/** The largest number of a transaction that has changed a phrase. */
export async function lastChange(client: pg.Client): Promise<string> {
  const { rows } = await client.query<{ last: string }>(
    'select coalesce(max(changed), 0)::text as last from phrases',
  );
  return rows[0]!.last;
}

/** What a catalog asks before each answer, in one question: where there is nothing new, that is all of it. */
export interface Standing {
  /** The first transaction that may still change something unseen. */
  open: string;
  /** Whether a transaction from the one asked about on has changed phrases. */
  hasNew: boolean;
  /** Tags that stand under another. */
  tags: { name: string; under: string }[];
}

export async function standing(client: pg.Client, since: string): Promise<Standing> {
  const { rows } = await client.query<Standing>(
    `select ${FIRST_OPEN} as open, exists (select from phrases where changed >= $1) as "hasNew", (
      select coalesce(json_agg(json_build_object('name', t.name, 'under', u.name)), '[]')
      from tags t join tags u on u.id = t.parent_id) as tags`,
    [since],
  );
  return rows[0]!;
}

type Packed = [id: string, features: string, profile: string, fingerprint: string];

const PACKED = `json_build_array(m.phrase_id, encode(m.features, 'base64'), encode(m.profile, 'base64'),
  encode(m.fingerprint, 'base64'))`;

function unpacked([id, features, profile, fingerprint]: Packed): CatalogMarks {
  return { id, features: bytes(features), profile: bytes(profile), fingerprint: bytes(fingerprint) };
}

/** What some phrases take from other tables, or (where none are named) all. */
async function readAround(client: pg.Client, ids?: string[], takeIds?: string[]): Promise<Around> {
  const around: Around = {
    takes: new Map(),
    projects: await names(client, 'projects'),
    contributors: await names(client, 'contributors'),
    tags: new Map(),
    used: new Map(),
  };
  const sources = await names(client, 'sources');
  const tagNames = await names(client, 'tags');
  const take = `select json_build_array(t.id, t.name, t.file_name, t.source_id) as r from takes t where %`;
  for await (const rows of some<[string, string, string, string | null]>(
    client,
    'takes',
    take,
    't.id',
    takeIds,
  ))
    for (const [id, name, file, sourceId] of rows)
      around.takes.set(id, { take: name, file, source: (sourceId && sources.get(sourceId)) || null });
  const tag = `select json_build_array(g.phrase_id, g.tag_id) as r from phrase_tags g where %`;
  for await (const rows of some<[string, string]>(client, 'phrase_tags', tag, 'g.phrase_id', ids))
    for (const [id, tagId] of rows) {
      const own = around.tags.get(id);
      if (own) own.push(tagNames.get(tagId)!);
      else around.tags.set(id, [tagNames.get(tagId)!]);
    }
  const item = `select json_build_array(b.phrase_id) as r from basket_items b where %`;
  for await (const rows of some<[string]>(client, 'basket_items', item, 'b.phrase_id', ids))
    for (const [id] of rows) around.used.set(id, (around.used.get(id) ?? 0) + 1);
  return around;
}

async function names(client: pg.Client, table: string): Promise<Map<string, string>> {
  const { rows } = await client.query<{ id: string; name: string }>(`select id, name from ${table}`);
  return new Map(rows.map(({ id, name }) => [id, name]));
}

/** Rows of a table that name one of some ids, or all of them. */
async function* some<Row>(
  client: pg.Client,
  table: string,
  sql: string,
  column: string,
  ids: string[] | undefined,
): AsyncGenerator<Row[]> {
  if (ids) yield await list<Row>(client, sql.replace('%', `${column} = any($1::uuid[])`), [ids]);
  else yield* pieces<Row>(client, table, sql);
}

/** A whole table, so many of its pages at once, in the order in which they lie on the disk. `%` is where the pages are said. */
async function* pieces<Row>(client: pg.Client, table: string, sql: string): AsyncGenerator<Row[]> {
  const { rows } = await client.query<{ pages: string }>(
    `select pg_relation_size('${table}') / current_setting('block_size')::int as pages`,
  );
  const pages = Number(rows[0]!.pages);
  for (let from = 0; from < pages; from += PAGES) {
    const range = `ctid >= '(${from},0)'::tid and ctid < '(${from + PAGES},0)'::tid`;
    yield await list<Row>(client, sql.replace('%', range));
  }
}

/** Rows `r` of a query, as one text: reading that takes a tenth of the time of so many rows. */
async function list<Row>(client: pg.Client, sql: string, values: unknown[] = []): Promise<Row[]> {
  const { rows } = await client.query<{ rows: string }>(
    `select coalesce(json_agg(q.r), '[]'::json)::text as rows from (${sql}) q`,
    values,
  );
  return JSON.parse(rows[0]!.rows) as Row[];
}

function bytes(text: string): Uint8Array {
  return text ? new Uint8Array(Buffer.from(text, 'base64')) : new Uint8Array();
}
