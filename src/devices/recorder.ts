import { kindOf, channelOf, STATUS } from '../core/midi/smf.ts';
import { create } from 'zustand';
import type { Account } from '../core/analyze/account.ts';
import { clockTimes } from '../core/capture/clock.ts';
import { echoShare, type TimedNote } from '../core/capture/echo.ts';
import {
  appendMessage,
  createLog,
  encodeLog,
  STREAM,
  type MessageLog,
  type Stream,
} from '../core/capture/message-log.ts';
import type { CaptureFacts, RecordingClock, RecordingPlan } from '../core/capture/recording.ts';
import { beginsNote, endsNote, REALTIME, type WireMessage } from '../core/midi/message.ts';
import { parseKey, type Key } from '../core/music/key.ts';
import { barTicks, beatTicks, msPerQuarter } from '../core/music/timeline.ts';
import { soundClick, soundMessage } from '../sound/live.ts';
import { startTicker } from '../sound/player.ts';
import { deviceSetting } from './device-settings.ts';
import { hearClock } from './incoming-tempo.ts';
import { countLateness, createLateness, latenessFacts, type Lateness } from './lateness.ts';
import { createMemory, lastPlayed, lastStretch, remember, type RollingMemory } from './memory.ts';
import type { MidiOutput, MidiSource, SourceStream } from './source.ts';
import { answerKeys, askedOf, STAND_IN_OUTPUTS, STAND_IN_SOURCES } from './stand-ins.ts';
import { sendOn } from './through.ts';
import { askForDevices, type MidiAccess } from './web-midi.ts';

/** Where recordings are kept: the page's side of the server's captures. */
export interface CaptureStore {
  begin(plan: RecordingPlan): Promise<{ id: string }>;
  keep(id: string, position: number, bytes: Uint8Array): Promise<unknown>;
  finish(id: string, end: CaptureEnding): Promise<{ takeId: string | null; account: Account }>;
}

export interface CaptureEnding {
  endMs: number;
  lateness?: CaptureFacts['lateness'];
  lost?: { source: string; ms: number }[];
}

export interface SourceState {
  id: string;
  name: string;
  kind: MidiSource['kind'];
  armed: boolean;
  /** It was there and is gone. */
  lost: boolean;
}

export interface RecorderSettings {
  name: string;
  clock: RecordingClock;
  bpm: number;
  meter: { numerator: number; denominator: number };
  countInBars: number;
  /** Bars after which it stops; null by hand. */
  bars: number | null;
  click: boolean;
  /** What stand-ins play is sounded; devices have sounds of their own. */
  monitor: boolean;
  markBars: number;
}

export type RecorderPhase = 'idle' | 'starting' | 'waiting' | 'count-in' | 'recording' | 'finishing';

/** Something that is played to a source while it is recorded. */
export interface Prompt {
  /** What comes of a sweep's chart answers nothing that is kept. */
  kind: 'phrase' | 'take' | 'chart';
  id: string;
  name: string;
  bpm: number;
  meter: { numerator: number; denominator: number };
  bars: number;
  /** In milliseconds from bar one. */
  messages: WireMessage[];
}

interface RecorderState {
  access: MidiAccess;
  sources: SourceState[];
  outputs: MidiOutput[];
  settings: RecorderSettings;
  phase: RecorderPhase;
  /** When bar one began or begins, in ms of `performance.now()`. */
  startMs: number;
  /** Of the recording that runs. */
  notes: number;
  finished: { takeId: string | null; account: Account; name: string } | null;
  problem: string | null;
  /** When the last recording stopped by itself, in ms of `performance.now()`. */
  endedByItself: number;
  /** A pad or pedal that marks "that one": status and first data byte. */
  markBy: { status: number; data1: number } | null;
  choosingMark: boolean;
  marks: number;
  /** What is played to the first armed source that can be played to. */
  prompt: Prompt | null;
}

/** What arrives on each channel of a source: when last, in ms, and how hard, 0..127. Read every frame, so no state. */
export interface Activity {
  at: Float64Array;
  velocity: Uint8Array;
  messages: number;
}

const SETTINGS: RecorderSettings = {
  name: '',
  clock: 'click',
  bpm: 100,
  meter: { numerator: 4, denominator: 4 },
  countInBars: 1,
  bars: null,
  click: true,
  monitor: true,
  markBars: 4,
};

/** Where settings outlast the window; a name is one take's. */
const REMEMBERED = 'live settings';

/** Those of the last time, in this browser. */
function rememberedSettings(): RecorderSettings {
  try {
    const kept = JSON.parse(globalThis.localStorage.getItem(REMEMBERED) ?? '{}') as Partial<RecorderSettings>;
    return { ...SETTINGS, ...kept, name: '' };
  } catch {
    return SETTINGS;
  }
}

export const useRecorder = create<RecorderState>(() => ({
  access: 'unasked',
  sources: STAND_IN_SOURCES.map(({ id, name, kind }) => ({ id, name, kind, armed: false, lost: false })),
  outputs: [...STAND_IN_OUTPUTS],
  settings: rememberedSettings(),
  phase: 'idle',
  startMs: 0,
  notes: 0,
  finished: null,
  problem: null,
  endedByItself: -Infinity,
  markBy: null,
  choosingMark: false,
  marks: 0,
  prompt: null,
}));

/** How far ahead clicks and clocks are sent, and how often it is looked, in milliseconds. */
const AHEAD_MS = 120;
const EVERY_MS = 25;

/** What came in is kept at least so often, in milliseconds. */
const KEEP_EVERY_MS = 600;

/** In silence, a sign of life is given so often, in milliseconds. */
const ALIVE_EVERY_MS = 2000;

/** From the press of the button to the count-in. */
const LEAD_MS = 250;

/** A source that plays on after the bars that were asked for is heard out for so many bars. */
const HEAR_OUT_BARS = 4;

interface Running {
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
  /** Notes that were played so far. */
  notes: number;
  lastOnset: number;
  lost: { source: string; ms: number }[];
  lateness: Lateness;
  /** Bars after which it stops by itself; null by hand. */
  stopAfter: number | null;
  /** Up to when clicks and clocks have been sent. */
  sentUntil: number;
  barMs: number;
}

const memories = new Map<string, RollingMemory>();
const activities = new Map<string, Activity>();
const listening = new Map<string, () => void>();
const liveSources = new Map<string, MidiSource>(STAND_IN_SOURCES.map((source) => [source.id, source]));
let running: Running | undefined;
let store: CaptureStore | undefined;
let ticker: Worker | undefined;

/** Says where recordings are kept. Called once, before anything is recorded. */
export function keepRecordingsIn(captures: CaptureStore): void {
  store = captures;
}

export function activityOf(id: string): Activity {
  let activity = activities.get(id);
  if (!activity) {
    activity = { at: new Float64Array(16).fill(-Infinity), velocity: new Uint8Array(16), messages: 0 };
    activities.set(id, activity);
  }
  return activity;
}

/** The log of the recording that runs, for drawing it as it grows; with the source that counts as the first. */
export function runningLog(): MessageLog | undefined {
  return running?.log;
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
  // What it held down when it went will never be let go.
  for (const [key, count] of running.sounding) {
    if (key >> 11 !== running.index.get(id)) continue;
    const bytes = [STATUS.noteOff | ((key >> 7) & 0x0f), key & 0x7f, 64];
    for (let n = 0; n < count; n++) record(id, { ms: now, bytes }, STREAM.played);
    running.sounding.delete(key);
  }
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
  if (status >= REALTIME.clock) followTransport(status, message.ms);
  record(id, message, stream);
}

/** Source, channel and pitch in one number. */
function soundingKey(source: number, channel: number, pitch: number): number {
  return (source << 11) | (channel << 7) | pitch;
}

/** Writes a message into the recording that runs. */
function record(id: string, message: WireMessage, stream: Stream): void {
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

/** So many notes tell whether a device only sends back what it is sent. */
const ECHO_NOTES = 24;
const ECHOES = 0.9;

/** Says where a device sends back what is played into it: nothing is left out for it. */
function tellEcho({ sentNotes, cameNotes, target }: Running): void {
  if (sentNotes.length < 8 || echoShare(sentNotes.slice(0, ECHO_NOTES), cameNotes) < ECHOES) return;
  useRecorder.setState({
    problem:
      `${target.name} sends back what is played into it: its MIDI thru is on, or a cable leads back. ` +
      'What was recorded is what was sent. Turn it off there, and record again.',
  });
}

/** Another's start begins a recording that waits for it, and its stop ends it. */
function followTransport(status: number, ms: number): void {
  const { phase, settings } = useRecorder.getState();
  if (!running || settings.clock !== 'followed') return;
  if (phase === 'waiting' && (status === REALTIME.start || status === REALTIME.continue)) {
    running.plan.startMs = ms;
    useRecorder.setState({ phase: 'recording', startMs: ms });
  } else if (phase === 'recording' && status === REALTIME.stop) void stopRecording(ms);
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

export function changeSettings(change: Partial<RecorderSettings>): void {
  useRecorder.setState(({ settings }) => ({ settings: { ...settings, ...change } }));
  globalThis.localStorage?.setItem(REMEMBERED, JSON.stringify(useRecorder.getState().settings));
}

/** What is played to the source; null for nothing. Tempo, meter and bars follow it. */
export function setPrompt(prompt: Prompt | null): void {
  useRecorder.setState({ prompt });
  if (prompt) changeSettings({ clock: 'click', bpm: prompt.bpm, meter: prompt.meter, bars: prompt.bars });
}

/** Sources that would be recorded now; what sets others off is kept beside them. */
export function armedSources(sources: readonly SourceState[]): SourceState[] {
  return sources.filter(
    ({ armed, lost, kind, name }) => armed && !lost && !(kind === 'device' && isTrigger(name)),
  );
}

function planOf(sources: SourceState[], startMs: number): RecordingPlan {
  const { settings, prompt } = useRecorder.getState();
  const { name, clock, bpm, meter, bars, markBars } = settings;
  const recordedAt = new Date().toISOString();
  const standIns = sources.filter(({ kind }) => kind === 'stand-in');
  const asked = standIns.length === 1 && sources.length === 1 ? askedOf(standIns[0]!.id) : undefined;
  const told = toldOf(sources);
  const time = new Date().toTimeString().slice(0, 5);
  return {
    name: name.trim() || `${sources.map((source) => source.name).join(' and ')}, ${time}`,
    recordedAt,
    clock,
    bpm,
    meter,
    startMs,
    countInBars: clock === 'click' ? settings.countInBars : 0,
    bars: bars ?? asked?.bars ?? told.bars,
    sources: [...sources, ...triggersNow()].map((source) => ({ name: source.name, kind: source.kind })),
    markBars,
    ...(asked?.chart || told.chart ? { chart: asked?.chart ?? told.chart } : {}),
    ...(told.key ? { key: told.key } : {}),
    ...(asked ? { parts: asked.parts } : {}),
    ...(prompt && prompt.kind !== 'chart'
      ? { answers: { kind: prompt.kind, id: prompt.id, name: prompt.name } }
      : {}),
  };
}

/** What devices were told to play, as far as somebody typed it: of several the first that was. */
function toldOf(sources: readonly SourceState[]): { chart: string; key: Key | null; bars: number | null } {
  const told = sources.filter(({ kind }) => kind === 'device').map(({ name }) => deviceSetting(name));
  const key = told.find((one) => one.key !== '')?.key ?? '';
  return {
    chart: told.find(({ chart }) => chart.trim() !== '')?.chart.trim() ?? '',
    key: parseKey(key) ?? null,
    bars: told.find(({ bars }) => bars !== null)?.bars ?? null,
  };
}

/** Devices that set the others off: what they play is kept beside the take, and never a part of it. */
function triggersNow(): SourceState[] {
  return useRecorder
    .getState()
    .sources.filter(({ name, kind, lost }) => kind === 'device' && !lost && isTrigger(name));
}

function isTrigger(name: string): boolean {
  return deviceSetting(name).use !== 'recorded';
}

/** Where a source is played to: its own output, by its name where its ports have other ids. */
function outputOf(source: Pick<SourceState, 'id' | 'name'> | undefined): MidiOutput | undefined {
  const { outputs } = useRecorder.getState();
  if (!source) return undefined;
  return outputs.find(({ id }) => id === source.id) ?? outputs.find(({ name }) => name === source.name);
}

/** A key that was meant to stop what had just stopped by itself must not begin anew, in milliseconds. */
const JUST_ENDED = 1500;

/** Begins, or ends what runs; right after a recording has ended by itself, nothing. */
export function recordOrStop(): void {
  const { phase, endedByItself } = useRecorder.getState();
  if (phase === 'finishing' || phase === 'starting') return;
  if (phase !== 'idle') void stopRecording();
  else if (performance.now() - endedByItself > JUST_ENDED) void startRecording();
}

/** Begins: counts in and records to the click, waits for another's start, or records at once. */
export async function startRecording(): Promise<void> {
  const { phase, settings } = useRecorder.getState();
  if (phase !== 'idle' || !store) return;
  const sources = armedSources(useRecorder.getState().sources);
  if (sources.length === 0) {
    useRecorder.setState({ problem: 'No source is armed. Tick the one that is to be recorded.' });
    return;
  }
  const pressedAt = performance.now();
  // The account of the last take stays until there is a new one.
  useRecorder.setState({ phase: 'starting', problem: null, notes: 0, marks: 0 });
  const { meter, bpm, clock } = settings;
  const barMs = barTicks(msPerQuarter(bpm), meter);
  const countIn = clock === 'click' ? settings.countInBars * barMs : 0;
  try {
    // A stand-in that is asked something answers it instead of playing by itself.
    const isSentOn = triggersNow().some(({ name }) => deviceSetting(name).use === 'through');
    if (useRecorder.getState().prompt || isSentOn) for (const { id } of sources) answerKeys(id);
    // The click's sounds are there before the first beat is.
    if (settings.click && clock === 'click') await soundMessage([0xb0, 123, 0]).catch(() => {});
    const { id, plan } = await beginInTime(sources, clock === 'click' ? countIn : null);
    running = {
      id,
      plan,
      log: createLog(4096),
      index: new Map([...sources, ...triggersNow()].map((source, i) => [source.id, i])),
      triggers: new Set(triggersNow().map(({ id }) => id)),
      target: sources[0]!,
      sentNotes: [],
      cameNotes: [],
      kept: 0,
      pieces: 0,
      keeping: Promise.resolve(),
      keptAt: performance.now(),
      fromMs: pressedAt,
      sounding: new Map(),
      notes: 0,
      lastOnset: -Infinity,
      lost: [],
      lateness: createLateness(),
      // Another's clock ends it itself.
      stopAfter: clock === 'followed' ? null : settings.bars,
      sentUntil: plan.startMs - countIn,
      barMs,
    };
    const phases = {
      click: countIn > 0 ? 'count-in' : 'recording',
      followed: 'waiting',
      none: 'recording',
    } as const;
    useRecorder.setState({ phase: phases[clock], startMs: plan.startMs });
    ticker ??= startTicker(tick);
    ticker.postMessage(EVERY_MS);
  } catch (error) {
    running = undefined;
    useRecorder.setState({ phase: 'idle', problem: `Nothing is recorded: ${(error as Error).message}` });
  }
}

/**
 * A recording that is kept from before its first beat on. With a count-in (null without a click), bar one lies so far
 * ahead that the server has answered by then; a slow one is asked again with more time.
 */
async function beginInTime(
  sources: SourceState[],
  countIn: number | null,
): Promise<{ id: string; plan: RecordingPlan }> {
  for (let lead = countIn === null ? 0 : LEAD_MS; ; lead *= 4) {
    const plan = planOf(sources, performance.now() + lead + (countIn ?? 0));
    const { id } = await store!.begin(plan);
    const left = plan.startMs - (countIn ?? 0) - performance.now();
    if (countIn === null || left > AHEAD_MS / 2) return { id, plan };
    // Nothing was played into it: finishing it leaves nothing.
    await store!.finish(id, { endMs: plan.startMs });
  }
}

function tick(): void {
  if (!running) return;
  const { plan } = running;
  const { settings, phase, prompt } = useRecorder.getState();
  const now = performance.now();
  if (phase === 'count-in' && now >= plan.startMs) useRecorder.setState({ phase: 'recording' });
  if (settings.clock === 'click') sendAhead(running, now + AHEAD_MS, settings.click, prompt);
  if (now - running.keptAt >= KEEP_EVERY_MS) keepMore(running, now);
  const { notes } = running;
  if (notes !== useRecorder.getState().notes) useRecorder.setState({ notes });
  const { stopAfter } = running;
  if (phase === 'recording' && stopAfter !== null) {
    const end = plan.startMs + stopAfter * running.barMs;
    const quiet = running.sounding.size === 0 && now - running.lastOnset > running.barMs / 2;
    // A note that is still held is let ring, and what is played beyond the bars is heard out; the take ends where it was
    // asked to end, or with the last that was played.
    if (now >= end + 30 && (quiet || now >= end + HEAR_OUT_BARS * running.barMs)) {
      useRecorder.setState({ endedByItself: now });
      void stopRecording(end);
    }
  }
}

/** Clicks to the ear, the clock to whatever can follow it, and what is to be answered to its source. */
function sendAhead(now: Running, until: number, clicks: boolean, prompt: Prompt | null): void {
  const { plan, sentUntil } = now;
  if (until <= sentUntil) return;
  const { outputs } = useRecorder.getState();
  const followers = outputs.filter(({ id, name, kind }) =>
    kind === 'device' ? deviceSetting(name).clock : now.index.has(id),
  );
  const send = (message: WireMessage) => followers.forEach((output) => output.send(message));
  const begins = plan.startMs >= sentUntil && plan.startMs < until;
  if (begins) send({ ms: plan.startMs, bytes: [REALTIME.start] });
  for (const ms of clockTimes(plan.startMs, plan.bpm, sentUntil, until))
    send({ ms, bytes: [REALTIME.clock] });
  const { numerator } = plan.meter;
  const beatMs = beatTicks(msPerQuarter(plan.bpm), plan.meter);
  if (clicks) {
    const first = Math.ceil((sentUntil - plan.startMs) / beatMs - 1e-6);
    for (let beat = first; plan.startMs + beat * beatMs < until; beat++) {
      const inBar = ((beat % numerator) + numerator) % numerator;
      void soundClick(plan.startMs + beat * beatMs, inBar === 0).catch(() => {});
    }
  }
  if (prompt) {
    const target = outputOf(now.target) ?? outputs.find(({ kind }) => kind === 'device');
    const channel = now.target.kind === 'device' ? deviceSetting(now.target.name).channel : null;
    for (const { ms, bytes: given } of prompt.messages) {
      const at = plan.startMs + ms;
      if (at < sentUntil || at >= until) continue;
      const bytes = channel === null ? given : onChannel(given, channel);
      target?.send({ ms: at, bytes });
      if (beginsNote(bytes[0]!, bytes[2] ?? 0) && now.sentNotes.length < ECHO_NOTES)
        now.sentNotes.push({ ms: at, pitch: bytes[1]!, velocity: bytes[2]! });
      // What is asked is kept beside the answer.
      appendMessage(now.log, { ms: at, bytes }, now.index.get(now.target.id) ?? 0, STREAM.input);
    }
  }
  now.sentUntil = until;
}

/** A message on another channel; what has none stays. */
function onChannel(bytes: WireMessage['bytes'], channel: number): number[] {
  const [status = 0, ...data] = bytes;
  return status < 0xf0 ? [(status & 0xf0) | channel, ...data] : [status, ...data];
}

/**
 * Sends what has come in to where it is kept; in silence, now and then an empty piece: the recording is alive. A piece
 * that fails is sent again before the next.
 */
function keepMore(now: Running, at: number): void {
  if (now.kept === now.log.length && at - now.keptAt < ALIVE_EVERY_MS) return;
  now.keptAt = at;
  const from = now.kept;
  const piece = encodeLog(now.log, from);
  const position = now.pieces;
  now.kept = now.log.length;
  now.pieces++;
  now.keeping = now.keeping.then(() => keepPiece(now.id, position, piece));
}

/** Sends what has come in since the last piece, if anything has. */
function keepRest(now: Running): void {
  if (now.kept < now.log.length) keepMore(now, performance.now());
}

/** Tried again under its own number, so that the order stays. @throws Error where the server stays away. */
async function keepPiece(id: string, position: number, piece: Uint8Array): Promise<void> {
  for (let tries = 1; ; tries++) {
    try {
      await store!.keep(id, position, piece);
      if (tries > 1) useRecorder.setState({ problem: null });
      return;
    } catch (error) {
      if (tries === KEEP_TRIES) throw error;
      useRecorder.setState({ problem: `What was played last is not kept yet: ${(error as Error).message}` });
      await new Promise((resolve) => setTimeout(resolve, 1000));
    }
  }
}

/** Seconds for which a server that is away is waited for. */
const KEEP_TRIES = 120;

/** Ends the recording; what was recorded becomes a take. */
export async function stopRecording(endMs = performance.now()): Promise<void> {
  const now = running;
  if (!now || !store) return;
  running = undefined;
  ticker?.postMessage(0);
  useRecorder.setState({ phase: 'finishing' });
  for (const output of useRecorder.getState().outputs) {
    if (now.index.has(output.id) || output.kind === 'device')
      output.send({ ms: performance.now(), bytes: [REALTIME.stop] });
  }
  keepRest(now);
  try {
    await now.keeping;
    const lateness = latenessFacts(now.lateness);
    const answer = await store.finish(now.id, {
      endMs,
      ...(lateness ? { lateness } : {}),
      ...(now.lost.length > 0 ? { lost: now.lost } : {}),
    });
    tellEcho(now);
    // What has become a take is not offered again.
    for (const id of now.index.keys()) memories.delete(id);
    useRecorder.setState({ phase: 'idle', finished: { ...answer, name: now.plan.name } });
  } catch (error) {
    useRecorder.setState({
      phase: 'idle',
      problem: `The take is not finished yet: ${(error as Error).message} What was recorded waits above.`,
    });
  }
}

/** What a source played since its last pause, though nothing was recording, becomes a take. */
export async function takeFromMemory(id: string): Promise<void> {
  const memory = memories.get(id);
  const source = useRecorder.getState().sources.find((one) => one.id === id);
  const last = memory && lastPlayed(memory);
  if (!last || !source || !store) {
    useRecorder.setState({
      problem: `${source?.name ?? 'The source'} has played nothing that is remembered.`,
    });
    return;
  }
  useRecorder.setState({ phase: 'finishing', problem: null });
  try {
    const clock = last.hasClock ? 'followed' : 'none';
    const plan: RecordingPlan = { ...planOf([source], last.fromMs), clock, bars: null };
    const { id: capture } = await store.begin(plan);
    await store.keep(capture, 0, encodeLog(last.log));
    const answer = await store.finish(capture, { endMs: last.endMs + 500 });
    memories.delete(id);
    useRecorder.setState({ phase: 'idle', finished: { ...answer, name: plan.name } });
  } catch (error) {
    useRecorder.setState({ phase: 'idle', problem: (error as Error).message });
  }
}

/** How many notes of a source are remembered since its last pause. */
export function rememberedNotes(id: string): number {
  const memory = memories.get(id);
  return memory ? lastStretch(memory).notes : 0;
}

/** The page is going: what has come in since the last piece is handed over. */
export function handOverRest(): void {
  if (running) keepRest(running);
}
