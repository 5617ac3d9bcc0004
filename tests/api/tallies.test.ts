import assert from 'node:assert/strict';
import { rmSync } from 'node:fs';
import { after, test } from 'node:test';
import { sql } from 'drizzle-orm';
import { seededRandom } from '../../src/core/random.ts';
import { endThreads } from '../../src/server/compute/pool.ts';
import { openLibrary } from '../../src/server/db/client.ts';
import { seedDemo } from '../../src/server/demo/seed.ts';
import { stageCounts } from '../../src/server/library/keeping/status.ts';
import { databaseFor, demoLibrary } from '../support/server.ts';

/** What is counted as it is written, held against counting it. */

const folder = await demoLibrary();
const { DATABASE_URL: databaseUrl } = await databaseFor(folder);
const library = await openLibrary({ dataDirectory: folder, databaseUrl });
const { db } = library;
// A PostgreSQL server has no copy of the demo at hand.
if (databaseUrl) await seedDemo(library);
after(async () => {
  await library.close();
  await endThreads();
  rmSync(folder, { recursive: true, force: true });
});

async function counted(): Promise<unknown> {
  const { rows } = (await db.execute(sql`select
    (select count(*)::int from takes where not aside) as capture,
    (select count(*)::int from takes t where not aside and not exists
      (select 1 from phrases p where p.take_id = t.id and p.state <> 'discarded')) as split,
    (select count(*)::int from phrases where state = 'draft') as normalize,
    (select count(*)::int from phrases where state = 'kept') as library`)) as unknown as { rows: unknown[] };
  return rows[0];
}

async function agrees(what: string): Promise<void> {
  const { reuse: _, handoff: _handoff, ...told } = await stageCounts(db);
  assert.deepEqual(told, await counted(), what);
}

/** Each changes some rows, by a number 0 up to 1. */
const CHANGES = {
  'set aside or brought back': (x: number) =>
    sql`update phrases set state = (array['draft', 'kept', 'discarded'])[1 + floor(random() * 3)::int] where id in (select id from phrases order by md5(id::text || ${x}::text) limit 7)`,
  'a rating': (x: number) =>
    sql`update phrases set rating = 3 where id in (select id from phrases order by md5(id::text || ${x}::text) limit 5)`,
  'takes set aside': (x: number) =>
    sql`update takes set aside = not aside where id in (select id from takes order by md5(id::text || ${x}::text) limit 4)`,
  'cut from another take': (x: number) =>
    sql`update phrases set take_id = (select id from takes order by md5(id::text || ${x}::text) limit 1)
      where id in (select id from phrases order by md5(${x}::text || id::text) limit 2)`,
  'all of a take away': (x: number) =>
    sql`update phrases set state = 'discarded' where take_id = (select take_id from phrases order by md5(id::text || ${x}::text) limit 1)`,
};

test('what is told is what counting finds, after whatever was done; what was rolled back counts for nothing', async () => {
  await agrees('the demo');
  const random = seededRandom(27);
  for (let round = 0; round < 40; round++) {
    const names = Object.keys(CHANGES) as (keyof typeof CHANGES)[];
    const name = names[Math.floor(random() * names.length)]!;
    const change = CHANGES[name](random());
    const isKept = random() < 0.7;
    await db
      .transaction(async (tx) => {
        await tx.execute(change);
        if (!isKept) throw new Error('not this time');
      })
      .catch((error: Error) => assert.match(error.message, /not this time/));
    await agrees(`${name}, ${isKept ? 'kept' : 'rolled back'}`);
  }
});

test('a phrase that comes in is written once: what its tags and marks touch within one transaction needs no second version', async () => {
  const [before, now] = await db.transaction(async (tx) => {
    const place = async () => {
      const { rows: found } = (await tx.execute(
        sql`select ctid::text as place from phrases where name = 'fresh'`,
      )) as unknown as { rows: { place: string }[] };
      return found[0]!.place;
    };
    await tx.execute(sql`create temp table copied on commit drop as select * from phrases limit 1`);
    await tx.execute(
      sql`update copied set id = '00000000-0000-4000-8000-0000000000aa', name = 'fresh', sheaf_id = null`,
    );
    await tx.execute(sql`insert into phrases select * from copied`);
    const first = await place();
    await tx.execute(
      sql`insert into phrase_tags select '00000000-0000-4000-8000-0000000000aa', id from tags limit 2`,
    );
    return [first, await place()];
  });
  assert.equal(now, before);
  await agrees('one more');
});
