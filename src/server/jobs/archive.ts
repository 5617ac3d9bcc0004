import { createReadStream } from 'node:fs';
import { mkdir, writeFile } from 'node:fs/promises';
import { join } from 'node:path';
import { archiveReader, type ArchiveLimits } from '../../core/capture/archive.ts';
import type { NewItem } from '../library/jobs.ts';

/** What one archive may hold on the server. */
export const ARCHIVE_LIMITS: ArchiveLimits & { depth: number } = {
  files: 20_000,
  bytes: 1024 * 1024 * 1024,
  /** Archives within archives. */
  depth: 3,
};

/** The largest archive, in bytes. */
export const LARGEST_ARCHIVE = 256 * 1024 * 1024;

export interface Opened {
  items: NewItem[];
  refused: { file: string; reason: string }[];
}

/** Unpacks an archive into numbered files of a folder. */
export async function openArchive(
  path: string,
  label: string,
  depth: number,
  folder: string,
  limits = ARCHIVE_LIMITS,
): Promise<Opened> {
  const opened: Opened = { items: [], refused: [] };
  if (depth >= limits.depth) {
    opened.refused.push({ file: label, reason: `Archives are opened ${limits.depth} deep at most.` });
    return opened;
  }
  await mkdir(folder, { recursive: true });
  const writes: Promise<void>[] = [];
  const reader = archiveReader(label, limits, {
    file(file, bytes) {
      const target = join(folder, String(opened.items.length));
      opened.items.push({ file, path: target, depth: depth + 1 });
      writes.push(writeFile(target, bytes));
    },
    refused: (file, reason) => opened.refused.push({ file, reason }),
  });
  try {
    for await (const piece of createReadStream(path, { highWaterMark: 256 * 1024 })) {
      const goesOn = reader.push(piece as Buffer);
      // What is unpacked goes to the disk before more is unpacked: memory stays flat.
      await Promise.all(writes.splice(0));
      if (!goesOn) break;
    }
    reader.end();
  } catch {
    opened.refused.push({
      file: label,
      reason: 'The archive cannot be read to its end; what stands before was taken.',
    });
  }
  await Promise.all(writes);
  return opened;
}
