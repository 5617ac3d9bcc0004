import { safeFileName } from '../../../../core/phrase/naming.ts';
import { packBasket } from '../../../../server/library/baskets.ts';
import { packing } from '../../../../server/library/packing.ts';
import { download, endpoint, pathId } from '../../_answer.ts';

/** The hand-off as one ZIP. Whoever breaks off stops its previews; those that were made are there the next time. */
export const GET = endpoint(async ({ db }, context) => {
  const id = pathId(context);
  const { title, bytes } = await packing(id, (onPreview) =>
    packBasket(db, id, new Date().toISOString(), { signal: context.request.signal, onPreview }),
  );
  return download(bytes, `${safeFileName(title)}.zip`, 'application/zip');
});
