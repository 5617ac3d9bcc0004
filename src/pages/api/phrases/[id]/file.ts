import { clipToMidi, EXPORT_PPQ } from '../../../../core/exchange/midi-out.ts';
import { safeFileName } from '../../../../core/phrase/naming.ts';
import { writeMidiFile } from '../../../../core/midi/write.ts';
import { fitted } from '../../../../core/normalize/fitting.ts';
import { setResolution } from '../../../../core/normalize/resolution.ts';
import { getPhrase } from '../../../../server/library/phrases.ts';
import { download, endpoint, pathId } from '../../_answer.ts';

/** A phrase as a Standard MIDI File, fitted to its sound, or as it is kept where `plain` is asked for. */
export const GET = endpoint(async ({ db }, context) => {
  const { clip, name, fitting } = await getPhrase(db, pathId(context));
  const plain = context.url.searchParams.has('plain');
  const exported = setResolution(plain ? clip : fitted(clip, fitting), { ppq: EXPORT_PPQ }).clip;
  return download(writeMidiFile(clipToMidi(exported, name)), `${safeFileName(name)}.mid`, 'audio/midi');
});
