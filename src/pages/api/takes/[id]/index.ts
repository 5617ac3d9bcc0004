import { getTake } from '../../../../server/library/takes.ts';
import { endpoint, pathId } from '../../_answer.ts';

export const GET = endpoint(({ db }, context) => getTake(db, pathId(context)));
