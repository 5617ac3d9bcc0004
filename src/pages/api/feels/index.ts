import { parseFeel } from '../../../core/normalize/parse.ts';
import { keepFeel, listFeels } from '../../../server/library/presets.ts';
import { endpoint, readBody } from '../_answer.ts';
import { feelSchema } from '../../../requests/recipes.ts';

export const GET = endpoint(async ({ db }) => ({ feels: await listFeels(db) }));

/** Keeps a feel under a name, or replaces the one of that name. */
export const PUT = endpoint(async ({ db }, context) => {
  const { name, feel } = await readBody(context, feelSchema);
  return keepFeel(db, { name, feel: parseFeel(feel) });
});
