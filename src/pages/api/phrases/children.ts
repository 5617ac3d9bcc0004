import { parseRecipe } from '../../../core/normalize/parse.ts';
import { listChildren, makeChildren } from '../../../server/library/phrases/children.ts';
import { endpoint, readBody } from '../_answer.ts';
import { childrenSchema } from '../../../requests/making.ts';

/** What was made of other phrases, the newest first. */
export const GET = endpoint(async ({ db }) => ({ children: await listChildren(db) }));

/** Keeps children of phrases: the same captured notes with more steps. */
export const POST = endpoint(async ({ db }, context) => {
  const { children, ...request } = await readBody(context, childrenSchema);
  const read = children.map(({ recipe, ...child }) => ({ ...child, recipe: parseRecipe(recipe) }));
  return Response.json(await makeChildren(db, { ...request, children: read }), { status: 201 });
});
