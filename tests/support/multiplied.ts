import { sql } from 'drizzle-orm';
import type { Library } from '../../src/server/db/client.ts';

/** Rows that one statement makes: PGlite answers nobody meanwhile. */
const AT_ONCE = 5000;

/** Phrases of a take, by which the number of takes goes. */
const OF_A_TAKE = 5;

/**
 * Fills a library that holds the demo with so many more kept phrases, for whoever wants to try how a large one works: the demo's takes and
 * phrases again and again, under other names, in other keys and at other tempos.
 */
export async function multiplyDemo(
  { db }: Library,
  count: number,
  tell: (done: number, of: number) => void = () => {},
): Promise<void> {
  const takeCount = Math.max(1, Math.round(count / OF_A_TAKE));
  await db.execute(sql`create table old_takes as select *, row_number() over (order by id) as n from takes`);
  await db.execute(
    sql`create table old_phrases as select p.*, row_number() over (order by p.id) as n from phrases p where state = 'kept'`,
  );
  await db.execute(sql`create table new_takes (id uuid, n int, k int)`);
  const takes = await counted(db, 'old_takes');
  for (let from = 0; from < takeCount; from += AT_ONCE) {
    await db.execute(sql`with made as (
        insert into takes (id, name, found_name, file_name, sha256, pattern, source_id, contributor_id, facts, keys, keys_method,
          asked, guesses, rights, account, proposals, created_at)
        select gen_random_uuid(), t.name || ' ' || k, t.found_name, t.file_name, t.sha256, 1000 + k, t.source_id, t.contributor_id,
          t.facts, t.keys, t.keys_method, t.asked, t.guesses, t.rights, t.account, t.proposals, now() - k * interval '1 minute'
        from generate_series(${from}::int, ${Math.min(from + AT_ONCE, takeCount) - 1}::int) k join old_takes t on t.n = 1 + k % ${takes}::int
        returning id, pattern)
      insert into new_takes select id, 1 + (pattern - 1000) % ${takes}::int, pattern - 1000 from made`);
    await db.execute(sql`insert into take_bases select n.id, b.base from new_takes n join old_takes t on t.n = n.n
      join take_bases b on b.take_id = t.id where n.k >= ${from}::int`);
  }
  await db.execute(sql`create index on new_takes (k)`);
  const phrases = await counted(db, 'old_phrases');
  await db.execute(sql`create table made (id uuid, old uuid)`);
  for (let from = 0; from < count; from += AT_ONCE) {
    await db.execute(sql`truncate made`);
    await db.execute(sql`with rows as (
        select gen_random_uuid() as new_id, p.*, g.k, n.id as new_take
        from generate_series(${from}::int, ${Math.min(from + AT_ONCE, count) - 1}::int) g(k)
        join old_phrases p on p.n = 1 + g.k % ${phrases}::int join new_takes n on n.k = g.k % ${takeCount}::int),
      put as (
        insert into phrases (id, name, state, role, take_id, part_name, take_key, number, project_id, contributor_id, rights,
          note_count, length, pickup, start_bar, bars, key_tonic, key_mode, bpm, meter_numerator, meter_denominator, channel, program,
          numerals, created_at)
        select new_id, name || ' ' || k, 'kept', role, new_take, part_name,
          case when take_key is not null then jsonb_build_object('tonic', (k * 7) % 12, 'mode', take_key ->> 'mode') end,
          number, project_id, contributor_id, rights, note_count, length, pickup, start_bar, bars, key_tonic, key_mode,
          60 + (k * 37) % 1100 / 10.0, meter_numerator, meter_denominator, channel, program, numerals, now() - k * interval '1 second'
        from rows)
      insert into made select new_id, id from rows`);
    await db.execute(sql`insert into phrase_contents select made.id, origins, streams, pitch_map, locked, corrections, recipe, applied_to,
      fitting, part_program, notes, controls, swatch, timeline, changes
      from made join phrase_contents c on c.phrase_id = made.old`);
    await db.execute(sql`insert into phrase_marks select made.id, method, features, profile, fingerprint
      from made join phrase_marks m on m.phrase_id = made.old`);
    await db.execute(
      sql`insert into phrase_tags select made.id, tag_id from made join phrase_tags t on t.phrase_id = made.old`,
    );
    tell(Math.min(from + AT_ONCE, count), count);
  }
  await db.execute(sql`drop table old_takes, old_phrases, new_takes, made`);
  await db.execute(sql`analyze`);
}

async function counted(db: Library['db'], table: string): Promise<number> {
  const answer = (await db.execute(
    sql`select count(*)::int as count from ${sql.identifier(table)}`,
  )) as unknown as {
    rows: { count: number }[];
  };
  return answer.rows[0]!.count;
}
