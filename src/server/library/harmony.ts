import { randomUUID } from 'node:crypto';
import { asc, eq, sql } from 'drizzle-orm';
import type { Mode } from '../../core/music/key.ts';
import { compute } from '../compute/pool.ts';
import type { Db } from '../db/client.ts';
import { changes, phrases, takes } from '../db/schema.ts';
import { notFound } from './errors.ts';
import { storedTake } from './takes.ts';

/** The harmony of all that is kept, counted by sheaf: what a page of graphs is drawn from. */
export interface LibraryHarmony {
  /** Different lines of numerals (" I V7 vi "), and how many sheaves and phrases of their own have each. */
  lines: { numerals: string; count: number }[];
  keys: { tonic: number; mode: Mode; count: number }[];
  /** Lower ends of bands of ten BPM. */
  tempos: { bpm: number; count: number }[];
}

/** Counts the harmony of the kept phrases. The parts of a sheaf sound under one progression: it counts once. */
export async function libraryHarmony(db: Db): Promise<LibraryHarmony> {
  const kept = eq(phrases.state, 'kept');
  const count = sql<number>`count(distinct coalesce(${phrases.sheafId}, ${phrases.id}))::int`;
  const lines = await db
    .select({ numerals: phrases.numerals, count })
    .from(phrases)
    .where(sql`${kept} and ${phrases.numerals} <> ''`)
    .groupBy(phrases.numerals);
  const tonic = sql<number>`(${phrases.takeKey} ->> 'tonic')::int`;
  const mode = sql<Mode>`${phrases.takeKey} ->> 'mode'`;
  const keys = await db
    .select({ tonic, mode, count })
    .from(phrases)
    .where(sql`${kept} and ${phrases.keyTonic} is not null`)
    .groupBy(tonic, mode);
  const band = sql<number>`(floor(${phrases.bpm} / 10) * 10)::int`;
  const tempos = await db.select({ bpm: band, count }).from(phrases).where(kept).groupBy(band).orderBy(band);
  return { lines, keys, tempos };
}

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
