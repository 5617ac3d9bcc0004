import { takingOf } from '../../../../server/jobs/merge.ts';
import { endpoint, pathId } from '../../_answer.ts';

/** How far taking a pack in is: phrases that are done, and of how many. */
export const GET = endpoint((_, context) => Promise.resolve({ taking: takingOf(pathId(context)) }));
