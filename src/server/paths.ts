import { existsSync, readFileSync } from 'node:fs';
import { dirname, join, resolve } from 'node:path';
import { fileURLToPath } from 'node:url';

const here = fileURLToPath(import.meta.url);

/** Folder of the application, found from this file and not from where the process was started. */
export const appRoot = findRoot(dirname(here));

/** Whether this code runs from the build. */
export const isBuilt = here.startsWith(join(appRoot, 'dist'));

function findRoot(from: string): string {
  for (let folder = from; ; folder = dirname(folder)) {
    const manifest = join(folder, 'package.json');
    if (existsSync(manifest) && JSON.parse(readFileSync(manifest, 'utf8')).name === 'hollow-basket')
      return folder;
    if (folder === dirname(folder)) throw new Error(`The application's folder was not found above ${from}.`);
  }
}

/** Where the library lives: `DATA_DIR`, or `data` in the application's folder. */
export function dataDirectory(): string {
  return resolve(process.env.DATA_DIR ?? join(appRoot, 'data'));
}
