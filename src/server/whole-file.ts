import { randomUUID } from 'node:crypto';
import { open, rename, rm } from 'node:fs/promises';

/**
 * Writes a file whole or not at all, whenever the power goes: elsewhere first, flushed to the disk, then renamed.
 * @param by where it is written meanwhile, on the same disk; beside it where nothing is said
 */
export async function writeWhole(
  path: string,
  content: Uint8Array | string,
  by = `${path}.${randomUUID()}.part`,
): Promise<void> {
  try {
    const file = await open(by, 'wx');
    try {
      await file.writeFile(content);
      await file.sync();
    } finally {
      await file.close();
    }
    await rename(by, path);
  } catch (error) {
    await rm(by, { force: true });
    throw error;
  }
}
