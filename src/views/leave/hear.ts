import { findStreams } from '../../core/capture/streams.ts';
import { readTakes } from '../../core/capture/take.ts';
import { GM_DRUM_CHANNEL } from '../../core/midi/gm.ts';
import { clipFromNotes } from '../../core/phrase/clip.ts';
import type { Listening } from '../../sound/player.ts';

/** A file as it leaves, to listen to: a lane a stream, on the sounds that it chooses; the piano where it chooses none. */
export function fileListening(bytes: Uint8Array, id: string, title: string): Listening {
  const take = readTakes(bytes)[0]!;
  const lanes = findStreams(take).map(({ track, channel, program, notes }, i) => ({
    id: String(i),
    clip: clipFromNotes(take, notes, {
      streams: [{ track, channel }],
      role: channel === GM_DRUM_CHANNEL ? 'drums' : 'other',
      ...{ key: null, channel, program: program ?? 0, pitchMap: [], locked: [] },
    }),
  }));
  return { id, title, subtitle: 'as it leaves', lanes };
}
