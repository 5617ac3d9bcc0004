import { open } from 'node:fs/promises';
import type { IntakeSettings } from '../db/schema.ts';
import { isArchive, LARGEST_FILE, TOO_LARGE } from '../../core/capture/archive.ts';
import { deriveTakes, type DerivedTake } from '../library/keeping/derive.ts';
import { LibraryError } from '../library/errors.ts';
import { sha256Of } from '../checksum.ts';
import { keepOriginalFile } from '../library/keeping/originals.ts';
import { openArchive, type Opened } from './archive.ts';

/** A file to be read, in a thread of its own. */
export interface IntakeTask {
  path: string;
  file: string;
  depth: number;
  settings: IntakeSettings;
  dataDirectory: string;
  /** Where an archive is unpacked to. */
  folder: string;
}

export type IntakeAnswer =
  | { kind: 'read'; sha256: string; bytes: Uint8Array; derived: DerivedTake[] }
  | { kind: 'refused'; reason: string }
  | { kind: 'opened'; opened: Opened };

/** Reads one file, takes it apart, and keeps its original on the disk; opens it where it is an archive. */
export default async function readFile(task: IntakeTask): Promise<IntakeAnswer> {
  const { path, file, depth, settings, dataDirectory, folder } = task;
  let bytes: Uint8Array;
  try {
    const handle = await open(path);
    try {
      const { size } = await handle.stat();
      const head = new Uint8Array(4);
      await handle.read(head, 0, 4, 0);
      if (isArchive(head)) return { kind: 'opened', opened: await openArchive(path, file, depth, folder) };
      if (size > LARGEST_FILE) return { kind: 'refused', reason: TOO_LARGE };
      bytes = Uint8Array.from(await handle.readFile());
    } finally {
      await handle.close();
    }
  } catch (error) {
    return {
      kind: 'refused',
      reason: `"${file}" cannot be read (${(error as NodeJS.ErrnoException).code}).`,
    };
  }
  try {
    const derived = deriveTakes(bytes, settings);
    const sha256 = sha256Of(bytes);
    // The note is written where the files of a batch are in their order: of two alike, the first counts.
    await keepOriginalFile({ dataDirectory }, sha256, bytes, undefined, false);
    return { kind: 'read', sha256, bytes, derived };
  } catch (error) {
    if (error instanceof LibraryError) return { kind: 'refused', reason: error.message };
    throw error;
  }
}
