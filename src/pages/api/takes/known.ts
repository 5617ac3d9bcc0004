import { takesOfFiles } from '../../../server/library/takes/of-files.ts';
import { checksumsSchema } from '../../../requests/takes.ts';
import { endpoint, readBody } from '../_answer.ts';

/** Which of some files are here already. */
export const POST = endpoint(async ({ db }, context) => {
  const { sha256 } = await readBody(context, checksumsSchema);
  return { takes: await takesOfFiles(db, sha256) };
});
