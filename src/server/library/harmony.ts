import { randomUUID } from 'node:crypto';
import { asc, eq } from 'drizzle-orm';
import { compute } from '../compute/pool.ts';
import type { Db } from '../db/client.ts';
import { changes, takes } from '../db/schema.ts';
import { notFound } from './errors.ts';
import { storedTake } from './takes.ts';

export interface KeepChanges {
  takeId: string;
  startBar: number;
  bars: number;
  name: string;
}

/** Keeps the changes of some bars of a take. @throws LibraryError 404, 422 where no chord sounds in them. */
export async function keepChanges(
  db: Db,
  { takeId, startBar, bars, name }: KeepChanges,
): Promise<KeptChanges> {
  const { row, stored } = await storedTake(db, takeId);
  const found = await compute('changesOfBars', stored, { startBar, bars }, row.chosenKey);
  const id = randomUUID();
  await db.insert(changes).values({
    id,
    name,
    takeId,
    startBar,
    bars,
    keyTonic: found.key.tonic,
    keyMode: found.key.mode,
    bpm: found.bpm,
    meterNumerator: found.meter.numerator,
    meterDenominator: found.meter.denominator,
    chords: found.chords,
  });
  return (await listChanges(db)).find((kept) => kept.id === id)!;
}

/** Kept changes by key, those set aside left out. */
export function listChanges(db: Db) {
  return db
    .select({
      id: changes.id,
      name: changes.name,
      takeId: changes.takeId,
      takeName: takes.name,
      startBar: changes.startBar,
      bars: changes.bars,
      keyTonic: changes.keyTonic,
      keyMode: changes.keyMode,
      bpm: changes.bpm,
      meterNumerator: changes.meterNumerator,
      meterDenominator: changes.meterDenominator,
      chords: changes.chords,
    })
    .from(changes)
    .innerJoin(takes, eq(takes.id, changes.takeId))
    .where(eq(changes.aside, false))
    .orderBy(asc(changes.keyTonic), asc(changes.keyMode), asc(changes.name));
}

export type KeptChanges = Awaited<ReturnType<typeof listChanges>>[number];

/** Renames kept changes, or sets them aside and brings them back. @throws LibraryError 404 */
export async function editChanges(
  db: Db,
  id: string,
  change: { name?: string; aside?: boolean },
): Promise<void> {
  const found = await db.update(changes).set(change).where(eq(changes.id, id)).returning({ id: changes.id });
  if (found.length === 0) throw notFound('changes');
}
