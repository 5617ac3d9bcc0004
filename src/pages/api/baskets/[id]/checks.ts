import { checkBasket } from '../../../../server/library/handoff/packing.ts';
import { endpoint, pathId } from '../../_answer.ts';

/** What somebody who opens the pack would stumble over. */
export const GET = endpoint(async ({ db }, context) => ({ checks: await checkBasket(db, pathId(context)) }));
