import { randomUUID } from 'node:crypto';
import { mkdir, rm } from 'node:fs/promises';
import { join } from 'node:path';
import { asc, eq } from 'drizzle-orm';
import type { Role } from '../../../core/split/roles.ts';
import { sha256Of } from '../../checksum.ts';
import { compute } from '../../compute/pool.ts';
import type { Db, Library } from '../../db/client.ts';
import { banks } from '../../db/schema.ts';
import { writeWhole } from '../../whole-file.ts';
import { LibraryError, notFound } from '../errors.ts';

/** The largest SoundFont that is taken in, in bytes: a thread holds all of it while it renders. */
export const LARGEST_BANK = 512 * 1024 * 1024;

/** Where banks of one's own lie. */
const folderOf = ({ dataDirectory }: Pick<Library, 'dataDirectory'>) => join(dataDirectory, 'banks');

const fileOf = (library: Pick<Library, 'dataDirectory'>, sha256: string) =>
  join(folderOf(library), `${sha256}.sf2`);

/** SoundFonts of one's own, the first taken in first. */
export function listBanks(db: Db) {
  return db.select().from(banks).orderBy(asc(banks.createdAt));
}

export type Bank = Awaited<ReturnType<typeof listBanks>>[number];

/**
 * Takes a SoundFont in, after it was looked through; it plays nothing until it is told what. The same bytes are the same bank.
 * @throws LibraryError 413 where it is too large, 422 where it is none
 */
export async function addBank(library: Library, name: string, bytes: Uint8Array): Promise<Bank> {
  if (bytes.length > LARGEST_BANK)
    throw new LibraryError(413, `A SoundFont has at most ${LARGEST_BANK / 1024 / 1024} MB.`);
  const { presets } = await compute('checkedBank', bytes);
  const sha256 = sha256Of(bytes);
  await mkdir(folderOf(library), { recursive: true });
  await writeWhole(fileOf(library, sha256), bytes);
  await library.db
    .insert(banks)
    .values({ id: randomUUID(), name: name.slice(0, 200), sha256, size: bytes.length, presets })
    .onConflictDoNothing();
  const [row] = await library.db.select().from(banks).where(eq(banks.sha256, sha256));
  return row!;
}

/** Says which roles a bank plays; each role is played by the bank that was told last. @throws LibraryError 404 */
export async function setBankRoles(db: Db, id: string, roles: Role[]): Promise<Bank> {
  return db.transaction(async (tx) => {
    for (const other of await listBanks(tx)) {
      const left = other.roles.filter((role) => !roles.includes(role));
      if (other.id !== id && left.length < other.roles.length)
        await tx.update(banks).set({ roles: left }).where(eq(banks.id, other.id));
    }
    const [row] = await tx.update(banks).set({ roles }).where(eq(banks.id, id)).returning();
    if (!row) throw notFound('bank');
    return row;
  });
}

/** Takes a bank out of the library, its file too: what it played is played by the shipped one again. @throws LibraryError 404 */
export async function removeBank(library: Library, id: string): Promise<void> {
  const [row] = await library.db.delete(banks).where(eq(banks.id, id)).returning();
  if (!row) throw notFound('bank');
  await rm(fileOf(library, row.sha256), { force: true });
}

/** The file that plays each role, where one of one's own does. */
export async function bankFiles(library: Pick<Library, 'db' | 'dataDirectory'>): Promise<Map<Role, string>> {
  const all = await listBanks(library.db);
  return new Map(
    all.flatMap(({ roles, sha256 }) => roles.map((role) => [role, fileOf(library, sha256)] as const)),
  );
}
