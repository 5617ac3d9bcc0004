import { variantsSchema } from '../../../requests/phrases.ts';
import { setVariants } from '../../../server/library/phrases/twice.ts';
import { endpoint, readBody } from '../_answer.ts';

/** Binds phrases as variants of one, or lets them go again. */
export const POST = endpoint(async ({ db }, context) => {
  const { phraseIds, bound } = await readBody(context, variantsSchema);
  await setVariants(db, phraseIds, bound);
});
