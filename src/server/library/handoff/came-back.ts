import { and, eq, inArray, lte } from 'drizzle-orm';
import { compute } from '../../compute/pool.ts';
import type { PartReturned } from '../../compute/came-back.ts';
import type { Db } from '../../db/client.ts';
import { mirroredFiles, packItems, packs, phraseMarks, phrases } from '../../db/schema.ts';
import { phrasesOut } from './phrases-out.ts';
import { LibraryError } from '../errors.ts';
import { makePhrases } from '../phrases/make-phrases.ts';
import { hashOfPhrase, insertParents, wholePhrase } from '../phrases/phrase-rows.ts';
import { storedTake } from '../takes/takes.ts';

/** A part of a take that left as a phrase once. */
export type CameBackPart = PartReturned & { name: string };

/** The parts of a take that left in a pack or a mirrored folder once, each with what was done to it since. @throws LibraryError 404 */
export async function cameBackIn(db: Db, takeId: string): Promise<CameBackPart[]> {
  const { row: take, stored } = await storedTake(db, takeId);
  const left = await everLeft(db, takeId, take.createdAt);
  if (left.length === 0) return [];
  const candidates = await compute('candidatesIn', stored, left);
  const ids = [...new Set(candidates.flatMap(({ said, near }) => [...said, ...near]))];
  if (ids.length === 0) return [];
  const sent = (await phrasesOut(db, ids, { key: 'captured', project: null })).map(({ phrase }) => phrase);
  const clips = sent.map(({ id, clip }) => [id, clip] as const);
  const names = new Map(sent.map(({ id, name }) => [id, name]));
  const found = await compute('partsReturned', stored, candidates, clips);
  return found.map((one) => ({ ...one, name: names.get(one.phraseId) ?? '' }));
}

/**
 * Phrases that had left when a take came in, with their fingerprints; not those that were cut from it. What lies in a mirrored folder
 * is known by what its file says alone.
 */
async function everLeft(
  db: Db,
  takeId: string,
  cameIn: Date,
): Promise<[id: string, fingerprint: Uint8Array][]> {
  const sent = await db
    .selectDistinct({ id: packItems.phraseId })
    .from(packItems)
    .innerJoin(packs, eq(packs.id, packItems.packId))
    .where(and(eq(packs.direction, 'out'), lte(packs.madeAt, cameIn)));
  const mirrored = await db.selectDistinct({ id: mirroredFiles.phraseId }).from(mirroredFiles);
  const packed = new Set(sent.map(({ id }) => id));
  const ids = [...new Set([...sent, ...mirrored].map(({ id }) => id))];
  if (ids.length === 0) return [];
  const rows = await db
    .select({ id: phrases.id, takeId: phrases.takeId, fingerprint: phraseMarks.fingerprint })
    .from(phrases)
    .innerJoin(phraseMarks, eq(phraseMarks.phraseId, phrases.id))
    .where(inArray(phrases.id, ids));
  return rows
    .filter((row) => row.takeId !== takeId)
    .map(({ id, fingerprint }) => [id, packed.has(id) ? fingerprint : new Uint8Array()]);
}

/** Keeps a part that came back as a child of what left. @throws LibraryError 404, 422 where that phrase is not what came back */
export async function keepCameBack(
  db: Db,
  takeId: string,
  { part, phraseId }: { part: string; phraseId: string },
): Promise<{ phraseId: string }> {
  const found = (await cameBackIn(db, takeId)).find((one) => one.part === part && one.phraseId === phraseId);
  const parent = await wholePhrase(db, phraseId);
  if (!found || !parent) throw new LibraryError(422, 'This part is not that phrase.');
  const { stored } = await storedTake(db, takeId);
  const { bars } = await compute('wholeOf', stored);
  const made = await makePhrases(db, {
    ...{ takeId, parts: [part], startBar: 1, bars, keep: true },
    projectId: parent.projectId,
  });
  const child = made.phraseIds[0]!;
  if (!made.already)
    await insertParents(db, [
      { phraseId: child, parentPhraseId: phraseId, done: `came back${found.text ? `: ${found.text}` : ''}`, hash: hashOfPhrase(parent) }, // prettier-ignore
    ]);
  return { phraseId: child };
}
