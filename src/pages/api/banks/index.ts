import { addBank, LARGEST_BANK, listBanks } from '../../../server/library/banks.ts';
import { LibraryError } from '../../../server/library/errors.ts';
import { endpoint, readForm } from '../_answer.ts';

const FORM_OVERHEAD = 64 * 1024;

export const GET = endpoint(async ({ db }) => ({ banks: await listBanks(db) }));

/** Takes a SoundFont in: a form with its `file`. */
export const POST = endpoint(async (library, context) => {
  const file = (await readForm(context, LARGEST_BANK + FORM_OVERHEAD)).get('file');
  if (!(file instanceof File)) throw new LibraryError(400, 'The form has no "file".');
  const bank = await addBank(library, file.name, new Uint8Array(await file.arrayBuffer()));
  return Response.json(bank, { status: 201 });
});
