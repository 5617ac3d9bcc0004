import { and, eq, lt } from 'drizzle-orm';
import { READING_METHOD, type KeptReading } from '../../../core/analyze/reading.ts';
import { heardMoves } from '../../../core/split/touches.ts';
import type { Db } from '../../db/client.ts';
import { takeReadings, takes } from '../../db/schema.ts';
import { notFound } from '../errors.ts';

type TakeRow = typeof takes.$inferSelect;

/** What a take was told by older methods than today's; what today's method said is found again. */
export async function olderReadings(
  db: Db,
  row: Pick<TakeRow, 'id' | 'moves' | 'movesDone' | 'keys' | 'keysMethod'>,
): Promise<KeptReading[]> {
  const rows = await db
    .select({ moves: takeReadings.moves, told: takeReadings.reading })
    .from(takeReadings)
    .where(and(eq(takeReadings.takeId, row.id), lt(takeReadings.method, READING_METHOD)));
  if (row.keysMethod >= READING_METHOD) return rows;
  // Nobody looked into it, but lists have shown its keys.
  const listed = { method: row.keysMethod, keys: row.keys };
  return [...rows, { moves: heardMoves(row.moves.slice(0, row.movesDone)), told: listed }];
}

/** What a take was told by older methods. @throws LibraryError 404 */
export async function toldOfTake(db: Db, id: string): Promise<KeptReading[]> {
  const { id: own, moves, movesDone, keys, keysMethod } = takes;
  const [row] = await db
    .select({ id: own, moves, movesDone, keys, keysMethod })
    .from(takes)
    .where(eq(own, id));
  if (!row) throw notFound('take');
  return olderReadings(db, row);
}
