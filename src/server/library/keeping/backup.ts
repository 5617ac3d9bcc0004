import { sha256Of } from '../../checksum.ts';
import { createReadStream, createWriteStream, existsSync, readdirSync, readFileSync } from 'node:fs';
import { open, rename } from 'node:fs/promises';
import { join } from 'node:path';
import { pipeline } from 'node:stream';
import { once } from 'node:events';
import { createGunzip, createGzip } from 'node:zlib';
import { asc, eq, getTableName, sql } from 'drizzle-orm';
import type { Library } from '../../db/client.ts';
import { copyOf } from '../../db/copy-of.ts';
import * as schema from '../../db/schema.ts';
import { appRoot } from '../../paths.ts';
import { checkRow, TABLES, upgraded, type Row, type TableRow } from './backup-rows.ts';
import { LARGEST_FILE } from '../../../core/capture/archive.ts';
import { LibraryError } from '../errors.ts';
import { isSha256, keepOriginalFile, originalNote, syncOriginals, type OriginalNote } from './originals.ts';
import { takeIn } from '../takes/takes.ts';

/** First line of a backup, with the schema its rows have; they follow, a line each. */
const FORMAT = { format: 'hollow-basket-backup', version: 1 } as const;

/** Backups before this one did not say theirs. */
const UNSAID_SCHEMA = 6;

/** Number of the schema that this version has: of its last migration. */
function schemaVersion(): number {
  const journal = join(appRoot, 'src/server/db/migrations/meta/_journal.json');
  const { entries } = JSON.parse(readFileSync(journal, 'utf8')) as { entries: { idx: number }[] };
  return entries.at(-1)!.idx;
}

/** Characters of a line at most: an original of the largest size in hexadecimal, and room for the rest. */
const LONGEST_LINE = 2 * LARGEST_FILE + 1024 * 1024;

const ROWS_AT_ONCE = 200;

/**
 * Writes the whole library to one file: gzipped lines of JSON, first what it is, then {table, row} for every
 * row. All rows are of one moment. The file appears whole or not at all. Whoever works on the library meanwhile goes on.
 */
export async function backUp(library: Library, path: string): Promise<{ rows: number }> {
  const isOpenElsewhere = !library.isAlone && library.address.connectionString === undefined;
  if (!isOpenElsewhere) return writeRows(library, path);
  const copy = await copyOf(library);
  try {
    return await writeRows(copy, path);
  } finally {
    await copy.close();
  }
}

async function writeRows(library: Library, path: string): Promise<{ rows: number }> {
  const temporary = `${path}.part`;
  const zip = createGzip();
  const file = createWriteStream(temporary);
  zip.pipe(file);
  const finished = once(file, 'finish');
  const write = async (line: unknown) => {
    if (!zip.write(`${JSON.stringify(line)}\n`)) await once(zip, 'drain');
  };
  let rows = 0;
  await write({ ...FORMAT, schema: schemaVersion() });
  await library.db.transaction(
    async (tx) => {
      for (const table of TABLES.map(getTableName)) {
        await tx.execute(
          sql.raw(`declare rows_of_${table} cursor for select row_to_json(t)::text as row from ${table} t`),
        );
        for (;;) {
          const answer = (await tx.execute(
            sql.raw(`fetch ${ROWS_AT_ONCE} from rows_of_${table}`),
          )) as unknown as {
            rows: { row: string }[];
          };
          if (answer.rows.length === 0) break;
          for (const { row } of answer.rows) await write({ table, row: JSON.parse(row) as unknown });
          rows += answer.rows.length;
        }
        await tx.execute(sql.raw(`close rows_of_${table}`));
      }
    },
    { isolationLevel: 'repeatable read', accessMode: 'read only' },
  );
  zip.end();
  await finished;
  const handle = await open(temporary, 'r');
  await handle.sync();
  await handle.close();
  await rename(temporary, path);
  return { rows };
}

/**
 * Fills an empty library from a backup, all or nothing. @throws LibraryError 409 where the library holds
 * something, 422 where the file is no backup.
 */
export async function restore(library: Library, path: string): Promise<{ rows: number }> {
  if (await holdsAnything(library)) {
    throw new LibraryError(409, 'A backup is restored into an empty library only; this one holds something.');
  }
  // Everything is looked at before anything is written.
  for await (const _ of rowsOf(path, library.dataDirectory));
  let rows = 0;
  await library.db.transaction(async (tx) => {
    // By table, in their order: each refers only to those before it.
    const waiting = new Map<string, Row[]>(TABLES.map((table) => [getTableName(table), []]));
    const flush = async () => {
      for (const [table, batch] of waiting) {
        if (batch.length === 0) continue;
        const name = sql.raw(table);
        await tx.execute(
          sql`insert into ${name} select * from json_populate_recordset(null::${name}, ${JSON.stringify(batch)}::json)`,
        );
        rows += batch.length;
        waiting.set(table, []);
      }
    };
    for await (const { table, row } of rowsOf(path, library.dataDirectory)) {
      const batch = waiting.get(table)!;
      batch.push(row);
      if (batch.length >= ROWS_AT_ONCE) await flush();
    }
    await flush();
  });
  await writeOriginalFiles(library);
  return { rows };
}

/** The rows of a backup as this version has them, each checked. @throws LibraryError 422 with what is wrong */
async function* rowsOf(path: string, dataDirectory: string): AsyncGenerator<TableRow> {
  const newest = schemaVersion();
  let number = 0;
  let from = newest;
  for await (const line of linesOf(path)) {
    number++;
    const value = parseLine(line, path);
    if (number === 1) {
      if (value.format !== FORMAT.format || value.version !== FORMAT.version) throw noBackup(path);
      from = value.schema ?? UNSAID_SCHEMA;
      if (!Number.isInteger(from) || from < UNSAID_SCHEMA || from > newest)
        throw otherVersion(path, from, newest);
      continue;
    }
    const table = String(value.table);
    for (const one of upgraded(table, (value.row ?? {}) as Row, from, newest))
      yield { table: one.table, row: checkRow(one.table, one.row, number, dataDirectory) };
  }
  if (number === 0) throw noBackup(path);
}

function otherVersion(path: string, from: number, newest: number): LibraryError {
  const what = from > newest ? 'a newer' : 'an older';
  return new LibraryError(
    422,
    `${path} was written by ${what} version of Hollow Basket (schema ${from}; this one has ${newest}): restore it with that version, and open its library with this one.`,
  );
}

/** Lines of a gzipped file. @throws LibraryError where it is not gzipped or cut short. */
async function* linesOf(path: string): AsyncGenerator<string> {
  const unzip = createGunzip();
  // Errors of either stream arrive below, as errors of the last.
  pipeline(createReadStream(path), unzip, () => {});
  const decoder = new TextDecoder();
  let rest = '';
  try {
    for await (const chunk of unzip) {
      const lines = (rest + decoder.decode(chunk as Buffer, { stream: true })).split('\n');
      rest = lines.pop() ?? '';
      if (rest.length > LONGEST_LINE || lines.some((line) => line.length > LONGEST_LINE))
        throw new LibraryError(
          422,
          `${path} has a line that is longer than any of a backup. Nothing was restored.`,
        );
      yield* lines;
    }
  } catch (error) {
    if (/^Z_/.test((error as NodeJS.ErrnoException).code ?? '')) throw noBackup(path);
    throw error;
  }
  if (rest) throw noBackup(path);
}

interface Line {
  format?: string;
  version?: number;
  schema?: number;
  table?: string;
  row?: unknown;
}

function parseLine(line: string, path: string): Line {
  try {
    return JSON.parse(line) as Line;
  } catch {
    throw noBackup(path);
  }
}

function noBackup(path: string): LibraryError {
  return new LibraryError(422, `${path} is not a backup of Hollow Basket that this version can read.`);
}

export async function holdsAnything({ db }: Library): Promise<boolean> {
  const answer = (await db.execute(
    sql`select exists (select 1 from takes) or exists (select 1 from projects) or exists (select 1 from baskets) as found`,
  )) as unknown as { rows: { found: boolean }[] };
  return answer.rows[0]!.found;
}

/** Originals stand in the database and beside it. */
async function writeOriginalFiles(library: Library): Promise<void> {
  const { originals, takes, sources, contributors } = schema;
  const known = await library.db
    .selectDistinctOn([takes.sha256], {
      sha256: takes.sha256,
      fileName: takes.fileName,
      name: takes.name,
      source: sources.name,
      contributor: contributors.name,
      rights: takes.rights,
      asked: takes.asked,
      capture: takes.capture,
    })
    .from(takes)
    .leftJoin(sources, eq(sources.id, takes.sourceId))
    .leftJoin(contributors, eq(contributors.id, takes.contributorId))
    .orderBy(asc(takes.sha256), asc(takes.pattern));
  const write = async (sha256: string, note: OriginalNote) => {
    const [row] = await library.db.select().from(originals).where(eq(originals.sha256, sha256));
    if (row) await keepOriginalFile(library, sha256, row.bytes, note, false);
  };
  for (const { sha256, source, contributor, capture, ...note } of known) {
    await write(sha256, {
      ...note,
      source: source ?? undefined,
      contributor: contributor ?? undefined,
      capture: capture ?? undefined,
    });
    if (capture?.input) await write(capture.input, { inputOf: sha256 });
  }
  await syncOriginals(library);
}

/**
 * Takes every file under `originals/` in again: for a library whose database is gone. Takes and parts come
 * back with the names they came in with; what was made of them is in backups only.
 */
export async function rebuild(
  library: Library,
  onFile: (done: number, total: number) => void = () => {},
): Promise<{ taken: number; known: number; damaged: string[] }> {
  const folder = join(library.dataDirectory, 'originals');
  const files = existsSync(folder) ? readdirSync(folder).filter(isSha256) : [];
  const result = { taken: 0, known: 0, damaged: [] as string[] };
  for (const [i, name] of files.entries()) {
    const bytes = readFileSync(join(folder, name));
    if (sha256Of(bytes) !== name) {
      result.damaged.push(name);
      continue;
    }
    const note = originalNote(library, name);
    if (note.inputOf) {
      await library.db.insert(schema.originals).values({ sha256: name, bytes }).onConflictDoNothing();
      continue;
    }
    const { isNew } = await takeIn(library, {
      ...note,
      bytes,
      fileName: note.fileName ?? `${name.slice(0, 12)}.mid`,
    });
    result[isNew ? 'taken' : 'known']++;
    onFile(i + 1, files.length);
  }
  return result;
}
