import { readBeside } from '../../../core/catalog/beside.ts';
import { PHRASE_SORTS, type PhraseSort } from '../../../core/catalog/find.ts';
import { makePhrases } from '../../../server/library/phrases/make-phrases.ts';
import { searchPhrases } from '../../../server/library/phrases/search.ts';
import { LibraryError } from '../../../server/library/errors.ts';
import { isUuid } from '../../../server/checksum.ts';
import { endpoint, readBody } from '../_answer.ts';
import { makeSchema } from '../../../requests/making.ts';
import { checkedFilter } from './_filter.ts';

/** Phrases that play along at the most, and other parts. */
const MOST_PINS = 8;

/** A page of the list: a filter, and `sort`, the project it `suits`, phrases that are `pin`ned, parts that play `beside` them, and `offset`. */
export const GET = endpoint((library, { url: { searchParams } }) => {
  const sort = (searchParams.get('sort') ?? 'name') as PhraseSort;
  if (!PHRASE_SORTS.includes(sort))
    throw new LibraryError(400, `"sort" is one of ${PHRASE_SORTS.join(', ')}.`);
  const projectId = searchParams.get('suits') ?? undefined;
  const pins = searchParams.getAll('pin').slice(0, MOST_PINS);
  if ([projectId, ...pins].some((id) => id !== undefined && !isUuid(id)))
    throw new LibraryError(400, '"suits" is the id of a project, and "pin" that of a phrase.');
  const parts = searchParams.getAll('beside').slice(0, MOST_PINS).map(readBeside);
  const beside = parts.filter((part) => part !== null);
  if (beside.length < parts.length)
    throw new LibraryError(400, '"beside" is a part that plays along: role, range, swing and places.');
  const offset = Number(searchParams.get('offset') ?? 0);
  if (!Number.isInteger(offset) || offset < 0) throw new LibraryError(400, '"offset" is a whole number.');
  return searchPhrases(library, {
    filter: checkedFilter(searchParams),
    sort,
    projectId,
    pins,
    beside,
    offset,
  });
});

/** Makes drafts of some bars of some parts of a take. */
export const POST = endpoint(async ({ db }, context) => {
  const made = await makePhrases(db, await readBody(context, makeSchema));
  return Response.json(made, { status: 201 });
});
