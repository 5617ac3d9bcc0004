import { fillBars } from '../../../../server/library/takes/joined-takes.ts';
import { endpoint, pathId, readBody } from '../../_answer.ts';
import { fillSchema } from '../../../../requests/takes.ts';

/** Repeats a take until so many bars are filled. */
export const POST = endpoint(async (library, context) => {
  const { bars, last = 'cut' } = await readBody(context, fillSchema);
  return Response.json(await fillBars(library, pathId(context), bars, last), { status: 201 });
});
