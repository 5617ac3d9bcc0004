import type { APIContext } from 'astro';
import type { Library } from '../../server/db/client.ts';
import { LARGEST_PACK, layDownPack } from '../../server/library/handoff/packs-in.ts';
import { readFileForm } from './_answer.ts';

/** Lays a pack down that was sent: a form with its `file`. */
export async function packSent(library: Library, context: APIContext): Promise<{ id: string }> {
  const { bytes } = await readFileForm(context, LARGEST_PACK);
  return layDownPack(library, bytes, { at: new Date(), sentBy: context.locals.person?.name ?? '' });
}
