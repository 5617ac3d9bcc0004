import { randomUUID } from 'node:crypto';
import { and, asc, desc, eq, getTableColumns, ne, sql } from 'drizzle-orm';
import { takeFacts } from '../../core/capture/facts.ts';
import { readTakes, type Take } from '../../core/capture/take.ts';
import { partFiles } from '../../core/exchange/part-files.ts';
import { writeMidiFile } from '../../core/midi/write.ts';
import { NotMidiError } from '../../core/midi/smf.ts';
import { findTakeKey } from '../../core/analyze/take-key.ts';
import { applyMoves, MoveError, takeFactsOf, type Move } from '../../core/split/moves.ts';
import { splitTake, type Split } from '../../core/split/split.ts';
import { tallyOf } from '../../core/split/tally.ts';
import type { Db, Library } from '../db/client.ts';
import { contributors, originals, parts, phrases, sources, takes } from '../db/schema.ts';
import { LibraryError, notFound } from './errors.ts';
import { keepOriginalFile, originalBytes, sha256Of } from './originals.ts';

/** The largest file taken in, in bytes. A full album of dense MIDI is a tenth of it. */
export const LARGEST_FILE = 16 * 1024 * 1024;

/** Keys kept with a take: the likeliest and its runners-up. */
const KEYS_KEPT = 4;

export interface TakeInRequest {
  bytes: Uint8Array;
  /** As the person knows it; shown, never used as a path. */
  fileName: string;
  source?: string;
  contributor?: string;
  /** Instead of the name that the file suggests. */
  name?: string;
}

export interface TakenIn {
  /** False where the same bytes were already in the library. */
  isNew: boolean;
  takeIds: string[];
}

/**
 * Takes a file into the library: its bytes for ever, its takes, and their parts, all or nothing. The same
 * bytes again are the same takes.
 *
 * @throws LibraryError 413 where it is too large, 422 where it is no MIDI or holds no notes.
 */
export async function takeIn(library: Library, request: TakeInRequest): Promise<TakenIn> {
  const { bytes, fileName } = request;
  if (bytes.length > LARGEST_FILE) {
    throw new LibraryError(413, `"${fileName}" is larger than ${LARGEST_FILE / 1024 / 1024} MB.`);
  }
  const sha256 = sha256Of(bytes);
  const known = await takeIdsOf(library.db, sha256);
  if (known.length > 0) return { isNew: false, takeIds: known };

  const read = readOrRefuse(bytes, fileName);
  const sounding = read.flatMap((take, pattern) => (take.notes.length > 0 ? [{ take, pattern }] : []));
  if (sounding.length === 0)
    throw new LibraryError(422, `"${fileName}" holds no notes: there is nothing to take in.`);

  const { name, source, contributor } = request;
  await keepOriginalFile(library, sha256, bytes, { fileName, name, source, contributor });
  const takeIds = await library.db.transaction(async (tx) => {
    const inserted = await tx.insert(originals).values({ sha256, bytes }).onConflictDoNothing().returning();
    // Another window was faster with the same file.
    if (inserted.length === 0) return null;
    const sourceId = await idByName(tx, sources, request.source);
    const contributorId = await idByName(tx, contributors, request.contributor);
    const ids: string[] = [];
    for (const { take, pattern } of sounding) {
      const split = splitTake(take);
      const takeId = randomUUID();
      const base = request.name ?? nameFromFile(fileName);
      const takeName = sounding.length > 1 ? `${base}, pattern ${pattern + 1}` : base;
      await tx.insert(takes).values({
        id: takeId,
        name: takeName,
        foundName: takeName,
        fileName,
        sha256,
        pattern,
        sourceId,
        contributorId,
        facts: takeFacts(take),
        keys: findTakeKey(take, split).slice(0, KEYS_KEPT),
      });
      await writeParts(tx, takeId, split);
      ids.push(takeId);
    }
    return ids;
  });
  return takeIds ? { isNew: true, takeIds } : { isNew: false, takeIds: await takeIdsOf(library.db, sha256) };
}

function readOrRefuse(bytes: Uint8Array, fileName: string): Take[] {
  try {
    return readTakes(bytes);
  } catch (error) {
    if (error instanceof NotMidiError) throw new LibraryError(422, `"${fileName}": ${error.message}`);
    throw error;
  }
}

async function takeIdsOf(db: Db, sha256: string): Promise<string[]> {
  const rows = await db
    .select({ id: takes.id })
    .from(takes)
    .where(eq(takes.sha256, sha256))
    .orderBy(asc(takes.pattern));
  return rows.map((row) => row.id);
}

/** "ferry_crossing-2.mid" becomes "ferry crossing 2". */
function nameFromFile(fileName: string): string {
  const plain = fileName
    .split(/[/\\]/)
    .at(-1)!
    .replace(/\.(midi?|smf|kar|rmi)$/i, '')
    .replace(/[_-]+/g, ' ')
    .trim();
  return plain.slice(0, 200) || 'Unnamed take';
}

/** Id of the row with a name, made where there is none; null for no name. */
export async function idByName(
  db: Db,
  table: typeof sources | typeof contributors,
  name: string | undefined,
): Promise<string | null> {
  const trimmed = name?.trim();
  if (!trimmed) return null;
  await db.insert(table).values({ id: randomUUID(), name: trimmed }).onConflictDoNothing();
  const [row] = await db.select({ id: table.id }).from(table).where(eq(table.name, trimmed));
  return row!.id;
}

async function writeParts(db: Db, takeId: string, split: Split): Promise<void> {
  const tally = tallyOf(split);
  await db.delete(parts).where(eq(parts.takeId, takeId));
  const rows = split.parts.flatMap((part, position) =>
    tally.parts[position] === 0
      ? []
      : [
          {
            takeId,
            key: part.id,
            position,
            name: part.name,
            role: part.role,
            certainty: part.certainty,
            channel: part.channel,
            program: part.program,
            notes: tally.parts[position]!,
          },
        ],
  );
  if (rows.length > 0) await db.insert(parts).values(rows);
}

/** Takes, newest first, each with its parts' roles and the number of phrases made of it. */
export async function listTakes(db: Db) {
  const rows = await db
    .select({
      ...getTableColumns(takes),
      source: sources.name,
      contributor: contributors.name,
      phrases: sql<number>`(select count(*)::int from ${phrases} where ${phrases.takeId} = ${takes.id}
        and ${phrases.state} <> 'discarded')`,
    })
    .from(takes)
    .leftJoin(sources, eq(sources.id, takes.sourceId))
    .leftJoin(contributors, eq(contributors.id, takes.contributorId))
    .orderBy(desc(takes.createdAt), desc(takes.id));
  const partRows = await db
    .select({ takeId: parts.takeId, name: parts.name, role: parts.role, notes: parts.notes })
    .from(parts)
    .orderBy(asc(parts.position));
  return rows.map(({ moves: _moves, facts, ...row }) => ({
    ...row,
    facts: { ...facts, streams: [] },
    parts: partRows.filter((part) => part.takeId === row.id),
  }));
}

export type TakeRow = Awaited<ReturnType<typeof listTakes>>[number];

export async function getTake(db: Db, id: string) {
  const [row] = await db
    .select({ ...getTableColumns(takes), source: sources.name, contributor: contributors.name })
    .from(takes)
    .leftJoin(sources, eq(sources.id, takes.sourceId))
    .leftJoin(contributors, eq(contributors.id, takes.contributorId))
    .where(eq(takes.id, id));
  if (!row) throw notFound('take');
  const made = await db
    .select({
      id: phrases.id,
      name: phrases.name,
      state: phrases.state,
      role: phrases.role,
      startBar: phrases.startBar,
      bars: phrases.bars,
    })
    .from(phrases)
    .where(and(eq(phrases.takeId, id), ne(phrases.state, 'discarded')))
    .orderBy(asc(phrases.startBar), asc(phrases.name));
  return { ...row, phrases: made };
}

export type TakeDetail = Awaited<ReturnType<typeof getTake>>;

/** A take read again from its original, with its split as it now stands. */
export async function openTake(
  db: Db,
  id: string,
): Promise<{ row: typeof takes.$inferSelect; take: Take; split: Split }> {
  const [row] = await db.select().from(takes).where(eq(takes.id, id));
  if (!row) throw notFound('take');
  const bytes = await originalBytes(db, row.sha256);
  const take = bytes && readTakes(bytes)[row.pattern];
  if (!take) throw notFound('original');
  return { row, take, split: applyMoves(splitTake(take), take.notes, row.moves.slice(0, row.movesDone)) };
}

export async function takeBytes(db: Db, id: string): Promise<{ bytes: Uint8Array; fileName: string }> {
  const [row] = await db
    .select({ sha256: takes.sha256, fileName: takes.fileName })
    .from(takes)
    .where(eq(takes.id, id));
  const bytes = row && (await originalBytes(db, row.sha256));
  if (!bytes) throw notFound('take');
  return { bytes, fileName: row.fileName };
}

/** One part of a take as a file. @throws LibraryError 404 where the part has no notes or is none. */
export async function exportPart(
  db: Db,
  id: string,
  part: string,
): Promise<{ bytes: Uint8Array; file: string }> {
  const { take, split } = await openTake(db, id);
  const found = partFiles(take, split).find((candidate) => candidate.part === part);
  if (!found) throw notFound('part');
  return { bytes: writeMidiFile(found.midi), file: found.file };
}

/** Does one more move on a take's split. What had been taken back before it is gone. */
export async function moveOnTake(db: Db, id: string, move: Move): Promise<TakeDetail> {
  return changeMoves(db, id, (row) => ({
    moves: [...row.moves.slice(0, row.movesDone), move],
    movesDone: row.movesDone + 1,
  }));
}

/** Takes the last move back (-1) or does the next again (+1). @throws LibraryError 409 where there is none. */
export async function stepMoves(db: Db, id: string, by: -1 | 1): Promise<TakeDetail> {
  return changeMoves(db, id, (row) => {
    const movesDone = row.movesDone + by;
    if (movesDone < 0) throw new LibraryError(409, 'There is nothing to take back.');
    if (movesDone > row.moves.length) throw new LibraryError(409, 'There is nothing to do again.');
    return { moves: row.moves, movesDone };
  });
}

async function changeMoves(
  db: Db,
  id: string,
  change: (row: typeof takes.$inferSelect) => { moves: Move[]; movesDone: number },
): Promise<TakeDetail> {
  await db.transaction(async (tx) => {
    // Two windows may work on one take: the row is held until its parts are written.
    await tx.select({ id: takes.id }).from(takes).where(eq(takes.id, id)).for('update');
    const { row, take } = await openTake(tx, id);
    const next = change(row);
    try {
      const done = next.moves.slice(0, next.movesDone);
      const split = applyMoves(splitTake(take), take.notes, done);
      const { name, key } = takeFactsOf(done);
      await tx
        .update(takes)
        .set({ ...next, name: name ?? row.foundName, chosenKey: key ?? null })
        .where(eq(takes.id, id));
      await writeParts(tx, id, split);
    } catch (error) {
      if (error instanceof MoveError) throw new LibraryError(422, error.message);
      throw error;
    }
  });
  return getTake(db, id);
}
