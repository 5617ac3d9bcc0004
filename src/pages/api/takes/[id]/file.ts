import { takeBytes } from '../../../../server/library/takes/takes.ts';
import { download, endpoint, pathId } from '../../_answer.ts';

/** The original bytes, as they came in. */
export const GET = endpoint(async ({ db }, context) => {
  const { bytes, fileName } = await takeBytes(db, pathId(context));
  return download(bytes, fileName, 'audio/midi');
});
