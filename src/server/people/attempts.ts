import { randomUUID } from 'node:crypto';
import { and, eq, gt, inArray, sql } from 'drizzle-orm';
import type { Db } from '../db/client.ts';
import { attempts } from '../db/schema.ts';

/** What is counted, within how many minutes, and how often it may fail. */
interface Limit {
  key: string;
  minutes: number;
  most: number;
}

/**
 * Failed tries are counted for a name from an address, for a name from anywhere (OWASP ASVS 4.0.3, 2.2.1: no more than 100 an hour),
 * and for an address. They stand in the database, so that several processes count together.
 */
function limitsOf(name: string, address: string): Limit[] {
  return [
    { key: `name ${name} from ${address}`, minutes: 15, most: 5 },
    { key: `name ${name}`, minutes: 60, most: 50 },
    { key: `from ${address}`, minutes: 15, most: 30 },
  ];
}

/** How long somebody has to wait before trying again, in seconds; 0 where they need not. */
export async function waitBefore(db: Db, name: string, address: string): Promise<number> {
  const waits = await Promise.all(limitsOf(name.toLowerCase(), address).map((limit) => waitOf(db, limit)));
  return Math.max(...waits);
}

async function waitOf(db: Db, { key, minutes, most }: Limit): Promise<number> {
  const since = sql`now() - make_interval(mins => ${minutes})`;
  const [row] = await db
    .select({
      failed: sql<number>`count(*)::int`,
      left: sql<number>`coalesce(extract(epoch from min(${attempts.at}) - ${since}), 0)::int`,
    })
    .from(attempts)
    .where(and(eq(attempts.key, key), gt(attempts.at, since)));
  return row!.failed >= most ? Math.max(1, row!.left) : 0;
}

export async function countFailure(db: Db, name: string, address: string): Promise<void> {
  const keys = limitsOf(name.toLowerCase(), address).map(({ key }) => key);
  await db.insert(attempts).values(keys.map((key) => ({ id: randomUUID(), key })));
  await db.delete(attempts).where(sql`${attempts.at} < now() - interval '1 hour'`);
}

/** Somebody has signed in: what failed before under the name from there is forgotten. */
export async function forgetFailures(db: Db, name: string, address: string): Promise<void> {
  const [own] = limitsOf(name.toLowerCase(), address);
  await db.delete(attempts).where(inArray(attempts.key, [own!.key]));
}
