import { catalogOf } from '../../server/catalog/catalog.ts';
import { endpoint } from './_answer.ts';

/** The harmony of all kept phrases, counted. */
export const GET = endpoint((library) => catalogOf(library).harmony());
