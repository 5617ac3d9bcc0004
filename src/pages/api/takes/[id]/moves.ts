import { object } from 'yup';
import { moveOnTake } from '../../../../server/library/takes.ts';
import { endpoint, pathId, readBody } from '../../_answer.ts';
import { moveSchema } from '../../_schemas.ts';

/** Does one more move on the take's split. */
export const POST = endpoint(async ({ db }, context) => {
  const { move } = await readBody(context, object({ move: moveSchema }));
  return moveOnTake(db, pathId(context), move);
});
