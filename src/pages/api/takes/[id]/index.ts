import { settledMoves } from '../../../../server/library/takes/take-moves.ts';
import { getTake } from '../../../../server/library/takes/takes.ts';
import { endpoint, pathId } from '../../_answer.ts';

export const GET = endpoint(async ({ db }, context) => {
  const id = pathId(context);
  await settledMoves(id);
  return getTake(db, id);
});
