import { leavingFiles } from '../../../server/library/handoff/leaving.ts';
import { download, endpoint, readBody } from '../_answer.ts';
import { leavingSchema } from '../../../requests/leaving.ts';
import { typeOfFile } from './_type.ts';

/** Something as it leaves, to be listened to here: its kit on our own keys, whatever the recipient's map. Nothing is kept in mind. */
export const POST = endpoint(async ({ db }, context) => {
  const { file, bytes } = await leavingFiles(db, {
    ...(await readBody(context, leavingSchema)),
    isHeard: true,
  });
  return download(bytes, file, typeOfFile(file));
});
