import { catalogOf } from '../../../server/catalog/catalog.ts';
import { endpoint } from '../_answer.ts';
import { checkedFilter } from './_filter.ts';

export const GET = endpoint((library, { url }) => catalogOf(library).counts(checkedFilter(url.searchParams)));
