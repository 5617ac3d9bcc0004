import { endSessionsOf, sessionsOf } from '../../../server/people/sessions.ts';
import { endpoint, signedIn } from '../_answer.ts';

/** Where the one who asks is signed in. */
export const GET = endpoint(async ({ db }, context) => {
  const { id, sessionId } = signedIn(context);
  const all = await sessionsOf(db, id);
  return { sessions: all.map((one) => ({ ...one, isThis: one.id === sessionId })) };
});

/** Signs out everywhere else. */
export const DELETE = endpoint(async ({ db }, context) => {
  const { id, sessionId } = signedIn(context);
  await endSessionsOf(db, id, sessionId);
});
