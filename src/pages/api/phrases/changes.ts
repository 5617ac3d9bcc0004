import { changePhrases } from '../../../server/library/phrases/phrase-changes.ts';
import { endpoint, readBody } from '../_answer.ts';
import { phraseChangesSchema } from '../../../requests/phrases.ts';

/** Tells many phrases the same: tags, rating, project, rights. Answers what they were before. */
export const POST = endpoint(async ({ db }, context) => {
  const { phraseIds, ...change } = await readBody(context, phraseChangesSchema);
  return changePhrases(db, phraseIds, change);
});
