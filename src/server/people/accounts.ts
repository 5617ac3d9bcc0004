import { randomUUID } from 'node:crypto';
import { and, asc, eq, isNull, ne, sql } from 'drizzle-orm';
import type { PersonRole } from '../../core/people/roles.ts';
import type { Db } from '../db/client.ts';
import { guestBaskets, people } from '../db/schema.ts';
import { LibraryError, notFound } from '../library/errors.ts';
import { countFailure, forgetFailures, waitBefore } from './attempts.ts';
import { keepDeed } from './deeds.ts';
import { checkPassword, hashPassword, isPassword } from './password.ts';
import { beginSession, endSessionsOf } from './sessions.ts';

/** Somebody who signs in, from where, with what. */
export interface SigningIn {
  name: string;
  password: string;
  /** Their network address. */
  address: string;
  device: string;
}

/** What is said whatever of the two is wrong: names are not given away. */
const WRONG = 'This name and this password do not belong together.';

/** Signs somebody in. Answers a token. @throws LibraryError 401, 429 */
export async function signIn(db: Db, { name, password, address, device }: SigningIn): Promise<string> {
  const wait = await waitBefore(db, name, address);
  if (wait > 0) throw new LibraryError(429, `Too many tries. Try again in ${minutes(wait)}.`);
  const [person] = await db
    .select()
    .from(people)
    .where(and(sql`lower(${people.name}) = lower(${name})`, isNull(people.closedAt)));
  if (!(await isPassword(password, person?.password ?? null))) {
    await countFailure(db, name, address);
    await keepDeed(db, {
      personId: null,
      kind: 'person',
      subjectId: person?.id ?? null,
      did: 'signing in failed',
    });
    throw new LibraryError(401, WRONG);
  }
  await forgetFailures(db, name, address);
  await keepDeed(db, { personId: person!.id, kind: 'person', subjectId: person!.id, did: 'signed in' });
  return beginSession(db, person!.id, device);
}

function minutes(seconds: number): string {
  const count = Math.ceil(seconds / 60);
  return count === 1 ? 'a minute' : `${count} minutes`;
}

export interface NewPerson {
  name: string;
  /** What is kept of their password. */
  hash: string;
  role: PersonRole;
  baskets: readonly string[];
}

/** @throws LibraryError 409 where somebody is called so */
export async function createPerson(tx: Db, { name, hash, role, baskets }: NewPerson): Promise<string> {
  const id = randomUUID();
  const made = await tx
    .insert(people)
    .values({ id, name, role, password: hash })
    .onConflictDoNothing()
    .returning({ id: people.id });
  if (made.length === 0) throw new LibraryError(409, `Somebody here is called "${name}" already.`);
  await setGuestBaskets(tx, id, baskets);
  return id;
}

/** People, by name, with when they were here last and which baskets guests see. */
export async function listPeople(db: Db) {
  const rows = await db
    .select({
      ...{ id: people.id, name: people.name, role: people.role, createdAt: people.createdAt },
      closedAt: people.closedAt,
      seenAt: sql<
        string | null
      >`(select max(sessions.seen_at) from sessions where sessions.person_id = people.id)`,
      baskets: sql<string[]>`coalesce((select jsonb_agg(guest_baskets.basket_id) from guest_baskets
        where guest_baskets.person_id = people.id), '[]'::jsonb)`,
    })
    .from(people)
    .orderBy(asc(people.name));
  return rows;
}

export type PersonRow = Awaited<ReturnType<typeof listPeople>>[number];

/** Whether nobody is there yet: the first link makes an owner. */
export async function isNobodyThere(db: Db): Promise<boolean> {
  const [row] = await db.select({ id: people.id }).from(people).limit(1);
  return !row;
}

export interface PersonChange {
  role?: PersonRole | undefined;
  closed?: boolean | undefined;
  baskets?: readonly string[] | undefined;
}

/** Changes what somebody may do. @throws LibraryError 404, 409 where no owner would be left */
export async function changePerson(db: Db, id: string, change: PersonChange): Promise<void> {
  await db.transaction(async (tx) => {
    const [person] = await tx.select().from(people).where(eq(people.id, id)).for('update');
    if (!person) throw notFound('person');
    const role = change.role ?? person.role;
    const isClosed = change.closed ?? person.closedAt !== null;
    if (person.role === 'owner' && (role !== 'owner' || isClosed)) await assertOwnerBeside(tx, id);
    const closedAt = isClosed ? (person.closedAt ?? new Date()) : null;
    await tx.update(people).set({ role, closedAt }).where(eq(people.id, id));
    if (change.baskets) await setGuestBaskets(tx, id, change.baskets);
    // What they may do has changed: they come in again under it, or not at all.
    if (isClosed || role !== person.role) await endSessionsOf(tx, id);
  });
}

async function assertOwnerBeside(tx: Db, id: string): Promise<void> {
  const owners = await tx
    .select({ id: people.id })
    .from(people)
    .where(and(eq(people.role, 'owner'), isNull(people.closedAt), ne(people.id, id)))
    // Two owners who give it up at the same moment would leave none.
    .for('update');
  if (owners.length === 0)
    throw new LibraryError(409, 'One owner has to stay: make somebody else an owner first.');
}

async function setGuestBaskets(tx: Db, personId: string, basketIds: readonly string[]): Promise<void> {
  await tx.delete(guestBaskets).where(eq(guestBaskets.personId, personId));
  const rows = [...new Set(basketIds)].map((basketId) => ({ personId, basketId }));
  if (rows.length > 0) await tx.insert(guestBaskets).values(rows);
}

/** Whether a guest sees a basket. */
export async function seesBasket(db: Db, personId: string, basketId: string): Promise<boolean> {
  const found = await db
    .select({ basketId: guestBaskets.basketId })
    .from(guestBaskets)
    .where(and(eq(guestBaskets.personId, personId), eq(guestBaskets.basketId, basketId)));
  return found.length > 0;
}

/** Sets somebody's password, who knows the old one; they stay signed in only where they are. @throws LibraryError 401, 422 */
export async function changePassword(
  db: Db,
  person: { id: string; name: string; sessionId: string },
  { old, password }: { old: string; password: string },
): Promise<void> {
  const [row] = await db.select().from(people).where(eq(people.id, person.id));
  if (!row || !(await isPassword(old, row.password)))
    throw new LibraryError(401, 'The old password is another.');
  await checkPassword(password, person.name);
  await db
    .update(people)
    .set({ password: await hashPassword(password) })
    .where(eq(people.id, person.id));
  await endSessionsOf(db, person.id, person.sessionId);
}
