import { LibraryError } from '../../../../../server/library/errors.ts';
import { exportParts } from '../../../../../server/library/takes/takes.ts';
import { download, endpoint, pathId } from '../../../_answer.ts';

/** All parts as they sound: `as=zip` for a file a part, `as=file` for one file. */
export const GET = endpoint(async ({ db }, context) => {
  const as = context.url.searchParams.get('as') ?? 'zip';
  if (as !== 'zip' && as !== 'file') throw new LibraryError(400, 'Parts leave as zip or as file.');
  const { bytes, file, type } = await exportParts(db, pathId(context), as);
  return download(bytes, file, type);
});
