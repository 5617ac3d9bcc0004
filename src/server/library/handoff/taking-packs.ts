import { basename } from 'node:path';
import { eq } from 'drizzle-orm';
import { ALL_ALONG, wayFor, type Along, type Fate, type MergeWay } from '../../../core/exchange/merge.ts';
import type { InPhrase, PackIn } from '../../../core/exchange/pack-in.ts';
import { strictestRights } from '../../../core/phrase/rights.ts';
import { idFrom, sha256Of } from '../../checksum.ts';
import { compute } from '../../compute/pool.ts';
import type { Db, Library } from '../../db/client.ts';
import {
  contributors,
  packItems,
  packs,
  phraseContents,
  phraseMarks,
  phrases,
  sheaves,
} from '../../db/schema.ts';
import { LibraryError } from '../errors.ts';
import { getHouse } from '../house.ts';
import { heldAgainst, idHere, senderOf, type HeldAgainst, type MergeRow } from './merging.ts';
import {
  hashOfPhrase,
  insertParents,
  insertPhrases,
  updatePhrase,
  wholePhrase,
} from '../phrases/phrase-rows.ts';
import { FROM_PACKS } from './packs-in.ts';
import { addTags, cleanTags } from '../phrases/tags.ts';
import { idByName, takeIn } from '../takes/takes.ts';

/** What is done with the phrases of a pack: one way for all, and others for some, by the ids that the pack has. */
export interface MergeChoice {
  all: MergeWay;
  ways?: Readonly<Record<string, MergeWay>>;
  /** What comes along with the notes; all of it where nothing is said. */
  along?: Along | undefined;
}

export type MergeCounts = Record<Fate, number> & { written: number };

/** What came of taking a pack in, with the phrases that were made. */
export type Taken = MergeCounts & { phraseIds: string[] };

/**
 * Takes in what came with a pack, phrase by phrase, each whole or not at all: broken off, it goes on where it is begun again. The same pack
 * once more changes nothing; two packs taken as children give one library in either order.
 * @throws LibraryError 422 where it is no pack
 */
export async function takePack(
  library: Library,
  zip: Uint8Array,
  choice: MergeChoice,
  { signal, tell }: { signal?: AbortSignal; tell?: (done: number, of: number) => void } = {},
): Promise<Taken> {
  const { db } = library;
  const pack = await compute('packIn', zip);
  const { rows, missing, how, isOurs, ours } = await heldAgainst(db, pack);
  const counts = countsOf([...rows, ...missing]);
  const packId = idFrom(`pack that came in ${sha256Of(zip)}`);
  const { title } = pack.told;
  await db
    .insert(packs)
    .values({ id: packId, basketId: null, title, madeAt: new Date(), direction: 'in' })
    .onConflictDoNothing();
  const from = senderOf(pack, isOurs);
  const along = choice.along ?? ALL_ALONG;
  const setting: Setting = { library, packId, title, from, house: await getHouse(db), how, ours, along };
  const phraseIds: string[] = [];
  for (const [k, row] of rows.entries()) {
    signal?.throwIfAborted();
    const way = choice.ways?.[row.id] ?? wayFor(row.fate, choice.all);
    const done = await takeRow(setting, pack.phrases[k]!, row, way);
    if (done) counts.written++;
    if (done?.made) phraseIds.push(done.made);
    tell?.(k + 1, rows.length);
  }
  if (choice.all !== 'ours' && choice.all !== 'same') counts.written += await takeAdded(setting, pack);
  return { ...counts, phraseIds };
}

/** How many phrases there are of each fate. */
export function countsOf(rows: readonly Pick<MergeRow, 'fate'>[]): MergeCounts {
  const counts: MergeCounts = {
    ...{ same: 0, 'theirs changed': 0, 'ours changed': 0, 'both changed': 0, new: 0, 'not sent back': 0 },
    written: 0,
  };
  for (const { fate } of rows) counts[fate]++;
  return counts;
}

interface Setting extends Pick<HeldAgainst, 'how' | 'ours'> {
  library: Library;
  packId: string;
  title: string;
  /** Who sent it; empty where nothing says. */
  from: string;
  house: Awaited<ReturnType<typeof getHouse>>;
  along: Along;
}

/** What was written: another phrase, or (null) one of ours. */
interface Written {
  made: string | null;
}

/** Does what was chosen with one phrase; null where nothing of music was written. */
async function takeRow(
  setting: Setting,
  one: InPhrase,
  row: MergeRow,
  way: MergeWay,
): Promise<Written | null> {
  const { db } = setting.library;
  const { fate, ours } = row;
  if (fate === 'not sent back' || (fate === 'new' && way === 'ours')) return null;
  // Tags are united whatever becomes of the notes.
  if (ours && row.tags.length > 0 && setting.along.tags)
    await db.transaction((tx) => addTags(tx, [ours.id], row.tags));
  if (fate === 'same' || fate === 'ours changed' || way === 'same') return null;
  if (way === 'ours') {
    await db.transaction((tx) => crossed(tx, setting, ours!.id, one));
    return null;
  }
  const came = await cameIn(setting, one, row);
  if (way === 'theirs' && ours) {
    await replaced(setting, one, row, came);
    return { made: null };
  }
  const id = await made(setting, one, row, way === 'child' && ours ? ours.id : null, came);
  return id === null ? null : { made: id };
}

/** Whose a phrase that came in is: what was changed is the sender's, what is new whoever's it says. */
function contributorOf({ from }: Setting, { told }: InPhrase, { ours }: MergeRow): string {
  return ours ? from || told.contributor : told.contributor || from;
}

/** From whom something came, in words. */
function fromWhom({ from, title }: Setting, { told }: InPhrase): string {
  return from || told.contributor || title;
}

/** A phrase's file in the library for ever, and the phrase that it makes. */
async function cameIn(setting: Setting, one: InPhrase, row: MergeRow) {
  const { library, title, house, along } = setting;
  const file = await asKeptHere(setting, one, row);
  const { told, bytes } = file;
  const { takeIds } = await takeIn(library, {
    bytes: bytes!,
    fileName: basename(told.file),
    name: told.name || title,
    source: FROM_PACKS,
    contributor: contributorOf(setting, one, row),
    rights: told.rights,
  });
  return { takeId: takeIds[0]!, cut: await compute('phraseIn', bytes!, file, house, along) };
}

/** Their changes done to the phrase itself, where it had been fitted for them; else as it came. */
async function asKeptHere({ how, ours }: Setting, one: InPhrase, row: MergeRow): Promise<InPhrase> {
  const here = row.ours ? ours.get(row.ours.id) : undefined;
  if (!how || !here || row.fate !== 'theirs changed') return one;
  return (await compute('withoutFit', one, here, how)) ?? one;
}

type Came = Awaited<ReturnType<typeof cameIn>>;

/** A phrase of its own: new here, beside ours, or a child of ours. Its id, or null where it was there already. */
async function made(
  setting: Setting,
  one: InPhrase,
  row: MergeRow,
  parentId: string | null,
  { takeId, cut }: Came,
): Promise<string | null> {
  const { told, played } = one;
  const from = fromWhom(setting, one);
  // The same notes for the same phrase are the same phrase, in whichever pack they come.
  const id = row.ours ? idFrom(`${row.ours.id} as it came back ${played}`) : idHere(told);
  return setting.library.db.transaction(async (tx) => {
    const parent = row.ours ? await wholePhrase(tx, row.ours.id) : undefined;
    const isNew = !(await wholePhrase(tx, id));
    if (isNew) {
      const sheafId = row.ours ? null : await sheafFor(tx, one, takeId);
      const rights = parentId && parent ? strictestRights([parent.rights, told.rights]) : told.rights;
      await insertPhrases(tx, [
        {
          ...cut,
          phrase: {
            ...cut.phrase,
            ...{ id, takeId, sheafId, rights, state: 'kept' },
            name: row.ours ? `${row.ours.name}, from ${from}`.slice(0, 200) : told.name || 'Phrase',
            projectId: parent?.projectId ?? null,
            contributorId: await idByName(tx, contributors, contributorOf(setting, one, row)),
          },
        },
      ]);
      if (setting.along.tags) await addTags(tx, [id], cleanTags(told.tags));
      if (parentId && parent)
        await insertParents(tx, [
          { phraseId: id, parentPhraseId: parentId, done: `came back from ${from}: ${row.text}`, hash: hashOfPhrase(parent) }, // prettier-ignore
        ]);
    }
    for (const crossing of row.ours ? [id, row.ours.id] : [id]) await crossed(tx, setting, crossing, one);
    return isNew ? id : null;
  });
}

/** Their notes in the place of ours; ours as they were are set aside as the phrase's parent. */
async function replaced(
  setting: Setting,
  one: InPhrase,
  row: MergeRow,
  { takeId, cut }: Came,
): Promise<void> {
  const { id } = row.ours!;
  await setting.library.db.transaction(async (tx) => {
    const old = await wholePhrase(tx, id);
    if (!old) throw new LibraryError(409, `"${row.name}" is not there any more.`);
    const hash = hashOfPhrase(old);
    const beforeId = idFrom(`${id} as it was ${hash}`);
    if (!(await wholePhrase(tx, beforeId))) await insertPhrases(tx, [await asItWas(tx, id, beforeId)]);
    const { name: _, ...phrase } = cut.phrase;
    const rights = strictestRights([old.rights, one.told.rights]);
    await updatePhrase(tx, id, { ...cut, phrase: { ...phrase, takeId, rights } });
    const done = `taken from ${fromWhom(setting, one)} in the place of ours`;
    await insertParents(tx, [{ phraseId: id, parentPhraseId: beforeId, done, hash }]);
    await crossed(tx, setting, id, one);
  });
}

/** A copy of a phrase that is set aside: nothing is ever lost. */
async function asItWas(tx: Db, from: string, id: string) {
  const [row] = await tx.select().from(phrases).where(eq(phrases.id, from));
  const [content] = await tx.select().from(phraseContents).where(eq(phraseContents.phraseId, from));
  const [marks] = await tx.select().from(phraseMarks).where(eq(phraseMarks.phraseId, from));
  const name = `${row!.name}, as it was`.slice(0, 200);
  return {
    phrase: { ...row!, id, name, state: 'discarded' as const, asideFrom: row!.state },
    content: { ...content!, phraseId: undefined },
    marks: { ...marks!, phraseId: undefined },
  };
}

async function sheafFor(tx: Db, { told }: InPhrase, takeId: string): Promise<string | null> {
  if (told.sheaf === null) return null;
  const id = idHere({ id: told.sheaf });
  await tx
    .insert(sheaves)
    .values({ id, name: told.sheafName || told.name, takeId })
    .onConflictDoNothing();
  return id;
}

/** Keeps in mind what a phrase of ours was when theirs had been dealt with: the same once more is no change. */
async function crossed(
  tx: Db,
  { packId }: Setting,
  phraseId: string,
  { played, told }: InPhrase,
): Promise<void> {
  const row = await wholePhrase(tx, phraseId);
  if (!row) return;
  const now = { hash: hashOfPhrase(row), played, told: told as Record<string, unknown> };
  await tx
    .insert(packItems)
    .values({ packId, phraseId, ...now })
    .onConflictDoUpdate({ target: [packItems.packId, packItems.phraseId], set: now });
}

/** Files that somebody has put beside are taken in like any others. */
async function takeAdded({ library, from }: Setting, { added }: PackIn): Promise<number> {
  let written = 0;
  for (const { file, bytes } of added) {
    const { isNew } = await takeIn(library, {
      ...{ bytes, fileName: basename(file), source: FROM_PACKS },
      ...(from ? { contributor: from } : {}),
    });
    if (isNew) written++;
  }
  return written;
}
