import { mirrorsOf } from '../../../server/jobs/mirror.ts';
import { endpoint } from '../_answer.ts';

/** Where baskets are mirrored to, and how each mirror stands. */
export const GET = endpoint((library) => Promise.resolve(mirrorsOf(library)));
