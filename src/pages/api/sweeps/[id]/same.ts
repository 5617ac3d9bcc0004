import { setSameAside } from '../../../../server/library/takes/sweeps.ts';
import { endpoint, pathId } from '../../_answer.ts';

/** Sets the takes of runs aside that are an earlier run again. */
export const POST = endpoint(({ db }, context) => setSameAside(db, pathId(context)));
