import { existsSync, readdirSync, readFileSync, statSync } from 'node:fs';
import { join, relative, sep } from 'node:path';
import { zipSync } from 'fflate';
import { Refusal } from './output.ts';

/** A pack as a ZIP, wherever it lies: a folder that was unpacked is one too. @throws Refusal where there is nothing */
export function packAt(path: string): Uint8Array {
  if (!existsSync(path)) throw new Refusal(`${path} is not there.`);
  if (!statSync(path).isDirectory()) return new Uint8Array(readFileSync(path));
  const root = rootIn(path);
  const files = readdirSync(root, { recursive: true, withFileTypes: true })
    .filter((entry) => entry.isFile() && /\.midi?$|^manifest\.json$/i.test(entry.name))
    .map((entry) => join(entry.parentPath, entry.name))
    .sort();
  const named = files.map((file) => [
    relative(root, file).split(sep).join('/'),
    new Uint8Array(readFileSync(file)),
  ]);
  // The same folder is the same pack, whenever it is looked at.
  return zipSync(Object.fromEntries(named), { level: 0, mtime: new Date(Date.UTC(2000, 0, 1)) });
}

/** Where the manifest lies in a folder: in it, or in the one folder that a pack has of its own. */
function rootIn(folder: string): string {
  if (existsSync(join(folder, 'manifest.json'))) return folder;
  const inner = readdirSync(folder).find((name) => existsSync(join(folder, name, 'manifest.json')));
  return inner ? join(folder, inner) : folder;
}
