import { mkdirSync, mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { pathToFileURL } from 'node:url';
import { Worker } from 'node:worker_threads';
import { drizzle } from 'drizzle-orm/node-postgres';
import { migrate } from 'drizzle-orm/node-postgres/migrator';
import type { PgDatabase, PgQueryResultHKT } from 'drizzle-orm/pg-core';
import pg from 'pg';
import { appRoot, isBuilt } from '../paths.ts';
import { LibraryLockedError, takeLock, type Lock } from './lock.ts';
import { copyPreparedDatabase } from './new-database.ts';
import * as schema from './schema.ts';

/** A database or a transaction on it; PGlite and PostgreSQL alike. */
export type Db = PgDatabase<PgQueryResultHKT, typeof schema>;

/** An open library: its database and its folder. Passed to everything that the application does. */
export interface Library {
  db: Db;
  dataDirectory: string;
  /** Where its database is to be had, for threads. */
  address: pg.PoolConfig;
  /** No other process has it open, or could: those that join it are commands of moments. */
  isAlone: boolean;
  close(): Promise<void>;
}

export interface OpenOptions {
  dataDirectory: string;
  /** A PostgreSQL server instead of the database in the folder. */
  databaseUrl?: string;
  /** Written into the lock, so that a second process can name this one. */
  address?: string;
  /** Where another process has the library open, use its database instead of refusing. */
  join?: boolean;
}

/** Any number that is only ours: the advisory lock under which migrations run. */
const MIGRATION_LOCK = 719_003;

/** Longest path of a Unix socket on Linux, less the name that PostgreSQL's clients add. */
const LONGEST_SOCKET_DIRECTORY = 85;

/**
 * Opens the library, creating and migrating its database where needed.
 *
 * @throws LibraryLockedError where another process has the folder open and `join` is not asked for.
 */
export async function openLibrary(options: OpenOptions): Promise<Library> {
  const { dataDirectory } = options;
  // Set and empty is not set.
  const databaseUrl = options.databaseUrl || undefined;
  mkdirSync(join(dataDirectory, 'originals'), { recursive: true });
  if (databaseUrl) return connect({ connectionString: databaseUrl }, { dataDirectory, isAlone: false });
  let lock: Lock;
  try {
    lock = takeLock(dataDirectory);
  } catch (error) {
    if (!(error instanceof LibraryLockedError && error.holder && options.join)) throw error;
    return connect(socketAddress(error.holder.socketDirectory), { dataDirectory, isAlone: false });
  }
  const socketDirectory = makeSocketDirectory(dataDirectory);
  const database = join(dataDirectory, 'database');
  await copyPreparedDatabase(database);
  const worker = await startPglite(database, socketDirectory);
  lock.describe({ pid: process.pid, address: options.address ?? 'command line', socketDirectory });
  return connect(socketAddress(socketDirectory), { dataDirectory, isAlone: true }, async () => {
    await stopPglite(worker);
    if (!socketDirectory.startsWith(dataDirectory)) rmSync(socketDirectory, { recursive: true, force: true });
    lock.release();
  });
}

async function connect(
  address: pg.PoolConfig,
  known: Pick<Library, 'dataDirectory' | 'isAlone'>,
  afterClose: () => Promise<void> = async () => {},
): Promise<Library> {
  const pool = new pg.Pool({ ...address, max: 8 });
  // When the database goes away, connections end: at rest, and in transactions between two statements, where the pool does not
  // listen. The next query on them says so; an end that nobody hears would be the process's.
  pool.on('error', () => {});
  pool.on('connect', (client) => client.on('error', () => {}));
  try {
    await migrateOnce(pool);
  } catch (error) {
    await pool.end();
    await afterClose();
    throw error;
  }
  return {
    db: drizzle(pool, { schema }) as unknown as Db,
    ...known,
    address,
    async close() {
      await pool.end();
      await afterClose();
    },
  };
}

async function migrateOnce(pool: pg.Pool): Promise<void> {
  const client = await pool.connect();
  try {
    await client.query('select pg_advisory_lock($1)', [MIGRATION_LOCK]);
    await migrate(drizzle(client), { migrationsFolder: join(appRoot, 'src/server/db/migrations') });
    await client.query('select pg_advisory_unlock($1)', [MIGRATION_LOCK]);
  } finally {
    client.release();
  }
}

function socketAddress(directory: string): pg.PoolConfig {
  return { host: directory, port: 5432, user: 'postgres', database: 'postgres' };
}

function makeSocketDirectory(dataDirectory: string): string {
  const directory =
    dataDirectory.length <= LONGEST_SOCKET_DIRECTORY
      ? join(dataDirectory, 'socket')
      : mkdtempSync(join(tmpdir(), 'hollow-basket-'));
  // A killed process leaves its socket behind; the lock says that nobody listens on it.
  rmSync(directory, { recursive: true, force: true });
  mkdirSync(directory, { mode: 0o700 });
  return directory;
}

function startPglite(dataDirectory: string, socketDirectory: string): Promise<Worker> {
  const data = { dataDirectory, socketPath: join(socketDirectory, '.s.PGSQL.5432') };
  const worker = isBuilt
    ? new Worker(join(appRoot, 'dist/worker/pglite-worker.mjs'), { workerData: data, execArgv: [] })
    : new Worker(join(appRoot, 'src/server/boot.mjs'), {
        execArgv: [],
        workerData: {
          ...data,
          entry: pathToFileURL(join(appRoot, 'src/server/db/pglite-worker.ts')).href,
        },
      });
  return new Promise((resolve, reject) => {
    worker.once('message', () => resolve(worker));
    worker.once('error', reject);
  });
}

async function stopPglite(worker: Worker): Promise<void> {
  const closed = new Promise((resolve) => worker.once('message', resolve));
  worker.postMessage('close');
  await closed;
  await worker.terminate();
}
