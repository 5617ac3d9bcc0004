import { isUuid } from '../../server/checksum.ts';
import { LibraryError } from '../../server/library/errors.ts';
import { lineageOf } from '../../server/library/lineage.ts';
import { endpoint } from './_answer.ts';

/** What came from what, and what went where: of a `phrase` or a `weave`. */
export const GET = endpoint(({ db }, { url: { searchParams } }) => {
  const [phraseId, weaveId] = ['phrase', 'weave'].map((name) => searchParams.get(name) ?? undefined);
  for (const id of [phraseId, weaveId])
    if (id !== undefined && !isUuid(id)) throw new LibraryError(400, 'A lineage is asked for by an id.');
  return lineageOf(db, { phraseId, weaveId });
});
