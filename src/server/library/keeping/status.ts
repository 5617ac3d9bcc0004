import { sql } from 'drizzle-orm';
import type { Db } from '../../db/client.ts';
import { baskets, phraseParents, phrases, takes } from '../../db/schema.ts';

/** What waits at each stage of the line of work. */
export async function stageCounts(db: Db) {
  const count = (what: ReturnType<typeof sql>) => sql<number>`(select count(*)::int from ${what})`;
  const { rows } = (await db.execute(sql`select
    ${count(sql`${takes} where not ${takes.aside}`)} as capture,
    ${count(sql`${takes} where not ${takes.aside} and not exists (select 1 from ${phrases} where ${phrases.takeId} = ${takes.id}
      and ${phrases.state} <> 'discarded')`)} as split,
    ${count(sql`${phrases} where ${phrases.state} = 'draft'`)} as normalize,
    ${count(sql`${phrases} where ${phrases.state} = 'kept'`)} as library,
    ${count(sql`${phrases} where ${phrases.state} = 'kept' and exists (select 1 from ${phraseParents}
      where ${phraseParents.phraseId} = ${phrases.id})`)} as reuse,
    ${count(sql`${baskets}`)} as handoff`)) as unknown as { rows: Record<string, number>[] };
  const row = rows[0]!;
  return {
    capture: row.capture!,
    split: row.split!,
    normalize: row.normalize!,
    library: row.library!,
    reuse: row.reuse!,
    handoff: row.handoff!,
  };
}

export type StageCounts = Awaited<ReturnType<typeof stageCounts>>;
