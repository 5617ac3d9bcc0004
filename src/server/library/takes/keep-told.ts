import { randomUUID } from 'node:crypto';
import { and, eq } from 'drizzle-orm';
import { heardState, READING_METHOD } from '../../../core/analyze/reading.ts';
import { heardMoves } from '../../../core/split/touches.ts';
import { compute } from '../../compute/pool.ts';
import type { Db } from '../../db/client.ts';
import { takeReadings } from '../../db/schema.ts';
import { storedTake } from './takes.ts';

/** Keeps what is found in a take where it stands, since somebody has been told it; once. @throws LibraryError 404 */
export async function keepTold(db: Db, id: string): Promise<void> {
  const { stored } = await storedTake(db, id);
  const heard = heardMoves(stored.moves);
  const known = await db
    .select({ moves: takeReadings.moves })
    .from(takeReadings)
    .where(eq(takeReadings.takeId, id));
  if (known.some(({ moves }) => heardState(moves) === heardState(heard))) return;
  const reading = await compute('readingFor', stored);
  await db.transaction(async (tx) => {
    // What today's method said of a state that was left behind is found again as long as it is today's, and then was left.
    await tx
      .delete(takeReadings)
      .where(and(eq(takeReadings.takeId, id), eq(takeReadings.method, READING_METHOD)));
    await tx
      .insert(takeReadings)
      .values({ id: randomUUID(), takeId: id, method: reading.method, moves: heard, reading });
  });
}
