import { keepPiece } from '../../../../../server/library/takes/captures.ts';
import { LibraryError } from '../../../../../server/library/errors.ts';
import { endpoint, pathId } from '../../../_answer.ts';

/** The most a second of messages can be, and a flood besides. */
const LARGEST_PIECE = 8 * 1024 * 1024;

/** A piece of a recording: messages as `encodeLog` writes them. */
export const PUT = endpoint(async ({ db }, context) => {
  const id = pathId(context);
  const piece = Number(context.params.piece);
  if (!Number.isInteger(piece) || piece < 0 || piece > 1_000_000)
    throw new LibraryError(400, 'Pieces are numbered from 0.');
  if (Number(context.request.headers.get('content-length')) > LARGEST_PIECE)
    throw new LibraryError(413, 'A piece of a recording is at most 8 MB.');
  await keepPiece(db, id, piece, new Uint8Array(await context.request.arrayBuffer()));
});
