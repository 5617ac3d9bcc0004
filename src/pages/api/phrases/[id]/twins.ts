import { twinsOf } from '../../../../server/library/phrases/twice.ts';
import { endpoint, pathId } from '../../_answer.ts';

/** Phrases that are the same as one, or have something in common with it. */
export const GET = endpoint((library, context) => twinsOf(library, pathId(context)));
