import { makePhrases } from '../../../server/library/make-phrases.ts';
import { searchPhrases } from '../../../server/library/search.ts';
import { LibraryError } from '../../../server/library/errors.ts';
import { endpoint, isId, readBody } from '../_answer.ts';
import { makeSchema } from '../_schemas.ts';
import { filterFrom } from './_filter.ts';

export const GET = endpoint(({ db }, { url }) => {
  const name = url.searchParams.get('afterName');
  const id = url.searchParams.get('afterId');
  if (id !== null && !isId(id)) throw new LibraryError(400, '"afterId" is the id of a phrase.');
  return searchPhrases(db, filterFrom(url.searchParams), name !== null && id ? { name, id } : undefined);
});

/** Makes drafts of some bars of some parts of a take. */
export const POST = endpoint(async ({ db }, context) => {
  const made = await makePhrases(db, await readBody(context, makeSchema));
  return Response.json(made, { status: 201 });
});
