import { tidyMirror } from '../../../../server/jobs/mirror.ts';
import { endpoint, pathId } from '../../_answer.ts';

/** What tidying the names would move. */
export const GET = endpoint((library, context) => tidyMirror(library, pathId(context), { apply: false }));

/** Tidies the names: each file gets the name that it would have if it were new. */
export const POST = endpoint((library, context) => tidyMirror(library, pathId(context), { apply: true }));
