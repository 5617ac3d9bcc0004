import stringify from 'fast-json-stable-stringify';
import { and, asc, desc, eq, inArray, sql } from 'drizzle-orm';
import { asPreset } from '../../../core/normalize/apply-preset.ts';
import { houseRecipe, type House } from '../../../core/normalize/house.ts';
import { parseRecipe } from '../../../core/normalize/parse.ts';
import type { Recipe } from '../../../core/normalize/recipe.ts';
import { sameSteps, unlikeInWords } from '../../../core/normalize/unlike.ts';
import { habitInWords, matterOf, type Habit } from '../../../core/split/habits.ts';
import type { Role } from '../../../core/split/roles.ts';
import { plural } from '../../../core/words.ts';
import { compute } from '../../compute/pool.ts';
import type { Db } from '../../db/client.ts';
import { forgottenHabits, phraseContents, phrases, sources, takes } from '../../db/schema.ts';
import { getHouse } from '../house.ts';
import { FROM_PACKS } from '../handoff/packs-in.ts';
import { withContent } from '../phrases/phrase-rows.ts';
import { storedTake } from './takes.ts';

/** Takes of a source that are looked at, the newest: what was done long ago is no habit. */
const LOOKED_AT = 6;

/** A habit of a source, and in how many of its takes it was seen. */
export interface SeenHabit {
  /** By which it is forgotten. */
  id: string;
  words: string;
  seen: number;
  of: number;
  forgotten: boolean;
  habit: Habit;
}

/** What is usually done to the takes of a source, in the order it is done; other takes than the one named. */
async function habitsOfSource(
  db: Db,
  sourceId: string,
  house: House,
  exceptTake?: string,
): Promise<SeenHabit[]> {
  const rows = await workedOn(db, sourceId);
  const perTake: Habit[][] = [];
  for (const { id } of rows.filter((row) => row.id !== exceptTake).slice(0, LOOKED_AT))
    perTake.push(await habitsOfTake(db, id, house));
  const forgotten = new Set(
    (await db.select().from(forgottenHabits).where(eq(forgottenHabits.sourceId, sourceId))).map(
      ({ habit }) => habit,
    ),
  );
  return countHabits(perTake).map((seen) => ({
    ...seen,
    words: wordsOf(seen.habit, house),
    forgotten: forgotten.has(seen.id),
  }));
}

function wordsOf(habit: Habit, house: House): string {
  if (habit.do !== 'recipe') return habitInWords(habit);
  const own = parseRecipe({ version: 1, steps: habit.steps });
  const usual: Recipe = {
    version: 1,
    steps: comparable(houseRecipe(habit.role, null, 'major', house), house),
  };
  return `${habit.role}: ${unlikeInWords(own, usual)}`;
}

type Counted = Omit<SeenHabit, 'forgotten' | 'words'>;

/** Counts each habit over takes, newest first. Of two that contradict each other the one seen more often holds, then the newer. */
function countHabits(perTake: readonly (readonly Habit[])[]): Counted[] {
  const found = new Map<string, Counted>();
  for (const habits of perTake) {
    for (const habit of habits) {
      const id = stringify(habit);
      const seen = found.get(id);
      if (seen) seen.seen++;
      else found.set(id, { id, habit, seen: 1, of: perTake.length });
    }
  }
  const strongest = new Map<string, Counted>();
  for (const seen of found.values()) {
    const matter = matterOf(seen.habit);
    if (seen.seen > (strongest.get(matter)?.seen ?? 0)) strongest.set(matter, seen);
  }
  return [...strongest.values()];
}

/** Takes of a source that somebody has done something to, newest first. */
function workedOn(db: Db, sourceId: string) {
  return db
    .select({ id: takes.id })
    .from(takes)
    .where(
      and(
        eq(takes.sourceId, sourceId),
        // What came with packs came as others had left it: nobody here has a habit of it.
        sql`${takes.sourceId} not in (select id from ${sources} where name = ${FROM_PACKS})`,
        eq(takes.aside, false),
        sql`(${takes.movesDone} > 0 or exists (select 1 from phrases p where p.take_id = ${takes.id} and p.state <> 'discarded'))`,
      ),
    )
    .orderBy(desc(takes.createdAt), asc(takes.id));
}

async function habitsOfTake(db: Db, takeId: string, house: House): Promise<Habit[]> {
  const own = await recipeHabits(db, takeId, house);
  const said = new Set(own.map(matterOf));
  return [...(await movesHabits(db, takeId)).filter((habit) => !said.has(matterOf(habit))), ...own];
}

/** Takes whose habits are remembered: to find them, a take is read and taken apart. */
const REMEMBERED = 200;

const remembered = new Map<string, { moves: string; habits: Habit[] }>();

/** The habits in a take's moves, found once for the same moves. */
async function movesHabits(db: Db, takeId: string): Promise<Habit[]> {
  const [row] = await db
    .select({ moves: takes.moves, movesDone: takes.movesDone })
    .from(takes)
    .where(eq(takes.id, takeId));
  const done = row?.moves.slice(0, row.movesDone) ?? [];
  const moves = JSON.stringify(done);
  const known = remembered.get(takeId);
  if (known?.moves === moves) return known.habits;
  const { stored } = await storedTake(db, takeId);
  const habits = await compute('habitsIn', stored);
  remembered.delete(takeId);
  remembered.set(takeId, { moves, habits });
  if (remembered.size > REMEMBERED) remembered.delete(remembered.keys().next().value!);
  return habits;
}

/** Recipes of a take's kept phrases that are not the house's: one a role, the last that was saved. */
async function recipeHabits(db: Db, takeId: string, house: House): Promise<Habit[]> {
  const rows = await db
    .select({ role: phrases.role, recipe: phraseContents.recipe, takeKey: phrases.takeKey })
    .from(phrases)
    .innerJoin(phraseContents, withContent)
    .where(and(eq(phrases.takeId, takeId), eq(phrases.state, 'kept')))
    .orderBy(asc(phrases.updatedAt));
  const byRole = new Map<Role, Habit>();
  for (const { role, recipe, takeKey } of rows) {
    const usual = houseRecipe(role, null, takeKey?.mode ?? null, house);
    const steps = comparable(recipe, house);
    if (sameSteps(steps, comparable(usual, house))) byRole.delete(role);
    else byRole.set(role, { do: 'recipe', role, steps });
  }
  return [...byRole.values()];
}

/** What a recipe says of any take: a name is one phrase's, and which reference key it goes to depends on the take's mode. */
function comparable(recipe: Recipe, house: House): Recipe['steps'] {
  return asPreset(recipe)
    .steps.filter(({ step }) => step !== 'name')
    .map((step) =>
      step.step === 'transpose' && step.to !== undefined ? { ...step, to: house.major } : step,
    );
}

/** What this take could be spared, as one move, and why; `move` is null where there is nothing to do. */
export async function habitsForTake(db: Db, takeId: string) {
  const { row, stored } = await storedTake(db, takeId);
  if (!row.sourceId) return { source: null, habits: [], move: null };
  const [source] = await db.select().from(sources).where(eq(sources.id, row.sourceId));
  const all = await habitsOfSource(db, row.sourceId, await getHouse(db), takeId);
  const usual = all.filter(({ seen, of, forgotten }) => !forgotten && 2 * seen >= of);
  const habits = usual.map(({ habit }) => habit);
  const move = await compute('habitMoveFor', stored, habits, `as usual for ${source!.name}`);
  return {
    source: source!.name,
    habits: usual.map(({ words, seen, of }) => `${words} (${seen} of ${plural(of, 'take')})`),
    move,
  };
}

export type TakeHabits = Awaited<ReturnType<typeof habitsForTake>>;

/** Every source with the habits it has shown, for the page that lists them. */
export async function listHabits(
  db: Db,
): Promise<{ sourceId: string; source: string; habits: Omit<SeenHabit, 'habit'>[] }[]> {
  const house = await getHouse(db);
  const worked = await db
    .selectDistinct({ id: takes.sourceId })
    .from(takes)
    .where(sql`${takes.sourceId} is not null`);
  const rows = await db
    .select()
    .from(sources)
    .where(
      inArray(
        sources.id,
        worked.flatMap(({ id }) => id ?? []),
      ),
    )
    .orderBy(asc(sources.name));
  const answer = [];
  for (const { id, name } of rows) {
    const habits = await habitsOfSource(db, id, house);
    if (habits.length > 0)
      answer.push({ sourceId: id, source: name, habits: habits.map(({ habit: _, ...seen }) => seen) });
  }
  return answer;
}

export type SourceHabits = Awaited<ReturnType<typeof listHabits>>[number];

/** Never offers a habit again, or does again. */
export async function forgetHabit(
  db: Db,
  sourceId: string,
  habit: string,
  forgotten: boolean,
): Promise<void> {
  if (forgotten) await db.insert(forgottenHabits).values({ sourceId, habit }).onConflictDoNothing();
  else
    await db
      .delete(forgottenHabits)
      .where(and(eq(forgottenHabits.sourceId, sourceId), eq(forgottenHabits.habit, habit)));
}
