import { mkdir, readdir, readFile, rm, stat } from 'node:fs/promises';
import { join } from 'node:path';
import { idFrom, isUuid, sha256Of } from '../../checksum.ts';
import { compute } from '../../compute/pool.ts';
import type { Library } from '../../db/client.ts';
import { writeWhole } from '../../whole-file.ts';
import { LibraryError, notFound } from '../errors.ts';

/** What the source of takes is called that came in with packs. */
export const FROM_PACKS = 'Packs that came in';

/** The largest pack, in bytes. */
export const LARGEST_PACK = 256 * 1024 * 1024;

/** A pack that lies here until somebody has dealt with it. */
export interface WaitingPack {
  id: string;
  title: string;
  /** Whom it was for when it left, or empty. */
  from: string;
  /** Who brought it in, where people sign in. Packs of before do not say. */
  sentBy?: string;
  phrases: number;
  /** When it was brought in: ISO 8601. */
  at: string;
}

type Place = Pick<Library, 'dataDirectory'>;

const folderOf = ({ dataDirectory }: Place) => join(dataDirectory, 'packs-in');
const zipOf = (place: Place, id: string) => join(folderOf(place), `${id}.zip`);
const noteOf = (place: Place, id: string) => join(folderOf(place), `${id}.json`);
const choiceOf = (place: Place, id: string) => join(folderOf(place), `${id}.choice`);

/**
 * Lays a pack down, so that what is chosen of it can wait; the same bytes are the same pack. Nothing of the library changes.
 * @throws LibraryError 413 where it is too large, 422 where it is no pack of ours
 */
export async function layDownPack(
  place: Place,
  zip: Uint8Array,
  { at, sentBy = '' }: { at: Date; sentBy?: string },
): Promise<{ id: string }> {
  if (zip.length > LARGEST_PACK)
    throw new LibraryError(413, `A pack has at most ${LARGEST_PACK / 1024 / 1024} MB.`);
  const { told, phrases } = await compute('packIn', zip);
  const id = idFrom(`pack ${sha256Of(zip)}`);
  const note: WaitingPack = {
    ...{ id, title: told.title, from: told.recipient ?? '', phrases: phrases.length },
    ...{ at: at.toISOString(), sentBy },
  };
  await mkdir(folderOf(place), { recursive: true });
  // The note is last: without it there is no pack.
  await writeWhole(zipOf(place, id), zip);
  await writeWhole(noteOf(place, id), JSON.stringify(note));
  return { id };
}

/** Packs that wait, the latest first. */
export async function waitingPacks(place: Place): Promise<WaitingPack[]> {
  const names = await readdir(folderOf(place)).catch(() => []);
  const notes = await Promise.all(
    names
      .filter((name) => name.endsWith('.json') && isUuid(name.slice(0, -5)))
      .map(async (name) => JSON.parse(await readFile(join(folderOf(place), name), 'utf8')) as WaitingPack),
  );
  return notes.sort((a, b) => b.at.localeCompare(a.at));
}

/** The bytes of a pack that waits. @throws LibraryError 404 */
export async function waitingPack(place: Place, id: string): Promise<Uint8Array> {
  const isThere = isUuid(id) && (await stat(noteOf(place, id)).then(() => true, () => false)); // prettier-ignore
  if (!isThere) throw notFound('pack');
  return new Uint8Array(await readFile(zipOf(place, id)));
}

/** Keeps what is to be done with a pack until it is done: whoever dies in the middle leaves it to the next. */
export async function keepChoice(place: Place, id: string, choice: unknown): Promise<void> {
  await writeWhole(choiceOf(place, id), JSON.stringify(choice));
}

/** It is done, or nobody wants it any more. */
export async function forgetChoice(place: Place, id: string): Promise<void> {
  await rm(choiceOf(place, id), { force: true });
}

/** What was to be done with packs and is not done yet. */
export async function openChoices(place: Place): Promise<{ id: string; choice: unknown }[]> {
  const names = await readdir(folderOf(place)).catch(() => []);
  const ids = names
    .filter((name) => name.endsWith('.choice'))
    .map((name) => name.slice(0, -'.choice'.length));
  const read = async (id: string) => ({
    id,
    choice: JSON.parse(await readFile(choiceOf(place, id), 'utf8')) as unknown,
  });
  // One that another process has just done is gone.
  const found = await Promise.allSettled(ids.filter(isUuid).map(read));
  return found.flatMap((one) => (one.status === 'fulfilled' ? [one.value] : []));
}

/** Lets a pack go: what was taken of it stays. */
export async function letPackGo(place: Place, id: string): Promise<void> {
  await forgetChoice(place, id);
  await rm(noteOf(place, id), { force: true });
  await rm(zipOf(place, id), { force: true });
}
