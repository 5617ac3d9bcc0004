import { safeFileName } from '../../../../core/phrase/naming.ts';
import { packBasket } from '../../../../server/library/handoff/packing.ts';
import { download, endpoint, pathId } from '../../_answer.ts';

/** The hand-off as one ZIP. Whoever breaks off stops its previews; those that were made are there the next time. */
export const GET = endpoint(async (library, context) => {
  const { signal } = context.request;
  const { title, bytes } = await packBasket(library, pathId(context), new Date().toISOString(), signal);
  return download(bytes, `${safeFileName(title)}.zip`, 'application/zip');
});
