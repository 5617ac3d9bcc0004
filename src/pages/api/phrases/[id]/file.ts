import { clipToMidi, EXPORT_PPQ } from '../../../../core/exchange/midi-out.ts';
import { safeFileName } from '../../../../core/phrase/naming.ts';
import { writeMidiFile } from '../../../../core/midi/write.ts';
import { setResolution } from '../../../../core/normalize/resolution.ts';
import { getPhrase } from '../../../../server/library/phrases.ts';
import { download, endpoint, pathId } from '../../_answer.ts';

/** A phrase as a Standard MIDI File, as it is kept. */
export const GET = endpoint(async ({ db }, context) => {
  const { clip, name } = await getPhrase(db, pathId(context));
  const exported = setResolution(clip, { ppq: EXPORT_PPQ }).clip;
  return download(writeMidiFile(clipToMidi(exported, name)), `${safeFileName(name)}.mid`, 'audio/midi');
});
