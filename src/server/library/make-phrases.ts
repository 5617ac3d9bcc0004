import { randomUUID } from 'node:crypto';
import { and, count, eq } from 'drizzle-orm';
import { harmonyOf } from '../../core/analyze/analysis.ts';
import { changesIn, numeralLine } from '../../core/analyze/changes.ts';
import { findBeginning, pickupBeats } from '../../core/analyze/edges.ts';
import type { Take } from '../../core/capture/take.ts';
import { barsUntil } from '../../core/music/timeline.ts';
import { withPreset } from '../../core/normalize/apply-preset.ts';
import { houseFitting, houseRecipe } from '../../core/normalize/house.ts';
import { parseRecipe } from '../../core/normalize/parse.ts';
import { activeStep, applyRecipe, STEP_TITLES, type Recipe } from '../../core/normalize/recipe.ts';
import { phraseName } from '../../core/phrase/naming.ts';
import { packTable } from '../../core/phrase/pack.ts';
import type { Correction } from '../../core/split/corrections.ts';
import { correctionsOf, singleMoves, type Move } from '../../core/split/moves.ts';
import { barsSounding } from '../../core/split/bars-sounding.ts';
import { noteSet } from '../../core/split/note-set.ts';
import { UNPITCHED, type Role } from '../../core/split/roles.ts';
import { partIndex, partNotes, playingParts, type Split } from '../../core/split/split.ts';
import type { Db } from '../db/client.ts';
import { phrases, projects, sheaves, sources } from '../db/schema.ts';
import { LibraryError } from './errors.ts';
import { getHouse } from './house.ts';
import { phraseContent, sourceClip, type PhraseSource } from './phrase-content.ts';
import { cleanTags, getPhrase, searchTextOf, writeTags } from './phrases.ts';
import { keyOfTake, openTake } from './takes.ts';

export interface MakeRequest {
  takeId: string;
  /** Ids of parts; several become a sheaf. */
  parts: string[];
  startBar: number;
  bars: number;
  projectId?: string | null;
  /** What they are for, such as "ending". */
  tags?: string[];
  /** Kept at once; where the same is kept already, that is answered and nothing is made. */
  keep?: boolean;
}

export interface Made {
  phraseIds: string[];
  sheafId: string | null;
  /** True where all of it was kept already. */
  already: boolean;
}

/**
 * Makes phrases of some bars of some parts, each by its role's house recipe, as drafts. Several parts become
 * a sheaf. Who has opened the take already hands it on. @throws LibraryError 422 where the bars or parts hold nothing.
 */
export async function makePhrases(
  db: Db,
  request: MakeRequest,
  opened?: Awaited<ReturnType<typeof openTake>>,
): Promise<Made> {
  const { row, take, split, byHand } = opened ?? (await openTake(db, request.takeId));
  const corrections = correctionsOf(row.moves.slice(0, row.movesDone));
  const { chords } = harmonyOf(take, split, byHand);
  const lastBar = barsUntil(take.timing.timeline, take.timing.ticks);
  if (request.startBar > lastBar) {
    throw new LibraryError(422, `The take ends with bar ${lastBar}; bar ${request.startBar} is not in it.`);
  }
  const takeKey = keyOfTake(row);
  const tagNames = cleanTags(request.tags ?? []);
  const made: (typeof phrases.$inferInsert)[] = [];
  const beginning = findBeginning(take, split);
  // What leads into the first of these bars comes along.
  const pickup = beginning.pickupInto === request.startBar ? pickupBeats(take, beginning) : 0;
  const bars = { start: request.startBar, count: request.bars, ...(pickup > 0 ? { pickup } : {}) };
  if (request.keep) {
    const kept = await keptAlready(db, request, split, corrections);
    if (kept) return kept;
  }
  const house = await getHouse(db);
  const labels = await labelsOfTake(db, row, request.projectId ?? null);
  const said = recipesOf(row.moves.slice(0, row.movesDone));
  const [had] = await db.select({ count: count() }).from(phrases).where(eq(phrases.takeId, row.id));
  let number = had!.count;
  const changes = takeKey
    ? changesIn(take, chords, takeKey, { startBar: request.startBar, bars: request.bars })
    : [];
  for (const key of request.parts) {
    const index = partIndex(split, key);
    const part = split.parts[index];
    if (!part) throw new LibraryError(422, `There is no part ${key} in this take.`);
    const origins = partNotes(split, index);
    const recipe = withOwn(houseRecipe(part.role, bars, takeKey?.mode ?? null, house), said.get(part.role));
    const source: PhraseSource = {
      origins,
      streams: part.from.map(({ track, channel }) => ({ track, channel })),
      role: part.role,
      program: part.program,
      pitchMap: [...part.pitchMap],
      locked: noteSet(origins.filter((i) => split.locked[i])),
      takeKey,
      labels: { ...labels, part: part.name, number: ++number },
    };
    const { clip, columns } = phraseContent(take, source, recipe);
    if (columns.noteCount === 0) {
      throw new LibraryError(
        422,
        `"${part.name}" has no notes in bars ${bars.start} to ${bars.start + bars.count - 1}.`,
      );
    }
    const name = columns.name ?? phraseName(house.pattern, clip);
    const { labels: _, ...captured } = source;
    const isLoop = tagNames.includes('loop');
    made.push({
      ...columns,
      id: randomUUID(),
      name,
      state: request.keep ? 'kept' : 'draft',
      rights: row.rights,
      takeId: row.id,
      partName: part.name,
      projectId: request.projectId ?? null,
      contributorId: row.contributorId,
      ...captured,
      program: columns.program,
      partProgram: part.program,
      number,
      origins: packTable([origins]),
      corrections,
      numerals: UNPITCHED.has(part.role) ? '' : numeralLine(changes),
      recipe,
      fitting: houseFitting(part.role, isLoop, house),
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
  return { phraseIds: made.map((phrase) => phrase.id), sheafId, already: false };
}

/** The kept phrases of the same bars and notes of the same parts; null unless there is one for each part, in one sheaf. */
async function keptAlready(
  db: Db,
  { takeId, parts, startBar, bars }: MakeRequest,
  split: Split,
  corrections: readonly Correction[],
): Promise<Made | null> {
  const there = await db
    .select({
      id: phrases.id,
      sheafId: phrases.sheafId,
      origins: phrases.origins,
      corrections: phrases.corrections,
    })
    .from(phrases)
    .where(
      and(
        eq(phrases.takeId, takeId),
        eq(phrases.state, 'kept'),
        eq(phrases.startBar, startBar),
        eq(phrases.bars, bars),
      ),
    );
  const same = there.filter((phrase) => JSON.stringify(phrase.corrections) === JSON.stringify(corrections));
  const found = parts.map((id) => {
    const origins = Buffer.from(packTable([partNotes(split, partIndex(split, id))]));
    return same.find((phrase) => origins.equals(phrase.origins));
  });
  const sheafId = found[0]?.sheafId ?? null;
  if (!found.every((phrase) => phrase && (parts.length === 1 || phrase.sheafId === sheafId))) return null;
  return { phraseIds: found.map((phrase) => phrase!.id), sheafId, already: true };
}

/**
 * Makes the phrase of a take that is one clean part: all its bars, by its role's house recipe, kept at once. Says what
 * each step did. @throws LibraryError 409 where the take has several parts or something to look at first.
 */
export async function keepTake(
  db: Db,
  takeId: string,
  projectId: string | null,
): Promise<{ phraseId: string; name: string; done: string[]; already: boolean }> {
  const opened = await openTake(db, takeId);
  const { row, take, split } = opened;
  const playing = playingParts(split);
  const part = playing[0]?.part;
  if (!part || playing.length > 1)
    throw new LibraryError(409, `"${row.name}" has ${playing.length} parts: open it and choose.`);
  if (row.proposals > 0)
    throw new LibraryError(409, `"${row.name}" has something to look at first: open it.`);
  const last = row.account?.barsReceived || barsUntil(take.timing.timeline, take.timing.ticks);
  const startBar = firstBarOf(take, split);
  const { phraseIds, already } = await makePhrases(
    db,
    { takeId, parts: [part.id], startBar, bars: last - startBar + 1, projectId, keep: true },
    opened,
  );
  const phraseId = phraseIds[0]!;
  const { name, recipe, locked, ...phrase } = await getPhrase(db, phraseId);
  const source = { ...phrase, program: part.program, locked: noteSet(locked), labels: {} };
  return {
    phraseId,
    name,
    already,
    done: applyRecipe(sourceClip(take, source, recipe), recipe).reports.map(
      ({ step, summary }) => `${STEP_TITLES[step]}: ${summary}`,
    ),
  };
}

/** Makes drafts of all bars of every part of a take: a sheaf where there are several. */
export async function makeWhole(db: Db, takeId: string, projectId: string | null): Promise<Made> {
  const opened = await openTake(db, takeId);
  const { row, take, split } = opened;
  const parts = playingParts(split).map(({ part }) => part.id);
  if (parts.length === 0) throw new LibraryError(422, `"${row.name}" has no notes that are not set aside.`);
  const startBar = firstBarOf(take, split);
  const bars = barsSounding(take, split) - startBar + 1;
  return makePhrases(db, { takeId, parts, startBar, bars, projectId }, opened);
}

/** The bar a take begins with: the first, or the one its pickup leads into. */
function firstBarOf(take: Take, split: Split): number {
  const { pickupInto } = findBeginning(take, split);
  return pickupInto > 1 && pickupInto <= barsSounding(take, split) ? pickupInto : 1;
}

/** What a naming pattern can say of a take. */
async function labelsOfTake(
  db: Db,
  take: { name: string; sourceId: string | null },
  projectId: string | null,
): Promise<{ take: string; source?: string; project?: string }> {
  const [source] = take.sourceId
    ? await db.select({ name: sources.name }).from(sources).where(eq(sources.id, take.sourceId))
    : [];
  const [project] = projectId
    ? await db.select({ name: projects.name }).from(projects).where(eq(projects.id, projectId))
    : [];
  return { take: take.name, source: source?.name, project: project?.name };
}

/** The recipes that a take's phrases are made with in place of the house's, by role: the last that was said. */
function recipesOf(moves: readonly Move[]): Map<Role, Recipe> {
  const said = new Map<Role, Recipe>();
  for (const move of singleMoves(moves)) {
    if (move.move === 'recipe') said.set(move.role, parseRecipe({ version: 1, steps: move.steps }));
  }
  return said;
}

/** A take's own recipe over the house's, for the same bars and into the same key. */
function withOwn(house: Recipe, own: Recipe | undefined): Recipe {
  if (!own) return house;
  const to = activeStep(house, 'transpose')?.to;
  const steps = own.steps.map((step) =>
    step.step === 'transpose' && step.to !== undefined && to !== undefined ? { ...step, to } : step,
  );
  return withPreset(house, { version: 1, steps });
}
