import { removeBank, setBankRoles } from '../../../server/library/handoff/banks.ts';
import { endpoint, pathId, readBody } from '../_answer.ts';
import { bankSchema } from '../../../requests/leaving.ts';

/** Says which roles it plays. */
export const PATCH = endpoint(async ({ db }, context) => {
  const { roles } = await readBody(context, bankSchema);
  return setBankRoles(db, pathId(context), roles);
});

export const DELETE = endpoint((library, context) => removeBank(library, pathId(context)));
