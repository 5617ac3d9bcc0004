import { restorePhrases } from '../../../server/library/phrases/phrase-changes.ts';
import { endpoint, readBody } from '../_answer.ts';
import { phrasesBeforeSchema } from '../../../requests/phrases.ts';

/** Puts phrases back as they were before a change. */
export const POST = endpoint(async ({ db }, context) => {
  const { before } = await readBody(context, phrasesBeforeSchema);
  await restorePhrases(db, before);
});
