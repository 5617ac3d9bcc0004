import { leavingFiles } from '../../../server/library/handoff/leaving.ts';
import { keepWayOut } from '../../../server/library/handoff/recipients.ts';
import { download, endpoint, readBody } from '../_answer.ts';
import { leavingSchema } from '../../../requests/leaving.ts';
import { typeOfFile } from './_type.ts';

/** Something as it leaves; how it leaves is kept in mind for whom it is for. */
export const POST = endpoint(async ({ db }, context) => {
  const request = await readBody(context, leavingSchema);
  const { file, bytes, projectId } = await leavingFiles(db, request);
  if (request.out)
    await keepWayOut(db, request.recipientId ?? null, request.out, {
      projectId,
      programs: request.programs ?? {},
    });
  return download(bytes, file, typeOfFile(file));
});
