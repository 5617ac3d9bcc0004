import { randomUUID } from 'node:crypto';
import { and, desc, eq, lt, sql, type SQL } from 'drizzle-orm';
import type { Db } from '../db/client.ts';
import { baskets, deeds, people, phrases, takes, weaves, type DeedKind } from '../db/schema.ts';

export interface NewDeed {
  /** Who; null where nobody was signed in. */
  personId: string | null;
  kind: DeedKind;
  subjectId?: string | null;
  /** In words that go on after a name: "renamed it". */
  did: string;
}

/** The same again within this time is told once, in minutes: fifty moves of an evening are one line. */
const ONCE_IN = 10;

/** Keeps who did what. */
export async function keepDeed(db: Db, { personId, kind, subjectId = null, did }: NewDeed): Promise<void> {
  if (kind !== 'person' && personId) {
    const again = await db
      .update(deeds)
      .set({ at: sql`now()` })
      .where(
        and(
          eq(deeds.personId, personId),
          eq(deeds.did, did),
          subjectId ? eq(deeds.subjectId, subjectId) : sql`${deeds.subjectId} is null`,
          sql`${deeds.at} > now() - make_interval(mins => ${ONCE_IN})`,
        ),
      )
      .returning({ id: deeds.id });
    if (again.length > 0) return;
  }
  await db.insert(deeds).values({ id: randomUUID(), personId, kind, subjectId, did });
}

/** How many deeds are told at once. */
const AT_ONCE = 100;

/** Who did what to one thing, the latest first. */
export function deedsAbout(db: Db, subjectId: string) {
  return listed(db, eq(deeds.subjectId, subjectId));
}

/** Who did what at all, the latest first; before a moment, where there is more than fits. */
export function allDeeds(db: Db, before?: Date) {
  return listed(db, before ? lt(deeds.at, before) : undefined);
}

function listed(db: Db, which: SQL | undefined) {
  return db
    .select({
      ...{ id: deeds.id, at: deeds.at, kind: deeds.kind, subjectId: deeds.subjectId, did: deeds.did },
      by: people.name,
      /** What the thing is called now; null where it has no name, or is no longer there. */
      name: sql<
        string | null
      >`coalesce(${takes.name}, ${phrases.name}, ${baskets.name}, ${weaves.title}, about_people.name)`,
    })
    .from(deeds)
    .leftJoin(people, eq(people.id, deeds.personId))
    .leftJoin(takes, eq(takes.id, deeds.subjectId))
    .leftJoin(phrases, eq(phrases.id, deeds.subjectId))
    .leftJoin(baskets, eq(baskets.id, deeds.subjectId))
    .leftJoin(weaves, eq(weaves.id, deeds.subjectId))
    .leftJoin(sql`people as about_people`, sql`about_people.id = ${deeds.subjectId}`)
    .where(which)
    .orderBy(desc(deeds.at), desc(deeds.id))
    .limit(AT_ONCE);
}

export type DeedTold = Awaited<ReturnType<typeof deedsAbout>>[number];
