import { randomUUID } from 'node:crypto';
import { availableParallelism } from 'node:os';
import { sql } from 'drizzle-orm';
import { standInById } from '../../core/standins/stand-ins.ts';
import { compute } from '../compute/pool.ts';
import type { CutRow } from '../compute/cut-phrases.ts';
import type { InventedPhrases } from '../compute/invented-phrases.ts';
import { among } from '../db/among.ts';
import type { Db, Library } from '../db/client.ts';
import { phraseTags, projects, sheaves, tags, takes } from '../db/schema.ts';
import { getHouse } from '../library/house.ts';
import { keepOriginalFile, syncOriginals } from '../library/keeping/originals.ts';
import { insertPhrases } from '../library/phrases/phrase-rows.ts';
import { noteOf, storeTakes } from '../library/takes/takes.ts';
import { TAKES } from './scenario.ts';

/** Takes that are played and stored at once. */
const AT_ONCE = 24;

/** What some of the phrases are for. */
const TAGS = ['verse', 'chorus', 'intro', 'bridge', 'loop', 'sketch', 'calm', 'busy'];

/**
 * Fills a library that holds the demo with so many more kept phrases, for whoever wants to try how a large one works: of takes that
 * stand-ins play by seeds, each of another chart, key and tempo, read and cut like any that come in.
 */
export async function fillLibrary(
  library: Library,
  count: number,
  tell: (done: number, of: number) => void = () => {},
): Promise<void> {
  const house = await getHouse(library.db);
  const known = {
    tagIds: await idsOfTags(library),
    projectIds: (await library.db.select({ id: projects.id }).from(projects)).map(({ id }) => id),
  };
  let seed = 1;
  const playing: Promise<InventedPhrases[]>[] = [];
  const play = () => {
    const seeds = Array.from({ length: AT_ONCE }, () => seed++);
    playing.push(compute('inventedPhrases', seeds, house));
  };
  // The threads play on while the database writes.
  for (let k = 0; k <= availableParallelism(); k++) play();
  for (let done = 0; done < count;) {
    const played = await playing.shift()!;
    play();
    done += await storePlayed(library, played, count - done, known);
    tell(done, count);
  }
  await Promise.all(playing);
  await library.db.execute(sql`analyze`);
}

/** Stores takes and at most so many of their phrases, in one transaction. @returns how many */
async function storePlayed(
  library: Library,
  played: readonly InventedPhrases[],
  most: number,
  known: { tagIds: string[]; projectIds: string[] },
): Promise<number> {
  const files = played.map(({ sha256, derived, bytes, name, standIn }, k) => {
    const source = standInById(standIn).title;
    const { contributor } = turn(TAKES, k)!;
    return { sha256, derived: [derived], request: { bytes, fileName: `${name}.mid`, source, contributor } };
  });
  for (const { sha256, request } of files)
    await keepOriginalFile(library, sha256, request.bytes, noteOf(request), false);
  await syncOriginals(library);
  return library.db.transaction(async (tx) => {
    const takeIds = (await storeTakes(tx, files)).map((stored) => stored.takeIds[0]!);
    const contributors = await contributorsOf(tx, takeIds);
    const cut = played
      .flatMap(({ cuts, name }, k) => cuts.flatMap((rows) => sheafRows(rows, takeIds[k]!, name)))
      .slice(0, most);
    const bound = new Map(cut.flatMap(({ sheaf }) => (sheaf ? [[sheaf.id, sheaf] as const] : [])));
    if (bound.size > 0) await tx.insert(sheaves).values([...bound.values()]);
    const made = cut.map(({ row: { phrase, ...rest }, takeId, sheaf }) => ({
      ...rest,
      phrase: {
        ...phrase,
        ...{ id: randomUUID(), state: 'kept' as const, takeId, sheafId: sheaf?.id },
        projectId: phrase.number % 3 === 0 ? turn(known.projectIds, phrase.noteCount) : null,
        contributorId: contributors.get(takeId),
      },
    }));
    await insertPhrases(tx, made);
    const tagged = made.map(({ phrase: { id, noteCount } }, k) => ({
      phraseId: id,
      tagId: turn(known.tagIds, noteCount + k)!,
    }));
    await tx.insert(phraseTags).values(tagged);
    return made.length;
  });
}

/** Phrases of the same bars of a take, bound as a sheaf where there are several. */
function sheafRows(rows: readonly CutRow[], takeId: string, takeName: string) {
  const name = `${takeName}, bar ${rows[0]?.phrase.startBar}`;
  const sheaf = rows.length > 1 ? { id: randomUUID(), takeId, name } : null;
  return rows.map((row) => ({ row, takeId, sheaf }));
}

async function contributorsOf(tx: Db, takeIds: readonly string[]): Promise<Map<string, string | null>> {
  const { id, contributorId } = takes;
  const rows = await tx.select({ id, contributorId }).from(takes).where(among(id, takeIds));
  return new Map(rows.map((row) => [row.id, row.contributorId]));
}

/** One of some, again and again in their order. */
function turn<Item>(items: readonly Item[], k: number): Item | null {
  return items[k % items.length] ?? null;
}

async function idsOfTags({ db }: Library): Promise<string[]> {
  await db
    .insert(tags)
    .values(TAGS.map((name) => ({ id: randomUUID(), name })))
    .onConflictDoNothing();
  const rows = await db.select({ id: tags.id, name: tags.name }).from(tags);
  return rows.filter(({ name }) => TAGS.includes(name)).map(({ id }) => id);
}
