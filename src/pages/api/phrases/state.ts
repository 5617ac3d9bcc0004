import { setPhraseState } from '../../../server/library/phrases/phrases.ts';
import { endpoint, readBody } from '../_answer.ts';
import { phraseStateSchema } from '../../../requests/phrases.ts';

/** Keeps drafts as they are, sets phrases aside, makes them drafts again, or brings them back. */
export const POST = endpoint(async ({ db }, context) => {
  const { phraseIds, state } = await readBody(context, phraseStateSchema);
  return setPhraseState(db, phraseIds, state);
});
