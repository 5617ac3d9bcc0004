import { changePerson } from '../../../server/people/accounts.ts';
import { endpoint, pathId, readBody } from '../_answer.ts';
import { personChangeSchema } from '../../../requests/people.ts';

/** Changes what somebody may do, or whether they may come in. */
export const PATCH = endpoint(async ({ db }, context) => {
  await changePerson(db, pathId(context), await readBody(context, personChangeSchema));
});
