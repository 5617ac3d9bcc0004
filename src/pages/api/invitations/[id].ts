import { withdraw } from '../../../server/people/invitations.ts';
import { endpoint, pathId } from '../_answer.ts';

/** Takes a link back. */
export const DELETE = endpoint(({ db }, context) => withdraw(db, pathId(context)));
