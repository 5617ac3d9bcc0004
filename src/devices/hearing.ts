import { appendMessage, STREAM } from '../core/capture/message-log.ts';
import { beginsNote, endsNote, REALTIME, type WireMessage } from '../core/midi/message.ts';
import { channelOf, kindOf, STATUS } from '../core/midi/smf.ts';
import { soundMessage } from '../sound/live.ts';
import { deviceSetting } from './device-settings.ts';
import { hearClock } from './incoming-tempo.ts';
import { countLateness } from './lateness.ts';
import { createMemory, lastStretch, remember, type RollingMemory } from './memory.ts';
import { armedSources, outputOf, useRecorder } from './recorder-state.ts';
import { endSounding, record, running } from './running.ts';
import type { MidiSource, SourceStream } from './source.ts';
import { STAND_IN_OUTPUTS, STAND_IN_SOURCES } from './stand-ins.ts';
import { sendOn } from './through.ts';
import { askForDevices } from './web-midi.ts';

/** What arrives on each channel of a source: when last, in ms, and how hard, 0..127. Read every frame, so no state. */
export interface Activity {
  at: Float64Array;
  velocity: Uint8Array;
  messages: number;
}

const activities = new Map<string, Activity>();
const listening = new Map<string, () => void>();
const liveSources = new Map<string, MidiSource>(STAND_IN_SOURCES.map((source) => [source.id, source]));
const memories = new Map<string, RollingMemory>();

/** What a source played lately; undefined where it played nothing. */
export function memoryOf(id: string): RollingMemory | undefined {
  return memories.get(id);
}

/** What has become a take is not offered again. */
export function forgetPlayed(id: string): void {
  memories.delete(id);
}

export function activityOf(id: string): Activity {
  let activity = activities.get(id);
  if (!activity) {
    activity = { at: new Float64Array(16).fill(-Infinity), velocity: new Uint8Array(16), messages: 0 };
    activities.set(id, activity);
  }
  return activity;
}

/** Asks for devices; they come and go in the list of sources from then on. */
export async function askForMidi(): Promise<void> {
  useRecorder.setState({ access: 'asking' });
  const access = await askForDevices(({ sources, outputs }) => {
    const present = new Map(sources.map((source) => [source.id, source]));
    const { sources: shown } = useRecorder.getState();
    for (const { id, kind, lost } of shown)
      if (kind === 'device' && !lost && !present.has(id)) loseSource(id);
    for (const source of sources) {
      liveSources.set(source.id, source);
      hearSource(source);
      if (!shown.some(({ id }) => id === source.id)) knowAgain(source);
    }
    useRecorder.setState({
      outputs: [...outputs, ...STAND_IN_OUTPUTS],
      sources: [
        ...sources.map(({ id, name, kind }) => ({
          id,
          name,
          kind,
          // What is plugged in is meant to be recorded.
          armed:
            (shown.find((one) => one.id === id) ?? shown.find((one) => one.lost && one.name === name))
              ?.armed ?? true,
          lost: false,
        })),
        ...useRecorder
          .getState()
          .sources.filter(
            ({ id, name, kind }) =>
              kind === 'stand-in' || (!present.has(id) && !sources.some((one) => one.name === name)),
          ),
      ],
    });
  });
  useRecorder.setState({ access });
}

/** A device that went and comes back at another port is the same by its name: a recording that runs goes on with it. */
function knowAgain({ id, name }: MidiSource): void {
  const before = useRecorder
    .getState()
    .sources.find((one) => one.kind === 'device' && one.lost && one.name === name && one.id !== id);
  if (!before || !running) return;
  const index = running.index.get(before.id);
  if (index !== undefined) running.index.set(id, index);
  if (running.triggers.has(before.id)) running.triggers.add(id);
}

function loseSource(id: string): void {
  listening.get(id)?.();
  listening.delete(id);
  const source = useRecorder.getState().sources.find((one) => one.id === id);
  useRecorder.setState(({ sources }) => ({
    sources: sources.map((one) => (one.id === id ? { ...one, lost: true } : one)),
  }));
  if (!running || !source?.armed) return;
  const now = performance.now();
  endSounding(id, now);
  running.lost.push({ source: source.name, ms: now });
}

export function armSource(id: string, armed: boolean): void {
  const source = liveSources.get(id);
  if (armed && source) hearSource(source);
  useRecorder.setState(({ sources }) => ({
    sources: sources.map((one) => (one.id === id ? { ...one, armed } : one)),
  }));
}

/** Begins to hear a source: its meter moves and its memory fills, armed or not. */
function hearSource(source: MidiSource): void {
  if (listening.has(source.id)) return;
  listening.set(
    source.id,
    source.listen((message, stream) => hear(source, message, stream)),
  );
}

/** Hears a stand-in from now on, without arming it. */
export function hearStandIn(id: string): void {
  const source = liveSources.get(id);
  if (source) hearSource(source);
}

/** Who is told of keys that are struck, on whatever source. */
const strikes = new Set<(key: number) => void>();

/** Tells of every key that is struck on a source that is heard, until the answer is called. */
export function listenToStrikes(onStrike: (key: number) => void): () => void {
  strikes.add(onStrike);
  return () => strikes.delete(onStrike);
}

/** Who is told of starts, stops and clocks of what is recorded. */
const transports = new Set<(status: number, ms: number) => void>();

export function listenToTransport(onTransport: (status: number, ms: number) => void): void {
  transports.add(onTransport);
}

function hear({ id, name, kind }: MidiSource, message: WireMessage, from: SourceStream): void {
  const [status = 0, data1 = 0, data2 = 0] = message.bytes;
  const activity = activityOf(id);
  activity.messages++;
  let memory = memories.get(id);
  if (!memory) memories.set(id, (memory = createMemory()));
  const state = useRecorder.getState();
  if (isMarkSignal(status, data1, data2)) {
    mark(message.ms);
    return;
  }
  const setting = kind === 'device' ? deviceSetting(name) : undefined;
  const isSetOff = setting !== undefined && setting.use !== 'recorded';
  const stream = from === 'input' || isSetOff ? STREAM.input : STREAM.played;
  if (kind === 'device') hearClock(name, message);
  if (setting?.use === 'through') {
    const [target] = armedSources(state.sources);
    const to = outputOf(target);
    if (to && target) sendOn(name, message, to, deviceSetting(target.name).channel);
  }
  remember(memory, message, 0, stream);
  if (from === 'played' && status < 0xf0) {
    if (beginsNote(status, data2)) {
      for (const tell of strikes) tell(data1);
      activity.at[channelOf(status)] = message.ms;
      activity.velocity[channelOf(status)] = data2;
    }
    if (state.settings.monitor && kind === 'stand-in') void soundMessage([...message.bytes]).catch(() => {});
  }
  if (!running || !running.index.has(id)) return;
  countLateness(running.lateness, performance.now() - message.ms);
  if (status >= REALTIME.clock) for (const tell of transports) tell(status, message.ms);
  record(id, message, stream);
}

function isMarkSignal(status: number, data1: number, data2: number): boolean {
  const { markBy, choosingMark } = useRecorder.getState();
  const isSignal = beginsNote(status, data2) || (kindOf(status) === STATUS.controller && data2 >= 64);
  if (choosingMark && isSignal) {
    useRecorder.setState({ markBy: { status, data1 }, choosingMark: false });
    return false;
  }
  if (!markBy || markBy.data1 !== data1) return false;
  // The end of the signal belongs to it.
  const same = channelOf(markBy.status) === channelOf(status);
  const itsEnd = kindOf(markBy.status) === STATUS.noteOn && same && endsNote(status, data2);
  if (itsEnd) return true;
  return isSignal && markBy.status === status;
}

/** "That one": the bars before now are meant. */
export function mark(ms = performance.now()): void {
  if (!running) return;
  appendMessage(running.log, { ms, bytes: [0] }, 0, STREAM.mark);
  useRecorder.setState(({ marks }) => ({ marks: marks + 1 }));
}

/** Which pad or pedal marks: the next that is pressed, or (null) none. */
export function chooseMarkSignal(choice: 'next' | null): void {
  useRecorder.setState({ markBy: null, choosingMark: choice === 'next' });
}

/** How many notes of a source are remembered since its last pause. */
export function rememberedNotes(id: string): number {
  const memory = memories.get(id);
  return memory ? lastStretch(memory).notes : 0;
}
