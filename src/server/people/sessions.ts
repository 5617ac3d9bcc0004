import { randomUUID } from 'node:crypto';
import { and, desc, eq, gt, isNull, ne, sql } from 'drizzle-orm';
import type { Db } from '../db/client.ts';
import { people, sessions } from '../db/schema.ts';
import type { SignedIn } from './permissions.ts';
import { newToken, tokenHash } from './tokens.ts';

/** How long somebody stays signed in, in hours (OWASP ASVS 4.0.3, 3.3.2, level 2: 12). SESSION_HOURS says otherwise. */
export function sessionHours(): number {
  const hours = Number(process.env.SESSION_HOURS);
  return Number.isFinite(hours) && hours > 0 ? Math.min(hours, 24 * 90) : 12;
}

/** Times are the database's: a clock of one of several servers that is wrong shuts nobody out and lets nobody in. */
const NOW = sql`now()`;

/** When somebody was here last is written so often, in seconds. */
const SEEN_EVERY = 60;

/** Signs somebody in. Answers the token that their browser keeps. */
export async function beginSession(db: Db, personId: string, device: string): Promise<string> {
  const token = newToken();
  await db.insert(sessions).values({
    ...{ id: randomUUID(), tokenHash: tokenHash(token), personId, device: device.slice(0, 200) },
    expiresAt: sql`now() + make_interval(secs => ${sessionHours() * 3600})`,
  });
  // Those that are over are of no use.
  await db.delete(sessions).where(sql`${sessions.expiresAt} < now()`);
  return token;
}

/** Who comes with a token; null where it is none, is over, or its person may no longer come in. */
export async function personOf(db: Db, token: string): Promise<SignedIn | null> {
  const [row] = await db
    .select({
      ...{ id: people.id, name: people.name, role: people.role, sessionId: sessions.id },
      isStale: sql<boolean>`${sessions.seenAt} < now() - make_interval(secs => ${SEEN_EVERY})`,
    })
    .from(sessions)
    .innerJoin(people, eq(people.id, sessions.personId))
    .where(
      and(eq(sessions.tokenHash, tokenHash(token)), gt(sessions.expiresAt, NOW), isNull(people.closedAt)),
    );
  if (!row) return null;
  const { isStale, ...person } = row;
  if (isStale) await db.update(sessions).set({ seenAt: NOW }).where(eq(sessions.id, row.sessionId));
  return person;
}

/** Where somebody is signed in, the latest first. */
export function sessionsOf(db: Db, personId: string) {
  return db
    .select({
      id: sessions.id,
      device: sessions.device,
      createdAt: sessions.createdAt,
      seenAt: sessions.seenAt,
    })
    .from(sessions)
    .where(and(eq(sessions.personId, personId), gt(sessions.expiresAt, NOW)))
    .orderBy(desc(sessions.seenAt));
}

export async function endSession(db: Db, id: string): Promise<void> {
  await db.delete(sessions).where(eq(sessions.id, id));
}

/** Signs somebody out everywhere, but where `except` is. */
export async function endSessionsOf(db: Db, personId: string, except?: string): Promise<void> {
  const theirs = eq(sessions.personId, personId);
  await db.delete(sessions).where(except ? and(theirs, ne(sessions.id, except)) : theirs);
}
