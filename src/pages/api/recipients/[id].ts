import {
  getRecipient,
  removeRecipient,
  updateRecipient,
} from '../../../server/library/handoff/recipients.ts';
import { endpoint, pathId, readBody } from '../_answer.ts';
import { recipientChangeSchema } from '../../../requests/leaving.ts';

export const GET = endpoint(({ db }, context) => getRecipient(db, pathId(context)));

export const PATCH = endpoint(async ({ db }, context) =>
  updateRecipient(db, pathId(context), await readBody(context, recipientChangeSchema)),
);

export const DELETE = endpoint(({ db }, context) => removeRecipient(db, pathId(context)));
