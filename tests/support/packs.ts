import { after, afterEach } from 'node:test';
import { unzipSync, zipSync } from 'fflate';
import { eq, sql } from 'drizzle-orm';
import { OUT } from '../../src/core/exchange/out-options.ts';
import { writeMidiFile } from '../../src/core/midi/write.ts';
import { bandFile } from '../../src/core/standins/band.ts';
import { endThreads } from '../../src/server/compute/pool.ts';
import { openLibrary, type Library } from '../../src/server/db/client.ts';
import { phrases } from '../../src/server/db/schema.ts';
import { addToBasket, createBasket, updateBasket } from '../../src/server/library/handoff/baskets.ts';
import { makePhrases } from '../../src/server/library/phrases/make-phrases.ts';
import type { MergeTable } from '../../src/server/library/handoff/merging.ts';
import { packBasket } from '../../src/server/library/handoff/packing.ts';
import { getPhrase } from '../../src/server/library/phrases/phrases.ts';
import { takeIn } from '../../src/server/library/takes/takes.ts';
import { emptyLibrary } from './server.ts';

/** Libraries beside the server's, and packs that go from one to the other. */

const opened: Library[] = [];
after(async () => {
  for (const one of opened) await one.close();
  await endThreads();
});

/** A library of its own, beside the server's. */
export async function library(): Promise<Library> {
  const made = await openLibrary({ dataDirectory: await emptyLibrary(), databaseUrl: undefined });
  opened.push(made);
  return made;
}

const lent: Library[] = [];
const free: Library[] = [];
afterEach(async () => {
  for (const one of lent.splice(0)) {
    await emptied(one);
    free.push(one);
  }
});

/** A library for one test: emptied after it, and lent to the next. Opening one takes seconds. */
export async function lentLibrary(): Promise<Library> {
  const one = free.pop() ?? (await library());
  lent.push(one);
  return one;
}

async function emptied({ db }: Library): Promise<void> {
  const { rows } = (await db.execute(
    sql`select tablename as name from pg_tables where schemaname = 'public'`,
  )) as unknown as { rows: { name: string }[] };
  await db.execute(sql.raw(`truncate ${rows.map(({ name }) => name).join(', ')} restart identity cascade`));
}

/** A sheaf of three parts and a phrase by itself, kept, with tags. */
export async function filled(home: Library): Promise<string[]> {
  const bytes = writeMidiFile(bandFile({ chart: 'Em | Am | B7 | Em', style: 'river', bpm: 96, seed: 7, title: 'Ferry' })); // prettier-ignore
  const { takeIds } = await takeIn(home, { bytes, fileName: 'ferry.mid', contributor: 'The ferryman', rights: 'own work' }); // prettier-ignore
  const request = { takeId: takeIds[0]!, startBar: 1, bars: 4, keep: true, tags: ['dusk', 'verse'] };
  const sheaf = await makePhrases(home.db, { ...request, parts: ['p1', 'p2', 'p3'] });
  const alone = await makePhrases(home.db, { ...request, parts: ['p2'], startBar: 2, bars: 2 });
  return [...sheaf.phraseIds, ...alone.phraseIds];
}

export async function packed(home: Library, ids: string[], out = OUT): Promise<Uint8Array> {
  const { id } = await createBasket(home.db, 'For the string player', null);
  await updateBasket(home.db, id, { out });
  await addToBasket(home.db, id, ids);
  const { bytes } = await packBasket(home, id, new Date().toISOString(), new AbortController().signal);
  return bytes;
}

export type Files = Record<string, Uint8Array>;

export const edited = (zip: Uint8Array, edit: (files: Files) => Files): Uint8Array =>
  zipSync(edit(unzipSync(zip)));

export const singles = (files: Files) => Object.keys(files).filter((name) => /\.mid$/.test(name) && !/together\//.test(name)); // prettier-ignore

export const fates = ({ rows }: MergeTable) => rows.map(({ fate }) => fate);

/** All kept phrases as what they are, whatever their ids. */
export async function contents(home: Library): Promise<string[]> {
  const rows = await home.db.select({ id: phrases.id }).from(phrases).where(eq(phrases.state, 'kept'));
  const all = await Promise.all(rows.map(({ id }) => getPhrase(home.db, id)));
  return all
    .map(({ name, clip, tags }) =>
      JSON.stringify([name, tags, clip.notes.map(({ tick, pitch, velocity }) => [tick, pitch, velocity])]),
    ) // prettier-ignore
    .sort();
}
