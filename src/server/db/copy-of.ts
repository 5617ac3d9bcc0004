import { constants } from 'node:fs';
import { cp, mkdtemp, rm } from 'node:fs/promises';
import { join } from 'node:path';
import { sql } from 'drizzle-orm';
import { openLibrary, type Library } from './client.ts';

/** What a folder with a copy is called, in the library's own: what a killed process leaves there is removed at the next start. */
export const COPY_PREFIX = 'copy-';

/**
 * A library of its own with all that one held at this moment, which another process has open on PGlite. That has one connection: read in
 * one transaction, everybody would wait until all of it is read. Its files are copied instead while nobody writes, which
 * takes a hundredth of the time. Closing the copy removes it.
 */
export async function copyOf({ db, dataDirectory }: Library): Promise<Library> {
  const folder = await mkdtemp(join(dataDirectory, COPY_PREFIX));
  const remove = () => rm(folder, { recursive: true, force: true });
  try {
    await db.transaction(async (tx) => {
      // What was written is on the disk, and the others wait for the end of this transaction.
      await tx.execute(sql`checkpoint`);
      const mode = constants.COPYFILE_FICLONE;
      await cp(join(dataDirectory, 'database'), join(folder, 'database'), { recursive: true, mode });
    });
    const copy = await openLibrary({ dataDirectory: folder });
    return { ...copy, close: () => copy.close().finally(remove) };
  } catch (error) {
    await remove();
    throw error;
  }
}
