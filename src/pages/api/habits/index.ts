import { forgetHabit, listHabits } from '../../../server/library/takes/habits.ts';
import { endpoint, readBody } from '../_answer.ts';
import { forgetSchema } from '../../../requests/recipes.ts';

/** What every source's takes usually need. */
export const GET = endpoint(async ({ db }) => ({ sources: await listHabits(db) }));

/** Forgets a habit, or remembers it again. */
export const POST = endpoint(async ({ db }, context) => {
  const { sourceId, habit, forgotten } = await readBody(context, forgetSchema);
  await forgetHabit(db, sourceId, habit, forgotten);
});
