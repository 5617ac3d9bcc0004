import { keepTold } from '../../../../server/library/takes/keep-told.ts';
import { toldOfTake } from '../../../../server/library/takes/readings.ts';
import { endpoint, pathId } from '../../_answer.ts';

/** What the take was told of its music by older methods than today's. */
export const GET = endpoint(({ db }, context) => toldOfTake(db, pathId(context)));

/** Keeps what is found in it where it stands: somebody has been told it. */
export const POST = endpoint(({ db }, context) => keepTold(db, pathId(context)));
