import { catalogOf } from '../../../server/catalog/catalog.ts';
import { endpoint } from '../_answer.ts';
import { checkedFilter } from './_filter.ts';

/** Ids of everything a filter finds, for what is done to all of it. */
export const GET = endpoint(async (library, { url }) => ({
  phraseIds: await catalogOf(library).ids(checkedFilter(url.searchParams)),
}));
