import { number, object } from 'yup';
import { goToMove } from '../../../../server/library/takes.ts';
import { endpoint, pathId, readBody } from '../../_answer.ts';

/** Goes to a place in the history of a take: so many moves are done. */
export const POST = endpoint(async ({ db }, context) => {
  const { done } = await readBody(context, object({ done: number().integer().min(0).required() }));
  return goToMove(db, pathId(context), done);
});
