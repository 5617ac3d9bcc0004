import { followParent } from '../../../../server/library/phrases/children.ts';
import { getPhrase } from '../../../../server/library/phrases/phrases.ts';
import { endpoint, pathId } from '../../_answer.ts';

/** Makes a child anew of its parent as it is now. */
export const POST = endpoint(async ({ db }, context) => {
  await followParent(db, pathId(context));
  return getPhrase(db, pathId(context));
});
