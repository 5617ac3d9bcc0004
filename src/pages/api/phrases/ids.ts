import { foundIds } from '../../../server/library/search.ts';
import { endpoint } from '../_answer.ts';
import { filterFrom } from './_filter.ts';

/** Ids of everything a filter finds, for what is done to all of it. */
export const GET = endpoint(async ({ db }, { url }) => ({
  phraseIds: await foundIds(db, filterFrom(url.searchParams)),
}));
