import { settledMoves } from '../../../../server/library/take-moves.ts';
import { getTake } from '../../../../server/library/takes.ts';
import { endpoint, pathId } from '../../_answer.ts';

export const GET = endpoint(async ({ db }, context) => {
  const id = pathId(context);
  await settledMoves(id);
  return getTake(db, id);
});
