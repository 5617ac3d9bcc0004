import { keepPhrases } from '../../../server/library/phrases.ts';
import { endpoint, readBody } from '../_answer.ts';
import { phraseIdsSchema } from '../_schemas.ts';

/** Keeps drafts as they are. */
export const POST = endpoint(async ({ db }, context) => {
  await keepPhrases(db, (await readBody(context, phraseIdsSchema)).phraseIds);
});
