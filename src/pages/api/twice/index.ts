import { lookForTwice, stopTwice, twiceGroups } from '../../../server/jobs/twice.ts';
import { endpoint } from '../_answer.ts';

/** What is in the library twice, as far as it was found. */
export const GET = endpoint((library) => twiceGroups(library));

/** Looks through the whole library. */
export const POST = endpoint((library) => Promise.resolve(lookForTwice(library)));

/** Stops looking; what was found stays. */
export const DELETE = endpoint(() => Promise.resolve(stopTwice()));
