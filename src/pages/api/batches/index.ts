import { parseRecipe } from '../../../core/normalize/parse.ts';
import { createBatch, getBatch, recentBatches } from '../../../server/library/batches.ts';
import { workOn } from '../../../server/jobs/engine.ts';
import { BATCHES } from '../../../server/jobs/batch.ts';
import { endpoint, readBody } from '../_answer.ts';
import { newBatchSchema } from '../_schemas.ts';

export const GET = endpoint(async ({ db }) => ({ batches: await recentBatches(db) }));

/** Begins to look what a recipe would change about phrases. */
export const POST = endpoint(async (library, context) => {
  const { recipe, ...request } = await readBody(context, newBatchSchema);
  const { id } = await createBatch(library.db, { ...request, recipe: recipe ? parseRecipe(recipe) : null });
  void workOn(library, BATCHES, id);
  return Response.json(await getBatch(library.db, id), { status: 201 });
});
