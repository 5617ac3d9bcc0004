import { parseFitting, parseRecipe } from '../../../../core/normalize/parse.ts';
import { saveWithLayers } from '../../../../server/library/phrases/children.ts';
import { getPhrase } from '../../../../server/library/phrases/phrases.ts';
import { endpoint, pathId, readBody } from '../../_answer.ts';
import { phraseChangeSchema } from '../../../../requests/phrases.ts';

export const GET = endpoint(({ db }, context) => getPhrase(db, pathId(context)));

export const PUT = endpoint(async ({ db }, context) => {
  const change = await readBody(context, phraseChangeSchema);
  return saveWithLayers(db, pathId(context), {
    ...change,
    recipe: parseRecipe(change.recipe),
    // Who does not know of fittings leaves it as it is.
    fitting: change.fitting === undefined ? undefined : parseFitting(change.fitting),
    base: change.base && {
      ...change.base,
      recipe: parseRecipe(change.base.recipe),
      fitting: parseFitting(change.base.fitting),
    },
  });
});
