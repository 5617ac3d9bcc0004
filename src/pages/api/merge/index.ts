import { LibraryError } from '../../../server/library/errors.ts';
import { LARGEST_PACK, layDownPack, waitingPacks } from '../../../server/library/packs-in.ts';
import { endpoint, readForm } from '../_answer.ts';

const FORM_OVERHEAD = 64 * 1024;

/** Packs that came in and wait. */
export const GET = endpoint(async (library) => ({ packs: await waitingPacks(library) }));

/** Lays a pack down: a form with its `file`. */
export const POST = endpoint(async (library, context) => {
  const file = (await readForm(context, LARGEST_PACK + FORM_OVERHEAD)).get('file');
  if (!(file instanceof File)) throw new LibraryError(400, 'The form has no "file".');
  const laid = await layDownPack(library, new Uint8Array(await file.arrayBuffer()), new Date());
  return Response.json(laid, { status: 201 });
});
