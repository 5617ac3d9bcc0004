import { createRecipient, listRecipients } from '../../../server/library/handoff/recipients.ts';
import { endpoint, readBody } from '../_answer.ts';
import { recipientSchema } from '../../../requests/leaving.ts';

export const GET = endpoint(async ({ db }) => ({ recipients: await listRecipients(db) }));

export const POST = endpoint(async ({ db }, context) => {
  const { name, card } = await readBody(context, recipientSchema);
  return Response.json(await createRecipient(db, name, card), { status: 201 });
});
