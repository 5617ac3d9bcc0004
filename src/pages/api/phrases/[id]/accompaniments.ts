import { accompanimentsFor } from '../../../../server/library/phrases/accompany.ts';
import { endpoint, pathId } from '../../_answer.ts';

/** Kept phrases and sheaves that go under a tune, the best first. */
export const GET = endpoint((library, context) => accompanimentsFor(library, pathId(context)));
