import { existsSync, readFileSync } from 'node:fs';
import { homedir } from 'node:os';
import { dirname, isAbsolute, join, resolve } from 'node:path';
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

/** Where the library lives: `DATA_DIR`, or where the platform keeps what belongs to its user. */
export function dataDirectory(): string {
  return resolve(process.env.DATA_DIR ?? ownLibrary());
}

/** XDG Base Directory Specification: data of a user lies in `$XDG_DATA_HOME`, by default `~/.local/share`. */
function ownLibrary(): string {
  const { XDG_DATA_HOME: data } = process.env;
  // The specification: what is not absolute is to be ignored.
  return join(data && isAbsolute(data) ? data : join(homedir(), '.local/share'), 'hollow-basket');
}

/** Where the demo's library lives, which is not the user's. */
export const demoDirectory = join(appRoot, 'data');
