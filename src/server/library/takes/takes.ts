import { randomUUID } from 'node:crypto';
import { and, asc, eq, getTableColumns, inArray, ne, sql } from 'drizzle-orm';
import { guessFromName } from '../../../core/capture/name-guess.ts';
import type { CaptureFacts } from '../../../core/capture/recording.ts';
import type { Base } from '../../../core/split/base.ts';
import { safeFileName } from '../../../core/phrase/naming.ts';
import type { Key } from '../../../core/music/key.ts';
import type { Db, Library } from '../../db/client.ts';
import { inPieces } from '../../db/in-pieces.ts';
import {
  comps,
  contributors,
  originals,
  parts,
  phrases,
  sources,
  sweepRuns,
  sweeps,
  takeBases,
  takes,
  type TakeAsked,
} from '../../db/schema.ts';
import { compute } from '../../compute/pool.ts';
import type { StoredOriginal, StoredTake } from '../../compute/stored-take.ts';
import type { DerivedPart, DerivedTake } from '../keeping/derive.ts';
import { notFound } from '../errors.ts';
import { sha256Of } from '../../checksum.ts';
import { keepOriginalFile, originalBytes, type OriginalNote } from '../keeping/originals.ts';
import { olderReadings } from './readings.ts';
import { baseAtHand, originalAtHand } from './unchanging.ts';

export interface TakeInRequest {
  bytes: Uint8Array;
  /** As the person knows it; shown, never used as a path. */
  fileName: string;
  source?: string;
  contributor?: string;
  rights?: string;
  asked?: TakeAsked;
  capture?: CaptureFacts;
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
  const sha256 = sha256Of(request.bytes);
  const known = await takeIdsOf(library.db, sha256);
  if (known.length > 0) return { isNew: false, takeIds: known };
  const derived = await compute('takenFile', request.bytes, {
    asked: request.asked,
    capture: request.capture,
  });
  await keepOriginalFile(library, sha256, request.bytes, noteOf(request));
  return library.db.transaction(async (tx) => {
    const [taken] = await storeTakes(tx, [{ sha256, derived, request }]);
    return taken!;
  });
}

/** What is written beside the original, so that a lost database can be rebuilt. */
export function noteOf({ bytes: _, ...note }: TakeInRequest): OriginalNote {
  return note;
}

/** A file that has been read, and whose original is on the disk. */
export interface ReadFile {
  sha256: string;
  derived: DerivedTake[];
  request: TakeInRequest;
}

/** Of files with the same bytes, the first. */
export function firstOfEach<File extends { sha256: string }>(files: readonly File[]): File[] {
  const seen = new Set<string>();
  return files.filter(({ sha256 }) => !seen.has(sha256) && seen.add(sha256));
}

/** Writes files' bytes, takes and parts. The answers stand in the order of the files. */
export async function storeTakes(tx: Db, files: readonly ReadFile[]): Promise<TakenIn[]> {
  const distinct = firstOfEach(files);
  const inserted = await tx
    .insert(originals)
    .values(distinct.map(({ sha256, request }) => ({ sha256, bytes: request.bytes })))
    .onConflictDoNothing()
    .returning({ sha256: originals.sha256 });
  const isNew = new Set(inserted.map(({ sha256 }) => sha256));
  const ids = new Map<string, string[]>();
  const idOf = namedIds(tx);
  const rightsOf = usualRights(tx);
  const takeRows: (typeof takes.$inferInsert)[] = [];
  const baseRows: (typeof takeBases.$inferInsert)[] = [];
  const partRows: (typeof parts.$inferInsert)[] = [];
  for (const { sha256, derived, request } of distinct.filter((file) => isNew.has(file.sha256))) {
    const { fileName, asked, capture, rights } = request;
    const sourceId = await idOf(sources, request.source);
    const contributorId = await idOf(contributors, request.contributor);
    const usual = rights?.trim() ? rights : await rightsOf(sourceId);
    const called = request.name ?? nameFromFile(fileName);
    for (const { pattern, parts: found, base, ...kept } of derived) {
      const id = randomUUID();
      const name = derived.length > 1 ? `${called}, pattern ${pattern + 1}` : called;
      takeRows.push({
        id,
        name,
        foundName: name,
        fileName,
        sha256,
        pattern,
        sourceId,
        contributorId,
        asked,
        capture,
        rights: usual,
        guesses: capture ? {} : guessFromName(fileName),
        ...kept,
      });
      baseRows.push({ takeId: id, base });
      partRows.push(...found.map((part) => ({ takeId: id, ...part })));
      ids.set(sha256, [...(ids.get(sha256) ?? []), id]);
    }
  }
  if (takeRows.length > 0) {
    await tx.insert(takes).values(takeRows);
    await tx.insert(takeBases).values(baseRows);
  }
  for (const some of inPieces(partRows, PARTS_AT_ONCE)) await tx.insert(parts).values(some);
  const answers: TakenIn[] = [];
  const told = new Set<string>();
  for (const { sha256 } of files) {
    // Of two alike in one batch, the second is known.
    const first = isNew.has(sha256) && !told.has(sha256);
    told.add(sha256);
    answers.push({ isNew: first, takeIds: ids.get(sha256) ?? (await takeIdsOf(tx, sha256)) });
  }
  return answers;
}

/** Rows of parts in one statement: it has at most 65,535 parameters. */
const PARTS_AT_ONCE = 2000;

/** The rights that a source's takes have where nobody says otherwise, asked once a source. */
function usualRights(tx: Db) {
  const known = new Map<string, string>();
  return async (sourceId: string | null): Promise<string> => {
    if (!sourceId) return '';
    if (!known.has(sourceId)) {
      const [row] = await tx.select({ rights: sources.rights }).from(sources).where(eq(sources.id, sourceId));
      known.set(sourceId, row?.rights ?? '');
    }
    return known.get(sourceId)!;
  };
}

/** `idByName` that asks for each name once. */
function namedIds(tx: Db) {
  const known = new Map<string, string | null>();
  return async (table: typeof sources | typeof contributors, name: string | undefined) => {
    const key = `${table === sources ? 's' : 'c'} ${name ?? ''}`;
    if (!known.has(key)) known.set(key, await idByName(tx, table, name));
    return known.get(key) ?? null;
  };
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
export function nameFromFile(fileName: string): string {
  const plain = fileName
    .split(/[/\\]/)
    .at(-1)!
    .replace(/\.(midi?|smf|kar|rmi)$/i, '')
    .replace(/[\s_-]+/g, ' ')
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

export async function writeParts(db: Db, takeId: string, found: readonly DerivedPart[]): Promise<void> {
  await db.delete(parts).where(eq(parts.takeId, takeId));
  const rows = found.map((part) => ({ takeId, ...part }));
  for (const some of inPieces(rows, PARTS_AT_ONCE)) await db.insert(parts).values(some);
}

/** What can be said of several takes at once. */
export interface TakeChange {
  source?: string;
  contributor?: string;
  rights?: string;
  /** Only what is named is changed; null says that nobody asked for it. */
  asked?: { [Field in keyof TakeAsked]: TakeAsked[Field] | null };
  aside?: boolean;
}

/**
 * Changes what is known of takes. Answers what they were before, so that it can be taken back. A changed chart or
 * number of bars is held against what sounded at once.
 */
export async function changeTakes(db: Db, ids: readonly string[], change: TakeChange) {
  return db.transaction(async (tx) => {
    const before = await tx
      .select({
        id: takes.id,
        source: sources.name,
        contributor: contributors.name,
        contributorId: takes.contributorId,
        rights: takes.rights,
        asked: takes.asked,
        aside: takes.aside,
      })
      .from(takes)
      .leftJoin(sources, eq(sources.id, takes.sourceId))
      .leftJoin(contributors, eq(contributors.id, takes.contributorId))
      .where(inArray(takes.id, [...ids]));
    if (before.length !== new Set(ids).size) throw notFound('take');
    const { source, contributor, asked, ...plain } = change;
    const row: Partial<typeof takes.$inferInsert> = { ...plain };
    if (source !== undefined) row.sourceId = await idByName(tx, sources, source);
    if (contributor !== undefined) row.contributorId = await idByName(tx, contributors, contributor);
    if (Object.keys(row).length > 0)
      await tx
        .update(takes)
        .set(row)
        .where(inArray(takes.id, [...ids]));
    await tellPhrases(tx, before, row);
    if (asked)
      for (const { id, asked: was } of before) {
        const named = Object.entries({ ...was, ...asked }).filter(([, value]) => value !== null);
        await tx
          .update(takes)
          .set({ asked: Object.fromEntries(named) as TakeAsked })
          .where(eq(takes.id, id));
        await accountAgain(tx, id);
      }
    return { before: before.map(({ contributorId: _, ...was }) => was) };
  });
}

/** Whose a take is, and its rights, hold for its phrases too, but for those that were told otherwise. */
async function tellPhrases(
  tx: Db,
  before: readonly { id: string; rights: string; contributorId: string | null }[],
  { rights, contributorId }: Partial<typeof takes.$inferInsert>,
): Promise<void> {
  for (const was of before) {
    const own = eq(phrases.takeId, was.id);
    if (rights !== undefined && rights !== was.rights)
      await tx
        .update(phrases)
        .set({ rights })
        .where(and(own, eq(phrases.rights, was.rights)));
    if (contributorId !== undefined && contributorId !== was.contributorId)
      await tx
        .update(phrases)
        .set({ contributorId })
        .where(and(own, sql`${phrases.contributorId} is not distinct from ${was.contributorId}`));
  }
}

/** @throws LibraryError 404 where nothing set the take off, or it came as a file. */
export async function inputBytes(db: Db, id: string): Promise<Uint8Array> {
  const [row] = await db.select({ capture: takes.capture }).from(takes).where(eq(takes.id, id));
  const bytes = row?.capture?.input && (await originalBytes(db, row.capture.input));
  if (!bytes) throw notFound('input');
  return bytes;
}

async function accountAgain(db: Db, id: string): Promise<void> {
  const { row, stored } = await storedTake(db, id);
  const account = await compute('accountAgain', stored, { asked: row.asked, capture: row.capture });
  await db.update(takes).set({ account }).where(eq(takes.id, id));
}

export async function getTake(db: Db, id: string): Promise<TakeDetail> {
  return takeDetail(db, await takeRow(db, id));
}

/** A take as it stands, with what was made of it and what it came of. */
export async function takeDetail(db: Db, row: TakeRow): Promise<TakeDetail> {
  return { ...row, phrases: await phrasesOf(db, row.id), madeBy: await madeBy(db, row.id) };
}

/** A take, what was made of it, and the comp or sweep that it came of. */
export type TakeDetail = TakeRow & {
  phrases: Awaited<ReturnType<typeof phrasesOf>>;
  madeBy: { kind: 'comp' | 'sweep'; id: string; name: string } | null;
};

/** The comp that a take was kept of, or the sweep of which it is a run; null for all others. */
async function madeBy(db: Db, takeId: string): Promise<TakeDetail['madeBy']> {
  const [found] = await db
    .select({ kind: sql<'comp' | 'sweep'>`'comp'`, id: comps.id, name: comps.title })
    .from(comps)
    .where(eq(comps.takeId, takeId))
    .unionAll(
      db
        .select({ kind: sql<'comp' | 'sweep'>`'sweep'`, id: sweeps.id, name: sweeps.name })
        .from(sweepRuns)
        .innerJoin(sweeps, eq(sweeps.id, sweepRuns.sweepId))
        .where(eq(sweepRuns.takeId, takeId)),
    )
    .limit(1);
  return found ?? null;
}

/** A take as it is stored, with the names of who and what it came from. @throws LibraryError 404 */
async function takeRow(db: Db, id: string) {
  const [row] = await db
    .select({ ...getTableColumns(takes), source: sources.name, contributor: contributors.name })
    .from(takes)
    .leftJoin(sources, eq(sources.id, takes.sourceId))
    .leftJoin(contributors, eq(contributors.id, takes.contributorId))
    .where(eq(takes.id, id));
  if (!row) throw notFound('take');
  return row;
}

export type TakeRow = Awaited<ReturnType<typeof takeRow>>;

/** Phrases cut from a take, without those that were discarded. */
function phrasesOf(db: Db, takeId: string) {
  return db
    .select({
      id: phrases.id,
      name: phrases.name,
      state: phrases.state,
      role: phrases.role,
      startBar: phrases.startBar,
      bars: phrases.bars,
    })
    .from(phrases)
    .where(and(eq(phrases.takeId, takeId), ne(phrases.state, 'discarded')))
    .orderBy(asc(phrases.startBar), asc(phrases.name));
}

/** The key a take is heard in: the one that was chosen, else the likeliest. */
export function keyOfTake(row: Pick<typeof takes.$inferSelect, 'chosenKey' | 'keys'>): Key | null {
  const key = row.chosenKey ?? row.keys[0];
  return key ? { tonic: key.tonic, mode: key.mode } : null;
}

/** A take as it is stored, with all that a thread needs to open it. @throws LibraryError 404 */
export async function storedTake(db: Db, id: string): Promise<{ row: TakeRow; stored: StoredTake }> {
  const row = await takeRow(db, id);
  const { revision, sha256, pattern } = row;
  const bytes = await originalAtHand(sha256, async () => {
    const read = await originalBytes(db, sha256);
    if (!read) throw notFound('original');
    return read;
  });
  const moves = row.moves.slice(0, row.movesDone);
  const base = await baseAtHand(
    id,
    async () => (await keptBase(db, id)) ?? (await keepBase(db, id, { sha256, pattern, bytes })),
  );
  const kept = await olderReadings(db, row);
  return { row, stored: { takeId: id, revision, sha256, pattern, bytes, base, moves, kept } };
}

/** What a take's moves stand on. @throws LibraryError 404 */
export async function baseOfTake(db: Db, id: string): Promise<Base> {
  return (await keptBase(db, id)) ?? (await storedTake(db, id)).stored.base;
}

async function keptBase(db: Db, id: string): Promise<Base | undefined> {
  const [kept] = await db.select({ base: takeBases.base }).from(takeBases).where(eq(takeBases.takeId, id));
  return kept?.base;
}

/** A library of an older version has no base of its takes; it keeps one from now on. */
async function keepBase(db: Db, id: string, original: StoredOriginal): Promise<Base> {
  const told = await db
    .select({ key: parts.key, role: parts.role, certainty: parts.certainty })
    .from(parts)
    .where(eq(parts.takeId, id));
  const base = await compute('baseFor', original, told);
  await db.insert(takeBases).values({ takeId: id, base }).onConflictDoNothing();
  return base;
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

/** One part of a take as a file, as it sounds. @throws LibraryError 404 where the part has no notes or is none. */
export async function exportPart(
  db: Db,
  id: string,
  part: string,
): Promise<{ bytes: Uint8Array; file: string }> {
  const { row, stored } = await storedTake(db, id);
  return compute('exportedPart', stored, part, keyOfTake(row));
}

/** All parts of a take, as they sound: a file a part in a ZIP, what is set aside beside them, or all as one file. */
export async function exportParts(
  db: Db,
  id: string,
  as: 'zip' | 'file',
): Promise<{ bytes: Uint8Array; file: string; type: string }> {
  const { row, stored } = await storedTake(db, id);
  const bytes = await compute('exportedParts', stored, as, row.name, keyOfTake(row));
  const name = safeFileName(row.name);
  return as === 'file'
    ? { bytes, file: `${name}.mid`, type: 'audio/midi' }
    : { bytes, file: `${name}.zip`, type: 'application/zip' };
}
