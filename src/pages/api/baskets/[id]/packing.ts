import { packingOf } from '../../../../server/library/packing.ts';
import { endpoint, pathId } from '../../_answer.ts';

/** How far a pack is that is under way: previews that are made, and of how many. */
export const GET = endpoint((_library, context) => Promise.resolve({ packing: packingOf(pathId(context)) }));
