import { CONTROLLER, isMeta, META, STATUS, kindOf, channelOf } from '../midi/smf.ts';
import type { Take } from './take.ts';

/** Where notes came from: one track, port, channel, bank and program. Track, channel and program from 0. */
export interface Stream {
  track: number;
  port: number;
  channel: number;
  /** Bank select, MSB x 128 + LSB; 0 where none was sent. */
  bank: number;
  /** 0..127; null where the file never chose one. */
  program: number | null;
  /** Indices into the take's notes, ascending. */
  notes: number[];
}

/** The streams of a take in the order of their tracks and first notes. */
export function findStreams(take: Take): Stream[] {
  const byKey = new Map<string, Stream>();
  const { notes, file } = take;
  const notesByTrack: number[][] = file.tracks.map(() => []);
  for (let i = 0; i < notes.length; i++) notesByTrack[notes.track[i]!]!.push(i);
  const inherited = channelPrograms(take);

  file.tracks.forEach((events, track) => {
    const state = inherited.map((program) => ({ bank: 0, program }));
    let port = 0;
    // The stream in force on each channel, until a program, bank or port changes it.
    let inForce: (Stream | undefined)[] = [];
    let at = 0;
    const apply = (tick: number) => {
      // Program changes at a note's own tick are meant for it, in whichever order they were written.
      for (; at < events.length && events[at]!.tick <= tick; at++) {
        const event = events[at]!;
        if (isMeta(event, META.port)) {
          port = event.bytes?.[0] ?? 0;
          inForce = [];
        }
        if (event.status >= 0xf0) continue;
        const channel = state[channelOf(event.status)]!;
        const kind = kindOf(event.status);
        if (kind === STATUS.program || kind === STATUS.controller)
          inForce[channelOf(event.status)] = undefined;
        if (kind === STATUS.program) channel.program = event.data1;
        else if (kind === STATUS.controller && event.data1 === CONTROLLER.bankMsb) {
          channel.bank = (event.data2 << 7) | (channel.bank & 0x7f);
        } else if (kind === STATUS.controller && event.data1 === CONTROLLER.bankLsb) {
          channel.bank = (channel.bank & ~0x7f) | event.data2;
        }
      }
    };
    for (const index of notesByTrack[track]!) {
      apply(notes.tick[index]!);
      const channel = notes.channel[index]!;
      const stream = (inForce[channel] ??= streamOf(byKey, { track, port, channel, ...state[channel]! }));
      stream.notes.push(index);
    }
  });
  return [...byKey.values()];
}

function streamOf(byKey: Map<string, Stream>, origin: Omit<Stream, 'notes'>): Stream {
  const { track, port, channel, bank, program } = origin;
  const key = `${track}/${port}/${channel}/${bank}/${program ?? 'none'}`;
  const known = byKey.get(key);
  if (known) return known;
  const stream: Stream = { ...origin, notes: [] };
  byKey.set(key, stream);
  return stream;
}

/**
 * The program a channel is given anywhere in the file, where it is only ever given one: files that keep all
 * set-up in their first track leave the others without a program of their own. Null where there is none or
 * several.
 */
function channelPrograms(take: Take): (number | null)[] {
  const seen = Array.from({ length: 16 }, () => new Set<number>());
  for (const events of take.file.tracks) {
    for (const event of events) {
      if (kindOf(event.status) === STATUS.program) seen[channelOf(event.status)]!.add(event.data1);
    }
  }
  return seen.map((programs) => (programs.size === 1 ? [...programs][0]! : null));
}
