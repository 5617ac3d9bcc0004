import { randomUUID } from 'node:crypto';
import { asc, eq } from 'drizzle-orm';
import type { Key } from '../../../core/music/key.ts';
import { changesInKey } from '../../../core/reuse/child.ts';
import { readOrWhy } from '../../../core/through/sounding.ts';
import { compute } from '../../compute/pool.ts';
import type { Db } from '../../db/client.ts';
import { changes, takes } from '../../db/schema.ts';
import { LibraryError, notFound } from '../errors.ts';
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
  return keptAs(db, {
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
}

/** Changes that were written here: a chart, and the key it is in. */
export interface WrittenRequest {
  name: string;
  chart: string;
  key: Key;
  bpm: number;
  meter: { numerator: number; denominator: number };
}

/** Keeps changes that were written here. @throws LibraryError 422 where the chart cannot be read. */
export async function keepWrittenChanges(
  db: Db,
  { name, chart, key, bpm, meter }: WrittenRequest,
): Promise<KeptChanges> {
  const read = readOrWhy(chart, meter.numerator);
  if (typeof read === 'string') throw new LibraryError(422, read);
  return keptAs(db, {
    ...{ name, takeId: null, startBar: 1, bars: read.bars, bpm },
    keyTonic: key.tonic,
    keyMode: key.mode,
    meterNumerator: meter.numerator,
    meterDenominator: meter.denominator,
    chords: changesInKey(read, key),
  });
}

async function keptAs(db: Db, values: Omit<typeof changes.$inferInsert, 'id'>): Promise<KeptChanges> {
  const id = randomUUID();
  await db.insert(changes).values({ ...values, id });
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
    .leftJoin(takes, eq(takes.id, changes.takeId))
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
