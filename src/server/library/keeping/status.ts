import { countDistinct, eq, sql } from 'drizzle-orm';
import type { Db } from '../../db/client.ts';
import { baskets, phraseParents, phrases, tallies } from '../../db/schema.ts';

/** What waits at each stage of the line of work. */
export async function stageCounts(db: Db) {
  const tallied = await db
    .select({ name: tallies.name, n: sql<number>`sum(${tallies.n})::int` })
    .from(tallies)
    .groupBy(tallies.name);
  const n = new Map(tallied.map((row) => [row.name, row.n]));
  const [made] = await db
    .select({ phrases: countDistinct(phraseParents.phraseId) })
    .from(phraseParents)
    .innerJoin(phrases, eq(phrases.id, phraseParents.phraseId))
    .where(eq(phrases.state, 'kept'));
  return {
    capture: n.get('takes') ?? 0,
    split: n.get('waiting') ?? 0,
    normalize: n.get('drafts') ?? 0,
    library: n.get('kept') ?? 0,
    reuse: made!.phrases,
    handoff: await db.$count(baskets),
  };
}

export type StageCounts = Awaited<ReturnType<typeof stageCounts>>;
