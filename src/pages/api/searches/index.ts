import { keepSearch, listSearches } from '../../../server/library/phrases/searches.ts';
import { endpoint, readBody } from '../_answer.ts';
import { searchSchema } from '../../../requests/phrases.ts';

export const GET = endpoint(({ db }) => listSearches(db));

/** Keeps a search under a name. */
export const POST = endpoint(async ({ db }, context) => {
  const { name, query } = await readBody(context, searchSchema);
  return Response.json(await keepSearch(db, name, query), { status: 201 });
});
