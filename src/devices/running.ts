import type { MessageLog, Stream } from '../core/capture/message-log.ts';
import { appendMessage, STREAM } from '../core/capture/message-log.ts';
import { echoShare, type TimedNote } from '../core/capture/echo.ts';
import type { RecordingPlan } from '../core/capture/recording.ts';
import { beginsNote, endsNote, type WireMessage } from '../core/midi/message.ts';
import { channelOf, STATUS } from '../core/midi/smf.ts';
import type { Lateness } from './lateness.ts';
import { useRecorder, type SourceState } from './recorder-state.ts';

export interface Running {
  id: string;
  plan: RecordingPlan;
  log: MessageLog;
  /** Index of each source in the plan, by its id. */
  index: Map<string, number>;
  /** Messages that are on their way to the server or there. */
  kept: number;
  pieces: number;
  keeping: Promise<unknown>;
  keptAt: number;
  /** Sources that only set others off. */
  triggers: Set<string>;
  /** The source that is played to. */
  target: SourceState;
  /** Notes that were played into it, and the first that came of it: an echo is told by both. */
  sentNotes: TimedNote[];
  cameNotes: TimedNote[];
  /** What was sent before does not belong to it. */
  fromMs: number;
  /** How often each note sounds, by `soundingKey`. */
  sounding: Map<number, number>;
  /** Notes that were played so far, and when they were shown last. */
  notes: number;
  notesAt: number;
  lastOnset: number;
  lost: { source: string; ms: number }[];
  lateness: Lateness;
  /** Bars after which it stops by itself; null by hand. */
  stopAfter: number | null;
  /** Up to when clicks and clocks have been sent. */
  sentUntil: number;
  barMs: number;
}

/** The recording that runs; undefined where none does. */
export let running: Running | undefined;

export function setRunning(next: Running | undefined): void {
  running = next;
}

/** The log of the recording that runs, for drawing it as it grows; with the source that counts as the first. */
export function runningLog(): MessageLog | undefined {
  return running?.log;
}

/** Source, channel and pitch in one number. */
function soundingKey(source: number, channel: number, pitch: number): number {
  return (source << 11) | (channel << 7) | pitch;
}

/** Writes a message into the recording that runs. */
export function record(id: string, message: WireMessage, stream: Stream): void {
  if (!running) return;
  const source = running.index.get(id);
  if (source === undefined || message.ms < running.fromMs) return;
  appendMessage(running.log, message, source, stream);
  if (stream !== STREAM.played) return;
  const [status = 0, data1 = 0, data2 = 0] = message.bytes;
  const key = soundingKey(source, channelOf(status), data1);
  const count = running.sounding.get(key) ?? 0;
  if (beginsNote(status, data2)) {
    if (running.cameNotes.length < ECHO_NOTES)
      running.cameNotes.push({ ms: message.ms, pitch: data1, velocity: data2 });
    running.notes++;
    running.sounding.set(key, count + 1);
    running.lastOnset = message.ms;
  } else if (endsNote(status, data2)) {
    if (count <= 1) running.sounding.delete(key);
    else running.sounding.set(key, count - 1);
  }
}

/** Ends what a source still sounds: it went, and will never let go. */
export function endSounding(id: string, ms: number): void {
  if (!running) return;
  for (const [key, count] of running.sounding) {
    if (key >> 11 !== running.index.get(id)) continue;
    const bytes = [STATUS.noteOff | ((key >> 7) & 0x0f), key & 0x7f, 64];
    for (let n = 0; n < count; n++) record(id, { ms, bytes }, STREAM.played);
    running.sounding.delete(key);
  }
}

/** So many notes tell whether a device only sends back what it is sent. */
export const ECHO_NOTES = 24;
const ECHOES = 0.9;

/** Says where a device sends back what is played into it: nothing is left out for it. */
export function tellEcho({ sentNotes, cameNotes, target }: Running): void {
  if (sentNotes.length < 8 || echoShare(sentNotes.slice(0, ECHO_NOTES), cameNotes) < ECHOES) return;
  useRecorder.setState({
    problem:
      `${target.name} sends back what is played into it: its MIDI thru is on, or a cable leads back. ` +
      'What was recorded is what was sent. Turn it off there, and record again.',
  });
}
