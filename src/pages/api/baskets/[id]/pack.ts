import { safeFileName } from '../../../../core/phrase/naming.ts';
import { packBasket } from '../../../../server/library/baskets.ts';
import { download, endpoint, pathId } from '../../_answer.ts';

/** The hand-off as one ZIP. */
export const GET = endpoint(async ({ db }, context) => {
  const { title, bytes } = await packBasket(db, pathId(context), new Date().toISOString());
  return download(bytes, `${safeFileName(title)}.zip`, 'application/zip');
});
