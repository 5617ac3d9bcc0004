import { habitsForTake } from '../../../../server/library/takes/habits.ts';
import { endpoint, pathId } from '../../_answer.ts';

/** What the takes of its source usually need and this one does not have yet. */
export const GET = endpoint(({ db }, context) => habitsForTake(db, pathId(context)));
