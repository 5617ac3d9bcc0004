import { heardPhrases } from '../../../server/library/phrases/phrase-changes.ts';
import { endpoint, readBody } from '../_answer.ts';
import { phraseIdsSchema } from '../../../requests/phrases.ts';

/** Phrases were listened to. */
export const POST = endpoint(async ({ db }, context) => {
  const { phraseIds } = await readBody(context, phraseIdsSchema);
  await heardPhrases(db, phraseIds);
});
