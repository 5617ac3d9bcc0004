import { zipSync } from 'fflate';
import { safeFileName } from '../../../../core/phrase/naming.ts';
import { packBasket } from '../../../../server/library/baskets.ts';
import { download, endpoint, pathId } from '../../_answer.ts';

/** The hand-off as one ZIP. */
export const GET = endpoint(async ({ db }, context) => {
  const madeAt = new Date();
  const { title, files } = await packBasket(db, pathId(context), madeAt.toISOString());
  const entries = Object.fromEntries(files.map(({ name, bytes }) => [name, bytes]));
  return download(zipSync(entries, { mtime: madeAt }), `${safeFileName(title)}.zip`, 'application/zip');
});
