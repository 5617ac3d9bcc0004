import { randomUUID } from 'node:crypto';
import { asc, eq } from 'drizzle-orm';
import type { Card } from '../../../core/exchange/card.ts';
import type { OutOptions } from '../../../core/exchange/out-options.ts';
import type { Db } from '../../db/client.ts';
import { recipients } from '../../db/schema.ts';
import { LibraryError, notFound } from '../errors.ts';
import { overKept } from '../kept-meanwhile.ts';
import { setLastWayOut } from '../house.ts';

export type Recipient = typeof recipients.$inferSelect;

/** People who get our music, by name. */
export function listRecipients(db: Db): Promise<Recipient[]> {
  return db.select().from(recipients).orderBy(asc(recipients.name));
}

/** @throws LibraryError 404 */
export async function getRecipient(db: Db, id: string): Promise<Recipient> {
  const [row] = await db.select().from(recipients).where(eq(recipients.id, id));
  if (!row) throw notFound('recipient');
  return row;
}

/** @throws LibraryError 409 where somebody is called so already */
export async function createRecipient(db: Db, name: string, card: Card): Promise<Recipient> {
  const [row] = await db
    .insert(recipients)
    .values({ id: randomUUID(), name, card })
    .onConflictDoNothing()
    .returning();
  if (!row) throw nameTaken(name);
  return row;
}

/** What may be changed of a recipient. */
interface RecipientEdit {
  name?: string;
  card?: Card;
}

/** @throws LibraryError 404, or 409 where somebody else is called so, or somebody changed the same of it meanwhile */
export async function updateRecipient(
  db: Db,
  id: string,
  { base, ...mine }: RecipientEdit & { base?: RecipientEdit | undefined },
): Promise<Recipient> {
  const { name, card } = await getRecipient(db, id);
  const change = overKept<RecipientEdit>(`"${name}"`, { base, mine }, { name, card });
  if (change.name !== undefined) {
    const [other] = await db.select().from(recipients).where(eq(recipients.name, change.name));
    if (other && other.id !== id) throw nameTaken(change.name);
  }
  await db.update(recipients).set(change).where(eq(recipients.id, id));
  return getRecipient(db, id);
}

/** Removes a recipient. What left for them stays known; their baskets stay, for nobody in particular. */
export async function removeRecipient(db: Db, id: string): Promise<void> {
  await db.delete(recipients).where(eq(recipients.id, id));
}

/** Keeps in mind how something left, and on which sounds, by the names of parts. */
export async function keepWayOut(
  db: Db,
  recipientId: string | null,
  out: OutOptions,
  sounds: { projectId: string | null; programs: Readonly<Record<string, number>> },
): Promise<void> {
  if (!recipientId) return setLastWayOut(db, out);
  const { sounds: known } = await getRecipient(db, recipientId);
  const place = sounds.projectId ?? '';
  const now = { ...known, [place]: { ...known[place], ...sounds.programs } };
  await db.update(recipients).set({ out, sounds: now }).where(eq(recipients.id, recipientId));
}

function nameTaken(name: string): LibraryError {
  return new LibraryError(409, `There is already somebody called "${name}".`);
}
