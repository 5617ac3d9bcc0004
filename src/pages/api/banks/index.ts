import { addBank, LARGEST_BANK, listBanks } from '../../../server/library/handoff/banks.ts';
import { endpoint, readFileForm } from '../_answer.ts';

export const GET = endpoint(async ({ db }) => ({ banks: await listBanks(db) }));

/** Takes a SoundFont in: a form with its `file`. */
export const POST = endpoint(async (library, context) => {
  const { name, bytes } = await readFileForm(context, LARGEST_BANK);
  return Response.json(await addBank(library, name, bytes), { status: 201 });
});
