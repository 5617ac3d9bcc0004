import type pg from 'pg';
import type { CatalogRow } from '../../core/catalog/catalog.ts';

/** Phrases that are read at once: some tens of milliseconds, in which PGlite answers nobody else. */
const AT_ONCE = 2000;

/** One text of JSON instead of so many rows: reading it takes a tenth of the time. */
const ROWS = `
  select coalesce(json_agg(r), '[]'::json)::text as rows from (
    select p.id, p.name, p.state, p.role, p.bpm, p.bars, p.program, p.numerals, p.rights, p.rating,
      case when p.key_tonic is not null then p.take_key end as key,
      p.meter_numerator || '/' || p.meter_denominator as meter,
      p.pickup > 0 as "hasPickup", p.part_name as part, p.sheaf_id as sheaf,
      extract(epoch from p.heard_at) * 1000 as "heardAt", extract(epoch from p.created_at) * 1000 as "createdAt",
      t.name as take, t.file_name as file, s.name as source, j.name as project, c.name as contributor,
      (select json_agg(g.name) from phrase_tags pt join tags g on g.id = pt.tag_id where pt.phrase_id = p.id) as tags,
      (select count(*) from basket_items b where b.phrase_id = p.id) as used,
      encode(m.features, 'base64') as features, encode(m.profile, 'base64') as profile,
      encode(m.fingerprint, 'base64') as fingerprint
    from (select * from phrases where %) p
    join takes t on t.id = p.take_id
    left join sources s on s.id = t.source_id
    left join projects j on j.id = p.project_id
    left join contributors c on c.id = p.contributor_id
    left join phrase_marks m on m.phrase_id = p.id
    order by p.id
  ) r`;

type Text = string | null;

type Told = Omit<CatalogRow, 'tags' | 'features' | 'profile' | 'fingerprint'> & {
  tags: string[] | null;
  features: Text;
  profile: Text;
  fingerprint: Text;
};

/** Phrases behind an id, in their order; fewer than `AT_ONCE` are the last. */
async function rowsBehind(client: pg.Client, id: string): Promise<CatalogRow[]> {
  const sql = ROWS.replace('%', 'id > $1 order by id limit $2');
  return read(await client.query<{ rows: string }>(sql, [id, AT_ONCE]));
}

/** All phrases, a piece after the other. */
export async function* allRows(client: pg.Client): AsyncGenerator<CatalogRow[]> {
  for (let last = '00000000-0000-0000-0000-000000000000'; ;) {
    const rows = await rowsBehind(client, last);
    if (rows.length > 0) yield rows;
    if (rows.length < AT_ONCE) return;
    last = rows.at(-1)!.id;
  }
}

/** Phrases that transactions from that one on have changed. */
export async function rowsChangedSince(client: pg.Client, transaction: string): Promise<CatalogRow[]> {
  const sql = ROWS.replace('%', 'changed >= $1');
  return read(await client.query<{ rows: string }>(sql, [transaction]));
}

/**
 * The first transaction that may still change something unseen: what has a smaller number has ended (PostgreSQL documentation,
 * "Transaction ID and Snapshot Information Functions").
 */
export async function firstOpen(client: pg.Client): Promise<string> {
  const { rows } = await client.query<{ first: string }>(
    'select pg_snapshot_xmin(pg_current_snapshot())::text as first',
  );
  return rows[0]!.first;
}

/** Tags, and which stands under which. */
export async function tagTree(client: pg.Client): Promise<{ name: string; under: string | null }[]> {
  const { rows } = await client.query<{ name: string; under: string | null }>(
    'select t.name, u.name as under from tags t join tags u on u.id = t.parent_id',
  );
  return rows;
}

function read({ rows }: { rows: { rows: string }[] }): CatalogRow[] {
  return (JSON.parse(rows[0]!.rows) as Told[]).map(({ tags, features, profile, fingerprint, ...row }) => ({
    ...row,
    tags: tags ?? [],
    features: bytes(features),
    profile: bytes(profile),
    fingerprint: bytes(fingerprint),
  }));
}

function bytes(text: Text): Uint8Array {
  return text ? new Uint8Array(Buffer.from(text, 'base64')) : new Uint8Array();
}
