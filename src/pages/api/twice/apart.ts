import { setApart } from '../../../server/library/phrases/twice.ts';
import { endpoint, readBody } from '../_answer.ts';
import { apartSchema } from '../../../requests/phrases.ts';

/** Says that two phrases are different, never to be asked again; or takes that back. */
export const POST = endpoint(async ({ db }, context) => {
  const { phraseIds, apart } = await readBody(context, apartSchema);
  await setApart(db, phraseIds as [string, string], apart);
});
