import { randomUUID } from 'node:crypto';
import { desc, eq, inArray, ne, and, sql } from 'drizzle-orm';
import { parseRecipe } from '../../../core/normalize/parse.ts';
import { activeStep, isReuse, type Recipe } from '../../../core/normalize/recipe.ts';
import { followedRecipe } from '../../../core/reuse/child.ts';
import { compute } from '../../compute/pool.ts';
import type { Db } from '../../db/client.ts';
import { phraseContents, phraseParents, phrases, sheaves, takes } from '../../db/schema.ts';
import { LibraryError } from '../errors.ts';
import { sourceOfRow } from './phrase-content.ts';
import { hashOfPhrase, insertParents, insertPhrases, withContent } from './phrase-rows.ts';
import { openPhrase, rewritePhrase, savePhrase, type PhraseDetail } from './phrases.ts';
import { addTags, cleanTags, tagsOf } from './tags.ts';

export interface ChildRequest {
  parentId: string;
  recipe: Recipe;
  name: string;
}

export interface ChildrenRequest {
  children: ChildRequest[];
  /** What was done, in words: "through Eb | Cm Ab". */
  done: string;
  /** What they are called together, where there are several. */
  sheafName?: string | undefined;
  tags: string[];
  projectId: string | null;
}

/**
 * Keeps children of phrases: the same captured notes with more steps. Several become a sheaf. The parents stay as they are.
 * @throws LibraryError 422 where a recipe leaves no notes; then nothing is kept
 */
export async function makeChildren(
  db: Db,
  request: ChildrenRequest,
): Promise<{ phraseIds: string[]; sheafId: string | null }> {
  const { children, done, sheafName, tags, projectId } = request;
  const sheafId = children.length > 1 ? randomUUID() : null;
  const made = await Promise.all(children.map((child) => madeChild(db, child, { sheafId, projectId })));
  const takeId = made[0]!.phrase.takeId;
  await db.transaction(async (tx) => {
    if (sheafId) await tx.insert(sheaves).values({ id: sheafId, name: sheafName || done, takeId });
    await insertPhrases(tx, made);
    await insertParents(
      tx,
      made.map(({ phrase, parentId, hash }) => ({
        phraseId: phrase.id,
        parentPhraseId: parentId,
        done,
        hash,
      })),
    );
    const had = await tagsOf(
      tx,
      children.map(({ parentId }) => parentId),
    );
    for (const { phrase, parentId } of made)
      await addTags(tx, [phrase.id], cleanTags([...(had.get(parentId) ?? []), ...tags]));
  });
  return { phraseIds: made.map(({ phrase }) => phrase.id), sheafId };
}

async function madeChild(
  db: Db,
  { parentId, recipe, name }: ChildRequest,
  { sheafId, projectId }: { sheafId: string | null; projectId: string | null },
) {
  const { row, from, about } = await openPhrase(db, parentId);
  const source = sourceOfRow(row, about);
  const made = await compute('contentOf', { ...from, known: null, source }, recipe);
  if (made.phrase.noteCount === 0)
    throw new LibraryError(422, `Of "${row.name}" no notes are left. Nothing was kept; choose otherwise.`);
  const { role, takeId, partName, number, contributorId, rights } = row;
  const { origins, streams, pitchMap, locked, corrections, fitting } = row;
  return {
    parentId,
    hash: hashOfPhrase(row),
    phrase: {
      ...made.phrase,
      id: randomUUID(),
      ...{ name, role, takeId, partName, number, contributorId, rights, sheafId },
      state: 'kept' as const,
      projectId: projectId ?? row.projectId,
    },
    content: {
      ...made.content,
      ...{ origins, streams, pitchMap, locked, corrections, fitting },
      partProgram: source.program,
    },
    marks: made.marks,
  };
}

/** What a phrase was made of, and what was made of it. */
export async function relativesOf(db: Db, id: string) {
  const parents = await db
    .select({
      id: phrases.id,
      name: phrases.name,
      role: phrases.role,
      done: phraseParents.done,
      hash: phraseParents.hash,
      notes: phraseContents.notes,
      controls: phraseContents.controls,
      timeline: phraseContents.timeline,
    })
    .from(phraseParents)
    .innerJoin(phrases, eq(phrases.id, phraseParents.parentPhraseId))
    .innerJoin(phraseContents, withContent)
    .where(eq(phraseParents.phraseId, id));
  const children = await db
    .select({ id: phrases.id, name: phrases.name, role: phrases.role, done: phraseParents.done })
    .from(phraseParents)
    .innerJoin(phrases, eq(phrases.id, phraseParents.phraseId))
    .where(and(eq(phraseParents.parentPhraseId, id), ne(phrases.state, 'discarded')))
    .orderBy(desc(phraseParents.createdAt))
    .limit(MOST_CHILDREN);
  return {
    parents: parents.map(({ hash, notes, controls, timeline, ...parent }) => ({
      ...parent,
      /** Changed since this was made of it. */
      changed: hashOfPhrase({ notes, controls, timeline }) !== hash,
    })),
    children,
  };
}

/** So many are told of; the library finds the others. */
const MOST_CHILDREN = 50;

/** The phrases that were made of others, the newest first. */
export async function listChildren(db: Db, limit = 100) {
  const parent = sql`(select ${phrases.name} from ${phrases} where ${phrases.id} = ${phraseParents.parentPhraseId})`;
  return db
    .select({
      id: phrases.id,
      name: phrases.name,
      role: phrases.role,
      bars: phrases.bars,
      noteCount: phrases.noteCount,
      sheafId: phrases.sheafId,
      takeName: takes.name,
      done: phraseParents.done,
      parentId: phraseParents.parentPhraseId,
      parentName: parent.mapWith(String),
      swatch: sql<string>`encode(${phraseContents.swatch}, 'base64')`,
    })
    .from(phraseParents)
    .innerJoin(phrases, eq(phrases.id, phraseParents.phraseId))
    .innerJoin(phraseContents, withContent)
    .innerJoin(takes, eq(takes.id, phrases.takeId))
    .where(ne(phrases.state, 'discarded'))
    .orderBy(desc(phraseParents.createdAt))
    .limit(limit);
}

export type ChildItem = Awaited<ReturnType<typeof listChildren>>[number];

/**
 * Makes a child anew of its parent as it is now: what made it a child stays. @throws LibraryError 422 where it is nobody's child, or
 * the steps no longer go together
 */
export async function followParent(db: Db, id: string): Promise<void> {
  const [link] = await db.select().from(phraseParents).where(eq(phraseParents.phraseId, id));
  if (!link?.parentPhraseId) throw new LibraryError(422, 'This phrase was made of no other.');
  const rows = await db
    .select({
      id: phraseContents.phraseId,
      recipe: phraseContents.recipe,
      fitting: phraseContents.fitting,
      notes: phraseContents.notes,
      controls: phraseContents.controls,
      timeline: phraseContents.timeline,
    })
    .from(phraseContents)
    .where(inArray(phraseContents.phraseId, [id, link.parentPhraseId]));
  const child = rows.find((row) => row.id === id)!;
  const parent = rows.find((row) => row.id === link.parentPhraseId)!;
  if (!child.recipe.steps.some(({ step }) => isReuse(step)))
    throw new LibraryError(422, 'Nothing in its recipe says what was made of its parent.');
  const recipe = parseRecipe(followedRecipe(parent.recipe, child.recipe));
  const { write } = await rewritePhrase(db, id, { recipe, fitting: child.fitting });
  await db.transaction(async (tx) => {
    await write(tx);
    await tx
      .update(phraseParents)
      .set({ hash: hashOfPhrase(parent) })
      .where(eq(phraseParents.id, link.id));
  });
}

/** Saves a phrase, and makes its layers anew of it: a layer is bound to its phrase. @throws LibraryError 409, 422 */
export async function saveWithLayers(
  db: Db,
  id: string,
  change: Parameters<typeof savePhrase>[2],
): Promise<PhraseDetail> {
  const saved = await savePhrase(db, id, change);
  for (const layer of await layersOf(db, id)) await followParent(db, layer);
  return saved;
}

/** Phrases whose last step of reuse makes them a layer of one. */
async function layersOf(db: Db, id: string): Promise<string[]> {
  const rows = await db
    .select({ id: phrases.id, recipe: phraseContents.recipe })
    .from(phraseParents)
    .innerJoin(phrases, eq(phrases.id, phraseParents.phraseId))
    .innerJoin(phraseContents, withContent)
    .where(and(eq(phraseParents.parentPhraseId, id), ne(phrases.state, 'discarded')));
  return rows.filter(({ recipe }) => activeStep(recipe, 'layer')).map((row) => row.id);
}
