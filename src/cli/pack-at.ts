import { existsSync, readdirSync, readFileSync, statSync } from 'node:fs';
import { join, relative, sep } from 'node:path';
import { zipSync } from 'fflate';
import { Refusal } from './output.ts';

/** A pack as a ZIP, wherever it lies: a folder that was unpacked is one too. @throws Refusal where there is nothing */
export function packAt(path: string): Uint8Array {
  if (!existsSync(path)) throw new Refusal(`${path} is not there.`);
  if (!statSync(path).isDirectory()) return new Uint8Array(readFileSync(path));
  const files = readdirSync(path, { recursive: true, withFileTypes: true })
    .filter((entry) => entry.isFile() && /\.midi?$|^manifest\.json$/i.test(entry.name))
    .map((entry) => join(entry.parentPath, entry.name))
    .sort();
  const named = files.map((file) => [
    relative(path, file).split(sep).join('/'),
    new Uint8Array(readFileSync(file)),
  ]);
  // The same folder is the same pack, whenever it is looked at.
  return zipSync(Object.fromEntries(named), { level: 0, mtime: new Date(Date.UTC(2000, 0, 1)) });
}
