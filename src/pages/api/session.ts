import { signIn } from '../../server/people/accounts.ts';
import { endSession, personOf } from '../../server/people/sessions.ts';
import { endpoint, readBody } from './_answer.ts';
import { addressOf, deviceOf } from './_context.ts';
import { signInSchema } from '../../requests/people.ts';
import { dropSessionToken, sessionToken, setSessionToken } from './_session.ts';

/** Signs in. */
export const POST = endpoint(async ({ db }, context) => {
  const said = await readBody(context, signInSchema);
  const token = await signIn(db, { ...said, address: addressOf(context), device: deviceOf(context) });
  // Whoever signs in again leaves the session that was.
  const before = sessionToken(context);
  const old = before ? await personOf(db, before) : null;
  if (old) await endSession(db, old.sessionId);
  setSessionToken(context, token);
});

/** Signs out. */
export const DELETE = endpoint(async ({ db }, context) => {
  const { person } = context.locals;
  if (person) await endSession(db, person.sessionId);
  dropSessionToken(context);
});
