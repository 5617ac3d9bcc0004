/** A stand-in in a thread of its own: it plays on time whatever the page does. Times are since the epoch, in ms. */
import type { WireMessage } from '../core/midi/message.ts';
import {
  hearMessage,
  messagesUntil,
  startPlaying,
  stopPlaying,
  switchOn,
  type LiveStandIn,
} from '../core/standins/live.ts';
import type { Mishap } from '../core/standins/mishaps.ts';
import { standInById, type AnySettings } from '../core/standins/stand-ins.ts';

export type StandInCommand =
  | { kind: 'set'; id: string; settings: AnySettings; mishaps: Mishap[]; answersKeys: boolean }
  | { kind: 'play'; atMs: number }
  | { kind: 'stop' }
  | { kind: 'hear'; messages: { ms: number; bytes: number[] }[] };

export interface StandInSays {
  played: WireMessage[];
  input: WireMessage[];
  playing: boolean;
}

/** How often it looks whether something is due. */
const EVERY_MS = 4;

let live: LiveStandIn | undefined;
let timer: ReturnType<typeof setInterval> | undefined;
/** Messages that are meant for later. */
let coming: { ms: number; bytes: number[] }[] = [];

const now = () => performance.timeOrigin + performance.now();

self.onmessage = ({ data }: MessageEvent<StandInCommand>) => {
  if (data.kind === 'set') {
    const ends = live ? stopPlaying(live, now()) : [];
    if (ends.length > 0) say(ends);
    live = switchOn(standInById(data.id), data.settings, data.mishaps, data.answersKeys);
  }
  if (!live) return;
  if (data.kind === 'play') startPlaying(live, data.atMs);
  if (data.kind === 'stop') {
    coming = [];
    say(stopPlaying(live, now()));
  }
  if (data.kind === 'hear') {
    // A clock is heard ahead of its time, so that what lies between its pulses can be placed.
    for (const message of data.messages) {
      if (message.bytes[0]! >= 0xf0) say(hearMessage(live, message));
      else coming.push(message);
    }
  }
  timer ??= setInterval(work, EVERY_MS);
};

function work(): void {
  if (!live) return;
  const at = now();
  const due = coming.filter(({ ms }) => ms <= at);
  if (due.length > 0) coming = coming.filter(({ ms }) => ms > at);
  for (const message of due) say(hearMessage(live, message));
  const { played, input } = messagesUntil(live, at);
  if (played.length + input.length > 0) say(played, input);
  if (!live.clock && coming.length === 0) {
    clearInterval(timer);
    timer = undefined;
    say([]);
  }
}

function say(played: WireMessage[], input: WireMessage[] = []): void {
  self.postMessage({ played, input, playing: live?.clock != null } satisfies StandInSays);
}
