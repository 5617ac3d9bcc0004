import { readFile, rename, rm, writeFile } from 'node:fs/promises';
import { deserialize, serialize } from 'node:v8';
import type { Catalog } from '../../core/catalog/catalog.ts';
import { FEATURES } from '../../core/catalog/features.ts';
import { FINGERPRINT } from '../../core/catalog/fingerprint.ts';
import { MARKS_METHOD } from '../../core/catalog/marks.ts';

/** Of this file's layout; counted up where the catalog's columns change. */
const LAYOUT = 3;

/** Fewer phrases are read as fast as they are unpacked. */
const FEWEST = 5000;

/** A catalog as it was written down: a server that starts reads only what has changed since. */
export interface Snapshot {
  made: string;
  catalog: Catalog;
  /** The first transaction that had not been read for certain. */
  since: string;
  /** The last transaction that had changed a phrase: a database that has none so late is another. */
  lastChange: string;
}

const MADE = [LAYOUT, MARKS_METHOD, FEATURES.length, FINGERPRINT, process.version].join(' ');

/** Writes a catalog down, whole or not at all. What cannot be written is read anew at the next start. */
export async function writeSnapshot(
  path: string,
  catalog: Catalog,
  since: string,
  lastChange: string,
): Promise<void> {
  if (catalog.size < FEWEST) return;
  const snapshot: Snapshot = { made: MADE, catalog, since, lastChange };
  await writeFile(`${path}.part`, serialize(snapshot));
  await rename(`${path}.part`, path);
}

/** The catalog that was written down; null where there is none that this version can read, and then it is removed. */
export async function readSnapshot(path: string): Promise<Snapshot | null> {
  const bytes = await readFile(path).catch(() => null);
  if (!bytes) return null;
  try {
    const snapshot = deserialize(bytes) as Snapshot;
    if (snapshot.made === MADE) return snapshot;
  } catch {
    // Damaged, it is as good as none.
  }
  await rm(path, { force: true });
  return null;
}
