import { and, asc, eq, inArray, ne, sql } from 'drizzle-orm';
import equal from 'fast-deep-equal';
import type { Fitting } from '../../../core/normalize/fitting.ts';
import { activeStep, type Recipe } from '../../../core/normalize/recipe.ts';
import type { Clip } from '../../../core/phrase/clip.ts';
import { unpackClipNotes, unpackControls, unpackIndices } from '../../../core/phrase/pack.ts';
import { notesIn } from '../../../core/split/note-set.ts';
import { mergedPhraseEdits, phraseEditOf, type PhraseEdit } from '../../../core/merge/phrase-edits.ts';
import { compute } from '../../compute/pool.ts';
import type { Db } from '../../db/client.ts';
import {
  basketItems,
  baskets,
  parts,
  phraseContents,
  phrases,
  projects,
  sheaves,
  sources,
  takes,
} from '../../db/schema.ts';
import { type PhraseState } from '../../../core/phrase/states.ts';
import { settled } from '../kept-meanwhile.ts';
import { LibraryError, notFound } from '../errors.ts';
import { sourceOfRow } from './phrase-content.ts';
import { updatePhrase, wholeColumns, withContent, type WholePhrase } from './phrase-rows.ts';
import { cleanTags, tagsOf, writeTags } from './tags.ts';
import { storedTake } from '../takes/takes.ts';

/** A phrase with everything its screen shows. */
export async function getPhrase(db: Db, id: string) {
  const [found] = await db
    .select({
      ...wholeColumns,
      takeName: takes.name,
      sourceName: sources.name,
      sheafName: sheaves.name,
      project: projects.name,
      /** Parts of its take: what was played alone tells no chords. */
      takeParts: sql<number>`(select count(*)::int from ${parts} where ${parts.takeId} = ${phrases.takeId})`,
    })
    .from(phrases)
    .innerJoin(phraseContents, withContent)
    .innerJoin(takes, eq(takes.id, phrases.takeId))
    .leftJoin(sources, eq(sources.id, takes.sourceId))
    .leftJoin(sheaves, eq(sheaves.id, phrases.sheafId))
    .leftJoin(projects, eq(projects.id, phrases.projectId))
    .where(eq(phrases.id, id));
  if (!found) throw notFound('phrase');
  const { origins, swatch: _swatch, notes: _notes, controls: _controls, changed: _changed, ...row } = found;
  const siblings = row.sheafId
    ? await db
        .select({ id: phrases.id, name: phrases.name, role: phrases.role, partName: phrases.partName })
        .from(phrases)
        .where(and(eq(phrases.sheafId, row.sheafId), ne(phrases.id, id), ne(phrases.state, 'discarded')))
        .orderBy(asc(phrases.createdAt), asc(phrases.name))
    : [];
  return {
    ...row,
    origins: unpackIndices(origins),
    locked: notesIn(row.locked),
    clip: clipOfRow(found),
    tags: (await tagsOf(db, [id])).get(id) ?? [],
    siblings,
  };
}

export type PhraseDetail = Awaited<ReturnType<typeof getPhrase>>;

/** The notes of a phrase as they are kept. */
export function clipOfRow(row: WholePhrase): Clip {
  const notes = unpackClipNotes(row.notes);
  // Key switches that the recipe told from the music were not moved: they stand on the keys it names.
  const switches = new Set(activeStep(row.recipe, 'switches')?.pitches);
  const told = notes.filter(({ pitch }) => switches.has(pitch)).map(({ origin }) => origin);
  return {
    timeline: row.timeline,
    length: row.length,
    pickup: row.pickup,
    notes,
    controls: unpackControls(row.controls),
    role: row.role,
    key: row.keyTonic !== null && row.keyMode ? { tonic: row.keyTonic, mode: row.keyMode } : null,
    channel: row.channel,
    program: row.program,
    locked: [...notesIn(row.locked), ...told],
  };
}

export interface PhraseChange extends Omit<PhraseEdit, 'fitting'> {
  /** Undefined leaves it as it is. */
  fitting?: Fitting | undefined;
  state: PhraseState;
}

/** What a change of a phrase was made on: when that version was written, and what it was. */
export interface PhraseBase {
  basedOn?: string | undefined;
  base?: PhraseEdit | undefined;
}

/**
 * Saves a phrase: the recipe is applied again to the captured notes, and all is written at once. Where another version was written since
 * `basedOn`, both are put together as far as they changed other things of `base`. @throws LibraryError 409 where they did not, 422
 */
export async function savePhrase(
  db: Db,
  id: string,
  { basedOn, base, ...change }: PhraseChange & PhraseBase,
): Promise<PhraseDetail> {
  for (let tries = 1; ; tries++) {
    const opened = await openPhrase(db, id);
    const { name, updatedAt } = opened.row;
    const isBehind = basedOn !== undefined && updatedAt.toISOString() !== basedOn;
    if (isBehind && !base) throw savedElsewhere(name);
    const merged = isBehind ? await overTheirs(db, id, base!, change) : change;
    const written = await writePhrase(db, opened, merged, basedOn === undefined ? null : updatedAt);
    if (written) return getPhrase(db, id);
    if (!base || tries === MOST_TRIES) throw savedElsewhere(name);
  }
}

/** Saves that come between are as many as people press at one moment. */
const MOST_TRIES = 5;

/** A change over what somebody else has saved meanwhile. @throws LibraryError 409 where both changed the same */
async function overTheirs(
  db: Db,
  id: string,
  base: PhraseEdit,
  { state, ...mine }: PhraseChange,
): Promise<PhraseChange> {
  const theirs = phraseEditOf(await getPhrase(db, id));
  const own = { ...mine, fitting: mine.fitting ?? base.fitting };
  return { ...settled(`"${theirs.name}"`, mergedPhraseEdits(base, own, theirs)), state };
}

function savedElsewhere(name: string): LibraryError {
  return new LibraryError(
    409,
    `"${name}" was saved in another window meanwhile. Nothing was saved here: look at both.`,
  );
}

/** Works a change out and writes it; false where another version than the one it was worked out on (null: whichever) stands now. */
async function writePhrase(
  db: Db,
  opened: Awaited<ReturnType<typeof openPhrase>>,
  change: PhraseChange,
  on: Date | null,
): Promise<boolean> {
  const { row } = opened;
  const { id } = row;
  // Taken through other chords, its key is theirs: what it was captured in stays.
  const heardIn = row.capturedKey ?? change.takeKey;
  const source = sourceOfRow(
    { ...row, role: change.role, takeKey: heardIn, capturedKey: null },
    opened.about,
  );
  // Heard in another key, its chords are other numerals.
  const known = equal(heardIn, row.capturedKey ?? row.takeKey) ? opened.from.known : null;
  const made = await compute('contentOf', { ...opened.from, known, source }, change.recipe);
  if (made.phrase.noteCount === 0) {
    throw new LibraryError(422, 'This recipe leaves no notes. Nothing was saved; choose other bars.');
  }
  const { tags: tagNames, recipe: _, fitting, ...changed } = change;
  // A naming step has the last word.
  const phrase = { ...changed, ...made.phrase, name: made.phrase.name ?? change.name };
  const content = { ...made.content, partProgram: source.program, ...(fitting ? { fitting } : {}) };
  return db.transaction(async (tx) => {
    const [now] = await tx
      .select({ updatedAt: phrases.updatedAt })
      .from(phrases)
      .where(eq(phrases.id, id))
      .for('update');
    if (on && now?.updatedAt.getTime() !== on.getTime()) return false;
    await updatePhrase(tx, id, { phrase, content, marks: made.marks });
    await writeTags(tx, id, cleanTags(tagNames));
    return true;
  });
}

/**
 * Applies another recipe to a phrase and leaves all else about it, its name too unless one is given or the recipe gives
 * one. Worked out first; `write` is what a transaction then has to do.
 */
export async function rewritePhrase(
  db: Db,
  id: string,
  change: { recipe: Recipe; fitting: Fitting; name?: string },
): Promise<{ write: (tx: Db) => Promise<void> }> {
  const opened = await openPhrase(db, id);
  const source = sourceOfRow(opened.row, opened.about);
  const made = await compute('contentOf', { ...opened.from, source }, change.recipe);
  const name = change.name ?? made.phrase.name ?? opened.row.name;
  return {
    write: (tx) =>
      updatePhrase(tx, id, {
        phrase: { ...made.phrase, name },
        content: { ...made.content, fitting: change.fitting, partProgram: source.program },
        marks: made.marks,
      }),
  };
}

/** A phrase with the take it was cut from, and what a naming pattern can say of it. */
export async function openPhrase(db: Db, id: string) {
  const [found] = await db
    .select({ row: wholeColumns, source: sources.name, project: projects.name })
    .from(phrases)
    .innerJoin(phraseContents, withContent)
    .innerJoin(takes, eq(takes.id, phrases.takeId))
    .leftJoin(sources, eq(sources.id, takes.sourceId))
    .leftJoin(projects, eq(projects.id, phrases.projectId))
    .where(eq(phrases.id, id));
  if (!found) throw notFound('phrase');
  const { row: takeRow, stored } = await storedTake(db, found.row.takeId);
  const about = {
    take: takeRow.name,
    source: found.source ?? undefined,
    project: found.project ?? undefined,
  };
  const { corrections, changes, startBar, bars } = found.row;
  // What it was taken through is told by its recipe.
  const known = changes && !activeStep(found.row.recipe, 'through') ? { changes, startBar, bars } : null;
  return { row: found.row, from: { stored, corrections, known }, about };
}

/**
 * Keeps drafts as they are, sets phrases aside, makes them drafts again, or brings them back as what they were. Answers the
 * names of the baskets that hold any of them.
 */
export async function setPhraseState(
  db: Db,
  ids: readonly string[],
  state: PhraseState | 'back',
): Promise<{ baskets: string[] }> {
  const next =
    state === 'back'
      ? { state: sql`coalesce(${phrases.asideFrom}, 'kept')`, asideFrom: null }
      : state === 'discarded'
        ? {
            state,
            asideFrom: sql`case when ${phrases.state} = 'discarded' then ${phrases.asideFrom} else ${phrases.state} end`,
          }
        : { state, asideFrom: null };
  const touched = inArray(phrases.id, [...ids]);
  await db
    .update(phrases)
    .set({ ...next, updatedAt: new Date() })
    .where(state === 'back' ? and(touched, eq(phrases.state, 'discarded')) : touched);
  const held = await db
    .selectDistinct({ name: baskets.name })
    .from(basketItems)
    .innerJoin(baskets, eq(baskets.id, basketItems.basketId))
    .where(inArray(basketItems.phraseId, [...ids]))
    .orderBy(asc(baskets.name));
  return { baskets: held.map(({ name }) => name) };
}

/** Drafts, oldest first: made in Split, not yet kept. */
export function listDrafts(db: Db) {
  return db
    .select({
      id: phrases.id,
      name: phrases.name,
      role: phrases.role,
      takeName: takes.name,
      startBar: phrases.startBar,
      bars: phrases.bars,
      noteCount: phrases.noteCount,
      sheafId: phrases.sheafId,
      swatch: sql<string>`encode(${phraseContents.swatch}, 'base64')`,
    })
    .from(phrases)
    .innerJoin(phraseContents, withContent)
    .innerJoin(takes, eq(takes.id, phrases.takeId))
    .where(eq(phrases.state, 'draft'))
    .orderBy(asc(phrases.createdAt), asc(phrases.name));
}

export type DraftItem = Awaited<ReturnType<typeof listDrafts>>[number];
