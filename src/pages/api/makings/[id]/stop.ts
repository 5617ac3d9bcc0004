import { stopMaking } from '../../../../server/library/phrases/makings.ts';
import { endpoint, pathId } from '../../_answer.ts';

/** Stops it before the next take; what was made stays. */
export const POST = endpoint(({ db }, context) => stopMaking(db, pathId(context)));
