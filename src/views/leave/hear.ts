import { readTakes, type Take } from '../../core/capture/take.ts';
import { GM_DRUM_CHANNEL } from '../../core/midi/gm.ts';
import { clipFromNotes } from '../../core/phrase/clip.ts';
import type { Listening } from '../../sound/player.ts';
import type { Lane } from '../../sound/program.ts';

/** A file as it leaves, to listen to: a lane a stream, on the sounds that it chooses. */
export function fileListening(bytes: Uint8Array, id: string, title: string): Listening {
  const take = readTakes(bytes)[0]!;
  return { id, title, subtitle: 'as it leaves', lanes: lanesOf(take) };
}

function lanesOf(take: Take): Lane[] {
  const { notes } = take;
  const streams = new Map<string, number[]>();
  for (let i = 0; i < notes.tick.length; i++) {
    const stream = `${notes.track[i]} ${notes.channel[i]}`;
    const held = streams.get(stream);
    if (held) held.push(i);
    else streams.set(stream, [i]);
  }
  return [...streams].map(([id, held]) => {
    const [track, channel] = id.split(' ').map(Number) as [number, number];
    const isKit = channel === GM_DRUM_CHANNEL;
    const clip = clipFromNotes(take, held, {
      ...{ streams: [{ track, channel }], role: isKit ? ('drums' as const) : ('other' as const), key: null },
      ...{ channel, program: Math.max(0, programOf(take, track, channel)), pitchMap: [], locked: [] },
    });
    return { id, clip };
  });
}

/** The program that a stream chooses first; the piano where it chooses none. */
function programOf({ file }: Take, track: number, channel: number): number {
  const events = file.format === 0 ? file.tracks[0]! : (file.tracks[track] ?? []);
  return events.find(({ status }) => status === 0xc0 + channel)?.data1 ?? 0;
}
