import { exportPart } from '../../../../../server/library/takes/takes.ts';
import { download, endpoint, pathId } from '../../../_answer.ts';

/** One part of a take as a Standard MIDI File of its own, as it sounds. */
export const GET = endpoint(async ({ db }, context) => {
  const { bytes, file } = await exportPart(db, pathId(context), context.params.part ?? '');
  return download(bytes, file, 'audio/midi');
});
