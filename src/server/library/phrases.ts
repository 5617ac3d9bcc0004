import { randomUUID } from 'node:crypto';
import { and, asc, eq, getTableColumns, inArray, ne, sql } from 'drizzle-orm';
import { harmonyOf } from '../../core/analyze/analysis.ts';
import { changesIn, numeralLine } from '../../core/analyze/changes.ts';
import type { Take } from '../../core/capture/take.ts';
import type { Key } from '../../core/music/key.ts';
import { barsUntil, bpmOf, meterAt, tempoAt } from '../../core/music/timeline.ts';
import { houseRecipe } from '../../core/normalize/presets.ts';
import { applyRecipe, STEP_TITLES, type Recipe, type RecipeStep } from '../../core/normalize/recipe.ts';
import { clipFromNotes, type Clip } from '../../core/phrase/clip.ts';
import {
  packClipNotes,
  packControls,
  packTable,
  unpackClipNotes,
  unpackControls,
  unpackTable,
} from '../../core/phrase/pack.ts';
import { packSwatch } from '../../core/phrase/swatch.ts';
import { correctTake } from '../../core/split/corrections.ts';
import { correctionsOf } from '../../core/split/moves.ts';
import { notesIn, noteSet, type NoteSet } from '../../core/split/note-set.ts';
import { UNPITCHED, type Role } from '../../core/split/roles.ts';
import { partIndex, partNotes, playingParts, type PitchPair } from '../../core/split/split.ts';
import type { Db } from '../db/client.ts';
import { phrases, phraseTags, projects, sheaves, tags, takes, type PhraseState } from '../db/schema.ts';
import { LibraryError, notFound } from './errors.ts';
import { openOriginal, openTake } from './takes.ts';

type PhraseTableRow = typeof phrases.$inferSelect;

export interface MakeRequest {
  takeId: string;
  /** Ids of parts; several become a sheaf. */
  parts: string[];
  startBar: number;
  bars: number;
  projectId?: string | null;
  /** What they are for, such as "ending". */
  tags?: string[];
}

/**
 * Makes phrases of some bars of some parts, each by its role's house recipe, as drafts. Several parts become
 * a sheaf. @throws LibraryError 422 where the bars or parts hold nothing.
 */
export async function makePhrases(
  db: Db,
  request: MakeRequest,
): Promise<{ phraseIds: string[]; sheafId: string | null }> {
  const { row, take, split, byHand } = await openTake(db, request.takeId);
  const corrections = correctionsOf(row.moves.slice(0, row.movesDone));
  const { chords } = harmonyOf(take, split, byHand);
  const lastBar = barsUntil(take.timing.timeline, take.timing.ticks);
  if (request.startBar > lastBar) {
    throw new LibraryError(422, `The take ends with bar ${lastBar}; bar ${request.startBar} is not in it.`);
  }
  const takeKey = row.chosenKey ?? row.keys[0] ?? null;
  const tagNames = cleanTags(request.tags ?? []);
  const made: (typeof phrases.$inferInsert)[] = [];
  const bars = { start: request.startBar, count: request.bars };
  const changes = takeKey
    ? changesIn(take, chords, takeKey, { startBar: request.startBar, bars: request.bars })
    : [];
  for (const key of request.parts) {
    const index = partIndex(split, key);
    const part = split.parts[index];
    if (!part) throw new LibraryError(422, `There is no part ${key} in this take.`);
    const origins = partNotes(split, index);
    const recipe = houseRecipe(part.role, bars, takeKey?.mode === 'minor');
    const source: PhraseSource = {
      origins,
      streams: part.from.map(({ track, channel }) => ({ track, channel })),
      role: part.role,
      channel: part.channel,
      program: part.program,
      pitchMap: [...part.pitchMap],
      locked: noteSet(origins.filter((i) => split.locked[i])),
      takeKey: takeKey && { tonic: takeKey.tonic, mode: takeKey.mode },
    };
    const content = phraseContent(take, source, recipe);
    if (content.noteCount === 0) {
      throw new LibraryError(
        422,
        `"${part.name}" has no notes in bars ${bars.start} to ${bars.start + bars.count - 1}.`,
      );
    }
    const name = `${row.name}, ${part.name.toLowerCase()}`;
    made.push({
      id: randomUUID(),
      name,
      takeId: row.id,
      partName: part.name,
      projectId: request.projectId ?? null,
      contributorId: row.contributorId,
      ...source,
      origins: packTable([origins]),
      corrections,
      numerals: UNPITCHED.has(part.role) ? '' : numeralLine(changes),
      recipe,
      ...content,
      searchText: searchTextOf(name, part.role, part.name, row.name, tagNames),
    });
  }
  const sheafId = made.length > 1 ? randomUUID() : null;
  await db.transaction(async (tx) => {
    if (sheafId) {
      const name = `${row.name}, bars ${bars.start} to ${bars.start + bars.count - 1}`;
      await tx.insert(sheaves).values({ id: sheafId, name, takeId: row.id });
    }
    await tx.insert(phrases).values(made.map((phrase) => ({ ...phrase, sheafId })));
    for (const { id } of made) await writeTags(tx, id!, tagNames);
  });
  return { phraseIds: made.map((phrase) => phrase.id), sheafId };
}

/**
 * Makes the phrase of a take that is one clean part: all its bars, by its role's house recipe, kept at once. Says what
 * each step did. @throws LibraryError 409 where the take has several parts or something to look at first.
 */
export async function keepTake(
  db: Db,
  takeId: string,
  projectId: string | null,
): Promise<{ phraseId: string; name: string; done: string[] }> {
  const { row, take, split } = await openTake(db, takeId);
  const playing = playingParts(split);
  const part = playing[0]?.part;
  if (!part || playing.length > 1)
    throw new LibraryError(409, `"${row.name}" has ${playing.length} parts: open it and choose.`);
  if (row.proposals > 0)
    throw new LibraryError(409, `"${row.name}" has something to look at first: open it.`);
  const bars = row.account?.barsReceived || barsUntil(take.timing.timeline, take.timing.ticks);
  const { phraseIds } = await makePhrases(db, { takeId, parts: [part.id], startBar: 1, bars, projectId });
  const phraseId = phraseIds[0]!;
  await setPhraseState(db, [phraseId], 'kept');
  const { name, recipe, origins, ...phrase } = await getPhrase(db, phraseId);
  const source = clipFromNotes(take, origins, { ...phrase, channel: part.channel, key: phrase.takeKey });
  return {
    phraseId,
    name,
    done: applyRecipe(source, recipe).reports.map(({ step, summary }) => `${STEP_TITLES[step]}: ${summary}`),
  };
}

/** The captured notes a phrase is made of, and how they are taken. */
interface PhraseSource {
  origins: number[];
  streams: { track: number; channel: number }[];
  role: Role;
  channel: number;
  program: number;
  pitchMap: PitchPair[];
  locked: NoteSet;
  takeKey: Key | null;
}

/** What a recipe makes of captured notes, as the columns of a phrase. */
function phraseContent(take: Take, source: PhraseSource, recipe: Recipe) {
  const { clip } = applyRecipe(
    clipFromNotes(take, source.origins, {
      ...source,
      key: source.takeKey,
      locked: notesIn(source.locked),
    }),
    recipe,
  );
  const meter = meterAt(clip.timeline, 0);
  const bars = recipe.steps.find((step) => step.step === 'bars' && !step.off) as
    Extract<RecipeStep, { step: 'bars' }> | undefined;
  return {
    notes: packClipNotes(clip.notes),
    controls: packControls(clip.controls),
    swatch: packSwatch(clip),
    timeline: clip.timeline,
    noteCount: clip.notes.length,
    length: clip.length,
    startBar: bars?.start ?? 1,
    bars: barsUntil(clip.timeline, clip.length),
    keyTonic: clip.key?.tonic ?? null,
    keyMode: clip.key?.mode ?? null,
    bpm: Math.round(bpmOf(tempoAt(clip.timeline, 0).microseconds) * 100) / 100,
    meterNumerator: meter.numerator,
    meterDenominator: meter.denominator,
    // What is kept stands on the first channel, drums on the tenth: the house standard.
    channel: clip.role === 'drums' ? 9 : 0,
    program: clip.program,
  };
}

/** A phrase with everything its screen shows. */
export async function getPhrase(db: Db, id: string) {
  const [found] = await db
    .select({
      ...getTableColumns(phrases),
      takeName: takes.name,
      sheafName: sheaves.name,
      project: projects.name,
    })
    .from(phrases)
    .innerJoin(takes, eq(takes.id, phrases.takeId))
    .leftJoin(sheaves, eq(sheaves.id, phrases.sheafId))
    .leftJoin(projects, eq(projects.id, phrases.projectId))
    .where(eq(phrases.id, id));
  if (!found) throw notFound('phrase');
  const { origins, swatch: _swatch, notes: _notes, controls: _controls, searchText: _search, ...row } = found;
  const siblings = row.sheafId
    ? await db
        .select({ id: phrases.id, name: phrases.name, role: phrases.role, partName: phrases.partName })
        .from(phrases)
        .where(and(eq(phrases.sheafId, row.sheafId), ne(phrases.id, id), ne(phrases.state, 'discarded')))
        .orderBy(asc(phrases.createdAt), asc(phrases.name))
    : [];
  return {
    ...row,
    origins: unpackTable(origins, 1)[0]!,
    locked: notesIn(row.locked),
    clip: clipOfRow(found),
    tags: (await tagsOf(db, [id])).get(id) ?? [],
    siblings,
  };
}

export type PhraseDetail = Awaited<ReturnType<typeof getPhrase>>;

/** The notes of a phrase as they are kept. */
export function clipOfRow(row: PhraseTableRow): Clip {
  return {
    timeline: row.timeline,
    length: row.length,
    notes: unpackClipNotes(row.notes),
    controls: unpackControls(row.controls),
    role: row.role,
    key: row.keyTonic !== null && row.keyMode ? { tonic: row.keyTonic, mode: row.keyMode } : null,
    channel: row.channel,
    program: row.program,
    locked: notesIn(row.locked),
  };
}

export interface PhraseChange {
  name: string;
  role: Role;
  takeKey: Key | null;
  recipe: Recipe;
  tags: string[];
  projectId: string | null;
  rights: string;
  state: PhraseState;
}

/** Saves a phrase: the recipe is applied again to the captured notes, and all is written at once. */
export async function savePhrase(db: Db, id: string, change: PhraseChange): Promise<PhraseDetail> {
  const [row] = await db.select().from(phrases).where(eq(phrases.id, id));
  if (!row) throw notFound('phrase');
  const { row: takeRow, original } = await openOriginal(db, row.takeId);
  const content = phraseContent(
    correctTake(original, row.corrections),
    {
      origins: unpackTable(row.origins, 1)[0]!,
      streams: row.streams,
      role: change.role,
      channel: row.channel,
      program: row.program,
      pitchMap: row.pitchMap,
      locked: row.locked,
      takeKey: change.takeKey,
    },
    change.recipe,
  );
  if (content.noteCount === 0) {
    throw new LibraryError(422, 'This recipe leaves no notes. Nothing was saved; choose other bars.');
  }
  const { tags: tagNames, ...columns } = change;
  const names = cleanTags(tagNames);
  await db.transaction(async (tx) => {
    await tx
      .update(phrases)
      .set({
        ...columns,
        ...content,
        searchText: searchTextOf(change.name, change.role, row.partName, takeRow.name, names),
        updatedAt: new Date(),
      })
      .where(eq(phrases.id, id));
    await writeTags(tx, id, names);
  });
  return getPhrase(db, id);
}

/** Keeps drafts as they are, discards them, or makes them drafts again. */
export async function setPhraseState(db: Db, ids: string[], state: PhraseState): Promise<void> {
  await db.update(phrases).set({ state, updatedAt: new Date() }).where(inArray(phrases.id, ids));
}

function cleanTags(names: readonly string[]): string[] {
  return [...new Set(names.map((name) => name.trim().toLowerCase()).filter(Boolean))];
}

async function writeTags(db: Db, phraseId: string, names: string[]): Promise<void> {
  await db.delete(phraseTags).where(eq(phraseTags.phraseId, phraseId));
  if (names.length === 0) return;
  await db
    .insert(tags)
    .values(names.map((name) => ({ id: randomUUID(), name })))
    .onConflictDoNothing();
  const rows = await db.select().from(tags).where(inArray(tags.name, names));
  await db.insert(phraseTags).values(rows.map((tag) => ({ phraseId, tagId: tag.id })));
}

/** Tags by phrase, in alphabetical order. */
export async function tagsOf(db: Db, ids: readonly string[]): Promise<Map<string, string[]>> {
  const byPhrase = new Map<string, string[]>();
  if (ids.length === 0) return byPhrase;
  const rows = await db
    .select({ phraseId: phraseTags.phraseId, name: tags.name })
    .from(phraseTags)
    .innerJoin(tags, eq(tags.id, phraseTags.tagId))
    .where(inArray(phraseTags.phraseId, [...ids]))
    .orderBy(asc(tags.name));
  for (const { phraseId, name } of rows) byPhrase.set(phraseId, [...(byPhrase.get(phraseId) ?? []), name]);
  return byPhrase;
}

function searchTextOf(
  name: string,
  role: string,
  part: string,
  take: string,
  tagNames: readonly string[],
): string {
  return [name, role, part, take, ...tagNames].join(' ').toLowerCase();
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
      swatch: sql<string>`encode(${phrases.swatch}, 'base64')`,
    })
    .from(phrases)
    .innerJoin(takes, eq(takes.id, phrases.takeId))
    .where(eq(phrases.state, 'draft'))
    .orderBy(asc(phrases.createdAt), asc(phrases.name));
}

export type DraftItem = Awaited<ReturnType<typeof listDrafts>>[number];
