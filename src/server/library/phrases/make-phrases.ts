import { randomUUID } from 'node:crypto';
import { and, eq } from 'drizzle-orm';
import { isReuse } from '../../../core/normalize/recipe.ts';
import { compute } from '../../compute/pool.ts';
import type { CutRequest, CutRow, KeptPhrase } from '../../compute/cut-phrases.ts';
import type { Db } from '../../db/client.ts';
import { phraseContents, phrases, projects, sheaves, sources, type takes } from '../../db/schema.ts';
import { LibraryError } from '../errors.ts';
import { getHouse } from '../house.ts';
import { insertPhrases, withContent } from './phrase-rows.ts';
import { cleanTags, writeTags } from './tags.ts';
import { keyOfTake, storedTake } from '../takes/takes.ts';

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

type TakeRow = typeof takes.$inferSelect;

/**
 * Makes phrases of some bars of some parts, each by its role's house recipe, as drafts. Several parts become
 * a sheaf. @throws LibraryError 422 where the bars or parts hold nothing.
 */
export async function makePhrases(db: Db, request: MakeRequest): Promise<Made> {
  const { takeId, parts, startBar, bars, tags = [] } = request;
  const cut: CutRequest = { parts, bars: { startBar, bars }, isLoop: cleanTags(tags).includes('loop') };
  const made = await cutAndWrite(db, takeId, cut, request);
  return { phraseIds: made.phraseIds, sheafId: made.sheafId, already: made.already };
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
  const { row, stored } = await storedTake(db, takeId);
  const whole = await compute('wholeOf', stored);
  if (whole.parts !== 1) throw new LibraryError(409, `"${row.name}" has ${whole.what}: open it and choose.`);
  if (row.proposals > 0)
    throw new LibraryError(409, `"${row.name}" has something to look at first: open it.`);
  const lastBar = row.account?.barsReceived || whole.bars;
  const cut: CutRequest = { parts: 'all', bars: { whole: true, lastBar }, isLoop: false };
  const made = await cutAndWrite(db, takeId, cut, { projectId, keep: true });
  const phraseId = made.phraseIds[0]!;
  if (made.already) {
    const [kept] = await db.select({ name: phrases.name }).from(phrases).where(eq(phrases.id, phraseId));
    return { phraseId, name: kept!.name, done: [], already: true };
  }
  const [first] = made.rows;
  const done = await compute('stepsDone', stored, first!);
  return { phraseId, name: first!.phrase.name, done, already: false };
}

/** What is written in the transaction that writes the phrases; nothing of either stays where it throws. */
type Beside = (tx: Db, phraseIds: string[]) => Promise<void>;

/** Makes drafts of all bars of every part of a take: a sheaf where there are several. */
export async function makeWhole(
  db: Db,
  takeId: string,
  projectId: string | null,
  beside?: Beside,
): Promise<Made> {
  const { row, stored } = await storedTake(db, takeId);
  const { parts } = await compute('wholeOf', stored);
  if (parts === 0) throw new LibraryError(422, `"${row.name}" has no notes that are not set aside.`);
  const cut: CutRequest = { parts: 'all', bars: { whole: true }, isLoop: false };
  const { phraseIds, sheafId, already } = await cutAndWrite(db, takeId, cut, { projectId }, beside);
  return { phraseIds, sheafId, already };
}

/** Cuts in a thread, and writes all that was cut at once. */
async function cutAndWrite(
  db: Db,
  takeId: string,
  cut: CutRequest,
  { projectId = null, tags, keep = false }: Pick<MakeRequest, 'projectId' | 'tags' | 'keep'>,
  beside?: Beside,
): Promise<Made & { rows: CutRow[] }> {
  const { row, stored } = await storedTake(db, takeId);
  if (keep) {
    const kept = await compute('keptAlready', stored, cut, await keptOf(db, takeId));
    if (kept) return { ...kept, already: true, rows: [] };
  }
  const had = await db.select({ name: phrases.name }).from(phrases).where(eq(phrases.takeId, takeId));
  const { startBar, bars, rows } = await compute('cutPhrases', stored, cut, {
    house: await getHouse(db),
    takeKey: keyOfTake(row),
    labels: await labelsOfTake(db, row, projectId),
    count: had.length,
    names: had.map(({ name }) => name),
  });
  const names = cleanTags([...(tags ?? []), ...(await tagsOfSource(db, row.sourceId))]);
  const sheafId = rows.length > 1 ? randomUUID() : null;
  const made = rows.map(({ phrase, ...rest }) => ({
    ...rest,
    phrase: {
      ...phrase,
      id: randomUUID(),
      state: keep ? ('kept' as const) : ('draft' as const),
      takeId,
      sheafId,
      projectId,
      rights: row.rights,
      contributorId: row.contributorId,
    },
  }));
  const phraseIds = made.map(({ phrase }) => phrase.id);
  await db.transaction(async (tx) => {
    if (sheafId) {
      const where = bars === 1 ? `bar ${startBar}` : `bars ${startBar} to ${startBar + bars - 1}`;
      await tx.insert(sheaves).values({ id: sheafId, name: `${row.name}, ${where}`, takeId });
    }
    await insertPhrases(tx, made);
    for (const id of phraseIds) await writeTags(tx, id, names);
    await beside?.(tx, phraseIds);
  });
  return { phraseIds, sheafId, already: false, rows };
}

/** The tags that everything of a source gets. */
async function tagsOfSource(db: Db, sourceId: string | null): Promise<string[]> {
  if (!sourceId) return [];
  const [source] = await db.select({ tags: sources.tags }).from(sources).where(eq(sources.id, sourceId));
  return source?.tags ?? [];
}

/** The kept phrases of a take, by what they were cut from; what was made of them is another phrase. */
async function keptOf(db: Db, takeId: string): Promise<KeptPhrase[]> {
  const kept = await db
    .select({
      recipe: phraseContents.recipe,
      id: phrases.id,
      sheafId: phrases.sheafId,
      startBar: phrases.startBar,
      bars: phrases.bars,
      origins: phraseContents.origins,
      corrections: phraseContents.corrections,
    })
    .from(phrases)
    .innerJoin(phraseContents, withContent)
    .where(and(eq(phrases.takeId, takeId), eq(phrases.state, 'kept')));
  return kept.flatMap(({ recipe, ...phrase }) =>
    recipe.steps.some(({ step, off }) => isReuse(step) && !off) ? [] : [phrase],
  );
}

/** What a naming pattern can say of a take. */
async function labelsOfTake(
  db: Db,
  take: Pick<TakeRow, 'name' | 'sourceId'>,
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
