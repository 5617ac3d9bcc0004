import { exportedPhrase } from '../../../../core/exchange/leaving.ts';
import { safeFileName } from '../../../../core/phrase/naming.ts';
import { getPhrase } from '../../../../server/library/phrases/phrases.ts';
import { download, endpoint, pathId } from '../../_answer.ts';

/** A phrase as a Standard MIDI File in the key it was captured in, fitted to its sound unless `plain` is asked for. */
export const GET = endpoint(async ({ db }, context) => {
  const phrase = await getPhrase(db, pathId(context));
  const fitting = context.url.searchParams.has('plain') ? {} : phrase.fitting;
  return download(exportedPhrase({ ...phrase, fitting }), `${safeFileName(phrase.name)}.mid`, 'audio/midi');
});
