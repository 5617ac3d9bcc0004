import { countFacets } from '../../../server/library/search.ts';
import { endpoint } from '../_answer.ts';
import { filterFrom } from './_filter.ts';

export const GET = endpoint(({ db }, { url }) => countFacets(db, filterFrom(url.searchParams)));
