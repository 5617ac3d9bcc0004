import { existsSync, readFileSync } from 'node:fs';
import { open } from 'node:fs/promises';
import { join } from 'node:path';
import { eq, inArray } from 'drizzle-orm';
import { object, string } from 'yup';
import { SHA256 } from '../../../core/hex.ts';
import type { Db, Library } from '../../db/client.ts';
import type { CaptureFacts } from '../../../core/capture/recording.ts';
import { originals, type TakeAsked } from '../../db/schema.ts';
import { writeWhole } from '../../whole-file.ts';

/**
 * Whether originals stand in the database alone (ORIGINALS=database): where several processes have no folder in common, a second copy in
 * one of theirs helps nobody. The database is then what is backed up.
 */
function isInDatabaseOnly(): boolean {
  return process.env.ORIGINALS === 'database' && Boolean(process.env.DATABASE_URL);
}

/** Whether something is a checksum, and so may be the name of an original's file. */
export function isSha256(text: unknown): text is string {
  return typeof text === 'string' && SHA256.test(text);
}

/** Where an original lies. @throws RangeError for what is no checksum: it must never become a path */
function originalPath({ dataDirectory }: Pick<Library, 'dataDirectory'>, sha256: string): string {
  if (!isSha256(sha256)) throw new RangeError('An original is named by its checksum.');
  return join(dataDirectory, 'originals', sha256);
}

/** What is known of a file besides its bytes; kept beside them, so that a lost database can be rebuilt. */
export interface OriginalNote {
  fileName?: string;
  name?: string | undefined;
  source?: string | undefined;
  contributor?: string | undefined;
  rights?: string | undefined;
  asked?: TakeAsked | undefined;
  capture?: CaptureFacts | undefined;
  /** These bytes are the keys that set off a recording: no take of their own. */
  inputOf?: string | undefined;
}

/**
 * Writes original bytes into the folder, where they outlast the database, and a note of where they came from
 * beside them. Does nothing where they are there.
 */
export async function keepOriginalFile(
  library: Pick<Library, 'dataDirectory'>,
  sha256: string,
  bytes: Uint8Array,
  note?: OriginalNote,
  /** False where many are written: then `syncOriginals` comes after them. */
  syncs = true,
): Promise<void> {
  if (isInDatabaseOnly()) return;
  const path = originalPath(library, sha256);
  if (existsSync(path)) return;
  if (note) await keepOriginalNote(library, sha256, note);
  await writeWhole(path, bytes);
  if (syncs) await syncOriginals(library);
}

/** Writes the note beside an original. The first that is written stays: later ones are of copies. */
export async function keepOriginalNote(
  library: Pick<Library, 'dataDirectory'>,
  sha256: string,
  note: OriginalNote,
): Promise<void> {
  if (isInDatabaseOnly()) return;
  const path = `${originalPath(library, sha256)}.json`;
  if (!existsSync(path)) await writeWhole(path, JSON.stringify(note));
}

/** Names of new originals are on the disk only when their folder is. */
export async function syncOriginals(library: Pick<Library, 'dataDirectory'>): Promise<void> {
  if (isInDatabaseOnly()) return;
  const directory = await open(join(library.dataDirectory, 'originals'), 'r');
  await directory.sync();
  await directory.close();
}

/** What was noted of an original: as far as it is what a note can hold. */
export function originalNote(library: Pick<Library, 'dataDirectory'>, sha256: string): OriginalNote {
  try {
    const text = readFileSync(`${originalPath(library, sha256)}.json`, 'utf8');
    return NOTE.validateSync(JSON.parse(text), { strict: true }) as OriginalNote;
  } catch {
    return {};
  }
}

const word = () => string().max(1000).optional();

/** A note may have been written by anybody who can write into the folder. */
const NOTE = object({
  fileName: word(),
  name: string().max(200).optional(),
  source: string().max(200).optional(),
  contributor: string().max(200).optional(),
  rights: string().max(200).optional(),
  asked: object().optional().default(undefined),
  capture: object({
    input: string().matches(SHA256).optional(),
  })
    .optional()
    .default(undefined),
  inputOf: string().matches(SHA256).optional(),
});

/** Of checksums, those whose originals are here. */
export async function knownOriginals(db: Db, checksums: readonly string[]): Promise<Set<string>> {
  if (checksums.length === 0) return new Set();
  const rows = await db
    .select({ sha256: originals.sha256 })
    .from(originals)
    .where(inArray(originals.sha256, [...checksums]));
  return new Set(rows.map(({ sha256 }) => sha256));
}

export async function originalBytes(db: Db, sha256: string): Promise<Uint8Array | undefined> {
  const [row] = await db
    .select({ bytes: originals.bytes })
    .from(originals)
    .where(eq(originals.sha256, sha256));
  return row?.bytes;
}
