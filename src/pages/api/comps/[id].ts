import { getComp, saveComp, setCompAside } from '../../../server/library/takes/comps.ts';
import { endpoint, pathId, readBody } from '../_answer.ts';
import { compChangeSchema } from '../../../requests/comp.ts';
import { asideSchema } from '../../../requests/fields.ts';

export const GET = endpoint(({ db }, context) => getComp(db, pathId(context)));

/** Saves a comp that was made of `base`: other bars that somebody else decided meanwhile stay. */
export const PUT = endpoint(async ({ db }, context) =>
  saveComp(db, pathId(context), await readBody(context, compChangeSchema)),
);

/** Sets it aside, or brings it back. */
export const PATCH = endpoint(async ({ db }, context) => {
  const { aside } = await readBody(context, asideSchema);
  await setCompAside(db, pathId(context), aside);
});
