import { randomUUID } from 'node:crypto';
import { relative, resolve, sep } from 'node:path';
import { getTableColumns, getTableName, type Table } from 'drizzle-orm';
import { OUT } from '../../../core/exchange/out-options.ts';
import * as schema from '../../db/schema.ts';
import { LibraryError } from '../errors.ts';
import { isUuid, sha256Of } from '../../checksum.ts';
import { isSha256 } from './originals.ts';

/** Tables in an order in which each refers only to those before it. */
export const TABLES = [
  schema.contributors,
  schema.sources,
  schema.projects,
  schema.originals,
  schema.takes,
  schema.takeBases,
  schema.takeReadings,
  schema.parts,
  schema.changes,
  schema.sheaves,
  schema.phrases,
  schema.phraseContents,
  schema.phraseMarks,
  schema.phraseParents,
  schema.phrasesApart,
  schema.searches,
  schema.tags,
  schema.phraseTags,
  schema.recipients,
  schema.baskets,
  schema.basketItems,
  schema.mirroredFiles,
  schema.banks,
  schema.packs,
  schema.packItems,
  schema.jobs,
  schema.jobItems,
  schema.houses,
  schema.presets,
  schema.weaves,
  schema.comps,
  schema.sweeps,
  schema.sweepRuns,
  schema.feels,
  schema.forgottenHabits,
  schema.batches,
  schema.batchItems,
  schema.makings,
  schema.makingItems,
  schema.captures,
  schema.captureChunks,
  // Where people are signed in, links that let somebody in and failed tries are of the running house: they are not kept.
  schema.people,
  schema.guestBaskets,
  schema.deeds,
] as const satisfies readonly Table[];

const BY_NAME = new Map<string, Table>(TABLES.map((table) => [getTableName(table), table]));

export type Row = Record<string, unknown>;

export interface TableRow {
  table: string;
  row: Row;
}

/** Columns of a phrase that have stood in a table of their own since schema 10. */
const CONTENT = [
  'origins',
  'streams',
  'pitch_map',
  'locked',
  'corrections',
  'recipe',
  'applied_to',
  'fitting',
  'part_program',
  'notes',
  'controls',
  'swatch',
  'timeline',
];

/** What a row of an older schema has to become, by the schema that changed it: rows of one table or more. */
const UPGRADES: Record<number, (table: string, row: Row) => Row | TableRow[]> = {
  7: (table, row) => {
    if (table === 'baskets') {
      const { in_project_key: inKey, ...rest } = row;
      return { ...rest, leaves: inKey ? 'project' : 'captured' };
    }
    if (table === 'takes') return { ...row, dropped: [], revision: 0 };
    return row;
  },
  9: (table, row) => (table === 'takes' ? { ...row, keys_method: 0 } : row),
  10: (table, row) => {
    if (table !== 'phrases') return row;
    const { search_text: _, ...rest } = row;
    const taken = (wanted: boolean) =>
      Object.fromEntries(Object.entries(rest).filter(([name]) => CONTENT.includes(name) === wanted));
    return [
      { table, row: { ...taken(false), changed: 0 } },
      { table: 'phrase_contents', row: { phrase_id: row.id, ...taken(true) } },
      {
        table: 'phrase_marks',
        row: { phrase_id: row.id, method: 0, features: '\\x', profile: '\\x', fingerprint: '\\x' },
      },
    ];
  },
  15: (table, row) =>
    table === 'baskets' ? { ...row, layout: 'folders', plain: false, previews: false } : row,
  16: (table, row) => {
    if (table === 'sources') return { ...row, rights: '', tags: [] };
    if (table === 'houses') return { ...row, out: null };
    if (table !== 'baskets') return row;
    const { leaves, fitted, plain, ...rest } = row;
    const out = {
      ...OUT,
      key: leaves,
      sounds: plain ? 'plain' : 'suggested',
      fitting: fitted ? 'own' : 'plain',
    };
    return { ...rest, recipient_id: null, mirror: null, out };
  },
  18: (table, row) => {
    if (table === 'baskets') return { ...row, preview_sums: false, preview_beds: false };
    if (table === 'houses') return { ...row, library: randomUUID() };
    if (table === 'packs') return { ...row, direction: 'out' };
    return row;
  },
  20: (table, row) => (table === 'takes' ? { ...row, turned: row.revision } : row),
  25: (table, row) => (table === 'phrases_apart' ? { ...row, variants: false } : row),
  26: (table, row) => {
    if (table === 'baskets') return { ...row, headings: [] };
    return table === 'basket_items' ? { ...row, own: null } : row;
  },
  27: (table, row) => (table === 'takes' ? { ...row, waits: true } : row),
};

/** A row of a backup as the schema of today has it: of more tables than one where it has been divided since. */
export function upgraded(table: string, row: Row, fromSchema: number, toSchema: number): TableRow[] {
  let now: TableRow[] = [{ table, row }];
  for (let version = fromSchema + 1; version <= toSchema; version++) {
    const upgrade = UPGRADES[version];
    if (upgrade)
      now = now.flatMap((one) => {
        const next = upgrade(one.table, one.row);
        return Array.isArray(next) ? next : [{ table: one.table, row: next }];
      });
  }
  return now;
}

/** Whether a value is one that a column of a type can hold, as JSON tells it. */
const FITS: Record<string, (value: unknown) => boolean> = {
  PgUUID: (value) => typeof value === 'string' && isUuid(value),
  PgText: (value) => typeof value === 'string',
  PgBigInt53: (value) => Number.isSafeInteger(value),
  PgInteger: (value) => Number.isInteger(value) && Math.abs(value as number) <= 0x7fffffff,
  PgReal: (value) => typeof value === 'number',
  PgBoolean: (value) => typeof value === 'boolean',
  PgTimestamp: (value) => typeof value === 'string' && !Number.isNaN(Date.parse(value)),
  PgCustomColumn: (value) => typeof value === 'string' && /^\\x([0-9a-f]{2})*$/.test(value),
  PgJsonb: (value) => value !== undefined,
};

/**
 * Checks a row of a backup before anything is written: what it holds fits its table, checksums fit their bytes, and nothing that
 * is used as a path leads out of the library's folder. @throws LibraryError 422 with what is wrong, and where
 */
export function checkRow(table: string, row: unknown, line: number, dataDirectory: string): Row {
  const wrong = (what: string) =>
    new LibraryError(422, `Line ${line} of the backup: ${what}. Nothing was restored.`);
  const target = BY_NAME.get(table);
  if (!target) throw wrong(`there is no table "${table.slice(0, 60)}"`);
  if (typeof row !== 'object' || row === null || Array.isArray(row)) throw wrong('a row is missing');
  const values = row as Row;
  const columns = Object.values(getTableColumns(target));
  const names = new Set(columns.map(({ name }) => name));
  const unknown = Object.keys(values).find((name) => !names.has(name));
  if (unknown) throw wrong(`"${table}" has no "${unknown.slice(0, 60)}"`);
  for (const { name, columnType, notNull } of columns) {
    const value = values[name];
    if (value === null || value === undefined) {
      if (notNull) throw wrong(`"${name}" of "${table}" is missing`);
    } else if (!FITS[columnType]?.(value)) throw wrong(`"${name}" of "${table}" is not what it should be`);
  }
  const problem = problemOf(table, values, dataDirectory);
  if (problem) throw wrong(problem);
  return values;
}

function problemOf(table: string, row: Row, dataDirectory: string): string | undefined {
  if (table === 'originals') {
    const bytes = Buffer.from((row.bytes as string).slice(2), 'hex');
    if (sha256Of(bytes) !== row.sha256) return 'a checksum is not that of its bytes';
  }
  if (table === 'takes') {
    const input = (row.capture as { input?: unknown } | null)?.input;
    if (!isSha256(row.sha256) || (input !== undefined && !isSha256(input))) return 'a checksum is none';
  }
  if (table === 'job_items' && typeof row.path === 'string' && !isInside(row.path, dataDirectory)) {
    // Files that waited elsewhere are their owners'; the row is kept without them.
    row.path = null;
    if (row.state === 'waiting')
      Object.assign(row, { state: 'refused', reason: 'It was not in the backup.' });
  }
  return undefined;
}

function isInside(path: string, folder: string): boolean {
  const way = relative(resolve(folder), resolve(path));
  return way !== '' && way !== '..' && !way.startsWith(`..${sep}`) && resolve(path) !== resolve(folder);
}
