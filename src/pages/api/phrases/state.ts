import { setPhraseState } from '../../../server/library/phrases.ts';
import { endpoint, readBody } from '../_answer.ts';
import { phraseStateSchema } from '../_schemas.ts';

/** Keeps drafts as they are, discards them, or makes them drafts again. */
export const POST = endpoint(async ({ db }, context) => {
  const { phraseIds, state } = await readBody(context, phraseStateSchema);
  await setPhraseState(db, phraseIds, state);
});
