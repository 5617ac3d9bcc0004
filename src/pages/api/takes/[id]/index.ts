import { getTake, updateTake } from '../../../../server/library/takes.ts';
import { endpoint, pathId, readBody } from '../../_answer.ts';
import { takeChangeSchema } from '../../_schemas.ts';

export const GET = endpoint(({ db }, context) => getTake(db, pathId(context)));

export const PATCH = endpoint(async ({ db }, context) =>
  updateTake(db, pathId(context), await readBody(context, takeChangeSchema)),
);
