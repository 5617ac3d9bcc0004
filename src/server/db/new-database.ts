/**
 * A new database is a copy of one that the build has made: PGlite takes four seconds to make one, and copying it a
 * quarter of one. Where none is prepared, PGlite makes its own.
 */
import { cpSync, existsSync, mkdirSync, readFileSync, renameSync, rmSync } from 'node:fs';
import { dirname, join } from 'node:path';
import { appRoot } from '../paths.ts';

/** Of this version of PGlite: another may write its files otherwise. */
function preparedDatabase(): string {
  const { dependencies } = JSON.parse(readFileSync(join(appRoot, 'package.json'), 'utf8')) as {
    dependencies: Record<string, string>;
  };
  return join(
    appRoot,
    'node_modules/.cache/hollow-basket',
    `database-${dependencies['@electric-sql/pglite']}`,
  );
}

/** Makes the database that new ones are copies of, unless it is there. For the build. */
export async function prepareDatabase(): Promise<void> {
  const prepared = preparedDatabase();
  if (existsSync(prepared)) return;
  // Loaded by the build alone: servers and commands have it in a thread of its own.
  const { PGlite } = await import('@electric-sql/pglite');
  await wholeOrNot(prepared, async (making) => {
    mkdirSync(making);
    await (await PGlite.create(making)).close();
  });
}

/** Puts a new database into a folder that has none. */
export async function copyPreparedDatabase(folder: string): Promise<void> {
  if (existsSync(folder) || !existsSync(preparedDatabase())) return;
  await wholeOrNot(folder, (making) => cpSync(preparedDatabase(), making, { recursive: true }));
}

/** A folder that is there whole or not at all, also where the process is killed meanwhile. */
async function wholeOrNot(folder: string, make: (making: string) => Promise<void> | void): Promise<void> {
  const making = `${folder}.making`;
  rmSync(making, { recursive: true, force: true });
  mkdirSync(dirname(folder), { recursive: true });
  await make(making);
  renameSync(making, folder);
}
