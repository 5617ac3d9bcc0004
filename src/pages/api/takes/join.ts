import { joinTakes } from '../../../server/library/takes/joined-takes.ts';
import { endpoint, readBody } from '../_answer.ts';
import { joinTakesSchema } from '../../../requests/takes.ts';

/** Several takes as one. */
export const POST = endpoint(async (library, context) => {
  return Response.json(await joinTakes(library, await readBody(context, joinTakesSchema)), { status: 201 });
});
