import { parseRecipe } from '../../../core/normalize/parse.ts';
import { createBatch, getBatch, recentBatches } from '../../../server/library/phrases/batches.ts';
import { workOn } from '../../../server/jobs/engine.ts';
import { BATCHES } from '../../../server/jobs/batch.ts';
import { catalogOf } from '../../../server/catalog/catalog.ts';
import { checkedFilter } from '../phrases/_filter.ts';
import { endpoint, readBody } from '../_answer.ts';
import { newBatchSchema } from '../../../requests/recipes.ts';

export const GET = endpoint(async ({ db }) => ({ batches: await recentBatches(db) }));

/** Begins to look what a recipe would change about phrases: those that are named, or all that is found. */
export const POST = endpoint(async (library, context) => {
  const { recipe, title, phraseIds = [], filter } = await readBody(context, newBatchSchema);
  const { id } = await createBatch(library.db, {
    title,
    recipe: recipe ? parseRecipe(recipe) : null,
    phraseIds:
      filter === undefined
        ? phraseIds
        : await catalogOf(library).ids(checkedFilter(new URLSearchParams(filter))),
  });
  void workOn(library, BATCHES, id);
  return Response.json(await getBatch(library.db, id), { status: 201 });
});
