import { heardPhrases } from '../../../server/library/phrase-changes.ts';
import { endpoint, readBody } from '../_answer.ts';
import { phraseIdsSchema } from '../_schemas.ts';

/** Phrases were listened to. */
export const POST = endpoint(async ({ db }, context) => {
  const { phraseIds } = await readBody(context, phraseIdsSchema);
  await heardPhrases(db, phraseIds);
});
