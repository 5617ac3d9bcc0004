import type { APIContext } from 'astro';
import type { Library } from '../../server/db/client.ts';
import { LibraryError } from '../../server/library/errors.ts';
import { LARGEST_PACK, layDownPack } from '../../server/library/packs-in.ts';
import { readForm } from './_answer.ts';

const FORM_OVERHEAD = 64 * 1024;

/** Lays a pack down that was sent: a form with its `file`. */
export async function packSent(library: Library, context: APIContext): Promise<{ id: string }> {
  const file = (await readForm(context, LARGEST_PACK + FORM_OVERHEAD)).get('file');
  if (!(file instanceof File)) throw new LibraryError(400, 'The form has no "file".');
  const zip = new Uint8Array(await file.arrayBuffer());
  return layDownPack(library, zip, { at: new Date(), sentBy: context.locals.person?.name ?? '' });
}
