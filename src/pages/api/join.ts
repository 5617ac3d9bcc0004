import { invitationOf, join } from '../../server/people/invitations.ts';
import { endpoint, readBody } from './_answer.ts';
import { deviceOf } from './_context.ts';
import { joinSchema, tokenSchema } from '../../requests/people.ts';
import { setSessionToken } from './_session.ts';

/** What a link is for. It is asked in the body: addresses stand in logs. */
export const PUT = endpoint(async ({ db }, context) => {
  const { token } = await readBody(context, tokenSchema);
  const { role, note, name } = await invitationOf(db, token);
  return { role, note, name };
});

/** Comes in by a link. */
export const POST = endpoint(async ({ db }, context) => {
  const { token, ...said } = await readBody(context, joinSchema);
  setSessionToken(context, await join(db, token, { ...said, device: deviceOf(context) }));
});
