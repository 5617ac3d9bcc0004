import { inputBytes } from '../../../../server/library/takes/takes.ts';
import { download, endpoint, pathId } from '../../_answer.ts';

/** The keys that set a recording off, as a MIDI file. */
export const GET = endpoint(async ({ db }, context) =>
  download(await inputBytes(db, pathId(context)), 'keys-held.mid', 'audio/midi'),
);
