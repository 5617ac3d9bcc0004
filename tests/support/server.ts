import type { ChildProcess } from 'node:child_process';
import { cpSync, existsSync, mkdtempSync, renameSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { basename, join } from 'node:path';
import pg from 'pg';
import { openLibrary } from '../../src/server/db/client.ts';
import { freePort, startServer as start, stopServer as stop } from '../../scripts/serve.mjs';

export interface TestServer {
  address: string;
  dataDirectory: string;
  process: ChildProcess;
  /** Ends the server; its data stays. */
  stop(): Promise<void>;
  /** Ends the server and removes its data. */
  remove(): Promise<void>;
}

/**
 * A folder with an empty library. Making a database takes seconds, copying one does not: the first of a test
 * run (TEST_TEMPLATE, set by scripts/test.mjs) is copied for the others.
 */
export function emptyLibrary(): Promise<string> {
  return copyOf('empty', async (folder) => (await openLibrary({ dataDirectory: folder })).close());
}

/** A folder with the demo library, made once a test run. */
export function demoLibrary(): Promise<string> {
  return copyOf('demo', async (folder) => {
    cpSync(await emptyLibrary(), folder, { recursive: true });
    const environment = { ...(await environmentOf(folder)), DEMO: '1' };
    await stop(((await start(environment)) as Spawned).server);
  });
}

/** A copy of a library that is made where the test run has none yet; on a PostgreSQL server, an empty folder. */
async function copyOf(kind: string, make: (folder: string) => Promise<void>): Promise<string> {
  const folder = mkdtempSync(join(tmpdir(), 'basket-test-'));
  const templates = process.env.TEST_TEMPLATE;
  if (process.env.TEST_DATABASE_URL) return folder;
  if (!templates) {
    await make(folder);
    return folder;
  }
  const template = `${templates}-${kind}`;
  if (!existsSync(template)) {
    const making = mkdtempSync(join(tmpdir(), 'basket-template-'));
    await make(making);
    try {
      renameSync(making, template);
    } catch {
      // Another process was quicker.
      rmSync(making, { recursive: true });
    }
  }
  for (const part of ['database', 'originals', 'packs-in'])
    if (existsSync(join(template, part)))
      cpSync(join(template, part), join(folder, part), { recursive: true });
  return folder;
}

/** The built application on an empty library, or on one that is there. */
export async function startTestServer(
  options: { demo?: boolean; dataDirectory?: string; environment?: Record<string, string> } = {},
): Promise<TestServer> {
  const dataDirectory = options.dataDirectory ?? (await (options.demo ? demoLibrary() : emptyLibrary()));
  const environment = {
    ...(await environmentOf(dataDirectory)),
    DEMO: options.demo ? '1' : '0',
    ...options.environment,
  };
  const { server, address } = (await start(environment)) as Spawned;
  const end = () => stop(server) as Promise<void>;
  return {
    address,
    dataDirectory,
    process: server,
    stop: end,
    async remove() {
      await end();
      rmSync(dataDirectory, { recursive: true, force: true });
    },
  };
}

interface Spawned {
  server: ChildProcess;
  address: string;
}

async function environmentOf(dataDirectory: string) {
  return {
    PORT: String(await freePort()),
    DATA_DIR: dataDirectory,
    DEMO: '0',
    ...(await databaseFor(dataDirectory)),
  };
}

/** On a PostgreSQL server (TEST_DATABASE_URL), every library has a database of its own, named after its folder. */
export async function databaseFor(dataDirectory: string): Promise<{ DATABASE_URL?: string }> {
  const server = process.env.TEST_DATABASE_URL;
  if (!server) return {};
  const name = basename(dataDirectory)
    .toLowerCase()
    .replace(/[^a-z0-9]/g, '_');
  const client = new pg.Client(server);
  await client.connect();
  const known = await client.query('select 1 from pg_database where datname = $1', [name]);
  if (known.rowCount === 0) await client.query(`create database ${name}`);
  await client.end();
  return { DATABASE_URL: Object.assign(new URL(server), { pathname: `/${name}` }).href };
}
