import { getWeave, saveWeave, setWeaveAside } from '../../../server/library/weaves.ts';
import { endpoint, pathId, readBody } from '../_answer.ts';
import { asideSchema } from '../../../requests/fields.ts';
import { checkedWeave, weaveChangeSchema } from '../../../requests/weave.ts';

export const GET = endpoint(({ db }, context) => getWeave(db, pathId(context)));

/** Saves a weave that was made of `base`: what others changed in other cells meanwhile stays. */
export const PUT = endpoint(async ({ db }, context) => {
  const { base, weave } = await readBody(context, weaveChangeSchema);
  return saveWeave(db, pathId(context), { base: checkedWeave(base), weave: checkedWeave(weave) });
});

/** Sets it aside, or brings it back. */
export const PATCH = endpoint(async ({ db }, context) => {
  const { aside } = await readBody(context, asideSchema);
  await setWeaveAside(db, pathId(context), aside);
  return getWeave(db, pathId(context));
});
