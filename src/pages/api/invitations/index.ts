import { invite, openInvitations } from '../../../server/people/invitations.ts';
import { endpoint, readBody } from '../_answer.ts';
import { invitationSchema } from '../../../requests/people.ts';

/** Links that still let somebody in. */
export const GET = endpoint(async ({ db }) => ({ invitations: await openInvitations(db) }));

/** Makes one. */
export const POST = endpoint(async ({ db }, context) => {
  const wanted = await readBody(context, invitationSchema);
  return Response.json(await invite(db, wanted, context.locals.person?.id ?? null), { status: 201 });
});
