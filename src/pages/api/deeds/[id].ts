import { deedsAbout } from '../../../server/people/deeds.ts';
import { endpoint, pathId } from '../_answer.ts';

/** Who did what to one take, phrase, basket or weave, the latest first. */
export const GET = endpoint(async ({ db }, context) => ({ deeds: await deedsAbout(db, pathId(context)) }));
