import { randomUUID } from 'node:crypto';
import { and, desc, eq, gt, inArray, isNull, sql } from 'drizzle-orm';
import type { PersonRole } from '../../core/people/roles.ts';
import type { Db } from '../db/client.ts';
import { baskets, invitations, people } from '../db/schema.ts';
import { LibraryError, notFound } from '../library/errors.ts';
import { createPerson } from './accounts.ts';
import { keepDeed } from './deeds.ts';
import { checkPassword, hashPassword } from './password.ts';
import { beginSession, endSessionsOf } from './sessions.ts';
import { ownAddress } from './setting.ts';
import { newToken, tokenHash } from './tokens.ts';

/** How long a link lets somebody in, in days. */
const DAYS = 7;

/** Whom the link is for that a server's start shows while nobody is there. */
export const FIRST_OWNER = 'the first owner';

const USED = 'This link was used already: it lets one person in, once. Ask for another one.';

export interface NewInvitation {
  /** Whom it is for. */
  note: string;
  role: PersonRole;
  baskets?: readonly string[] | undefined;
  /** Whose password it sets anew; left out for somebody new. */
  personId?: string | undefined;
}

/** Makes a link that lets somebody in once. It is told here and never again. @throws LibraryError 404, 422 */
export async function invite(
  db: Db,
  { note, role, baskets: wanted = [], personId }: NewInvitation,
  invitedBy: string | null,
): Promise<{ id: string; link: string }> {
  if (role === 'guest' && !personId && wanted.length === 0)
    throw new LibraryError(422, 'A guest sees chosen baskets: choose at least one.');
  const known = wanted.length
    ? await db
        .select({ id: baskets.id })
        .from(baskets)
        .where(inArray(baskets.id, [...wanted]))
    : [];
  if (known.length < new Set(wanted).size) throw notFound('basket');
  const token = newToken();
  const id = randomUUID();
  await db.insert(invitations).values({
    ...{
      id,
      tokenHash: tokenHash(token),
      note,
      role,
      baskets: [...wanted],
      personId: personId ?? null,
      invitedBy,
    },
    expiresAt: sql`now() + make_interval(days => ${DAYS})`,
  });
  // What stands behind # is not sent to servers, and so in no log of one.
  return { id, link: `${ownAddress()}/join#${token}` };
}

/** Links that still let somebody in, the latest first. */
export function openInvitations(db: Db) {
  return db
    .select({
      ...{ id: invitations.id, note: invitations.note, role: invitations.role },
      ...{ createdAt: invitations.createdAt, expiresAt: invitations.expiresAt, invitedBy: people.name },
    })
    .from(invitations)
    .leftJoin(people, eq(people.id, invitations.invitedBy))
    .where(and(isNull(invitations.usedAt), gt(invitations.expiresAt, sql`now()`)))
    .orderBy(desc(invitations.createdAt));
}

export type InvitationRow = Awaited<ReturnType<typeof openInvitations>>[number];

/** Takes a link back. */
export async function withdraw(db: Db, id: string): Promise<void> {
  const gone = await db
    .delete(invitations)
    .where(and(eq(invitations.id, id), isNull(invitations.usedAt)))
    .returning({ id: invitations.id });
  if (gone.length === 0) throw notFound('invitation');
}

/** What a link is for. @throws LibraryError 404 where it is none, 409 where it was used or is too old */
export async function invitationOf(db: Db, token: string) {
  const [row] = await db
    .select({
      ...{ id: invitations.id, role: invitations.role, baskets: invitations.baskets, note: invitations.note },
      ...{ usedAt: invitations.usedAt, personId: invitations.personId, name: people.name },
      isOver: sql<boolean>`${invitations.expiresAt} < now()`,
    })
    .from(invitations)
    .leftJoin(people, eq(people.id, invitations.personId))
    .where(eq(invitations.tokenHash, tokenHash(token)));
  if (!row)
    throw new LibraryError(404, 'This link is none of this library, or was taken back. Ask for another one.');
  if (row.usedAt) throw new LibraryError(409, USED);
  if (row.isOver) throw new LibraryError(409, `This link is older than ${DAYS} days. Ask for another one.`);
  return row;
}

/**
 * Comes in by a link: somebody new under a name, or somebody who is here with a new password. Answers a session's token.
 * @throws LibraryError as `invitationOf`, and 409 and 422 for names and passwords
 */
export async function join(
  db: Db,
  token: string,
  { name, password, device }: { name: string; password: string; device: string },
): Promise<string> {
  const found = await invitationOf(db, token);
  await checkPassword(password, found.name ?? name);
  // Worked out before the transaction: it takes half a second, and others would wait.
  const hash = await hashPassword(password);
  return db.transaction(async (tx) => {
    // Of two who use it at one moment, one finds it used.
    const used = await tx
      .update(invitations)
      .set({ usedAt: sql`now()` })
      .where(and(eq(invitations.id, found.id), isNull(invitations.usedAt)))
      .returning({ id: invitations.id });
    if (used.length === 0) throw new LibraryError(409, USED);
    const personId =
      found.personId ??
      (await createPerson(tx, {
        name,
        hash,
        role: found.role,
        baskets: await stillThere(tx, found.baskets),
      }));
    if (found.personId) {
      await tx.update(people).set({ password: hash }).where(eq(people.id, personId));
      await endSessionsOf(tx, personId);
    }
    if (!found.personId && found.role === 'owner') await closeFirstLinks(tx);
    const did = found.personId ? 'chose a new password by a link' : `came in as ${found.role}`;
    await keepDeed(tx, { personId, kind: 'person', subjectId: personId, did });
    return beginSession(tx, personId, device);
  });
}

/** Once there is an owner, links that a server's start has shown let nobody in any more. */
async function closeFirstLinks(tx: Db): Promise<void> {
  await tx
    .delete(invitations)
    .where(and(eq(invitations.note, FIRST_OWNER), isNull(invitations.invitedBy), isNull(invitations.usedAt)));
}

async function stillThere(tx: Db, ids: readonly string[]): Promise<string[]> {
  if (ids.length === 0) return [];
  const rows = await tx
    .select({ id: baskets.id })
    .from(baskets)
    .where(inArray(baskets.id, [...ids]));
  return rows.map(({ id }) => id);
}
