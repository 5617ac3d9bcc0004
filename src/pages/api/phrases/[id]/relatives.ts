import { relativesOf } from '../../../../server/library/phrases/children.ts';
import { variantsOf } from '../../../../server/library/phrases/twice.ts';
import { endpoint, pathId } from '../../_answer.ts';

/** What a phrase was made of, what was made of it, and its variants. */
export const GET = endpoint(async ({ db }, context) => {
  const id = pathId(context);
  return { ...(await relativesOf(db, id)), variants: await variantsOf(db, id) };
});
