import { createHash, randomUUID } from 'node:crypto';
import { existsSync } from 'node:fs';
import { open, rename } from 'node:fs/promises';
import { join } from 'node:path';
import { eq } from 'drizzle-orm';
import type { Db, Library } from '../db/client.ts';
import { originals } from '../db/schema.ts';

/** SHA-256 in hexadecimal, by which original bytes are known. */
export function sha256Of(bytes: Uint8Array): string {
  return createHash('sha256').update(bytes).digest('hex');
}

/**
 * Writes original bytes into the folder, where they outlast the database: to a temporary file, flushed to
 * the disk, then renamed, and the folder flushed too. Does nothing where they are there.
 */
export async function keepOriginalFile(library: Library, sha256: string, bytes: Uint8Array): Promise<void> {
  const folder = join(library.dataDirectory, 'originals');
  const path = join(folder, sha256);
  if (existsSync(path)) return;
  const temporary = `${path}.${randomUUID()}.part`;
  const file = await open(temporary, 'wx');
  try {
    await file.writeFile(bytes);
    await file.sync();
  } finally {
    await file.close();
  }
  await rename(temporary, path);
  const directory = await open(folder, 'r');
  await directory.sync();
  await directory.close();
}

export async function originalBytes(db: Db, sha256: string): Promise<Uint8Array | undefined> {
  const [row] = await db
    .select({ bytes: originals.bytes })
    .from(originals)
    .where(eq(originals.sha256, sha256));
  return row?.bytes;
}
