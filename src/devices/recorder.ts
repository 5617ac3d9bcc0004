import { clockTimes } from '../core/capture/clock.ts';
import { appendMessage, createLog, encodeLog, STREAM } from '../core/capture/message-log.ts';
import type { RecordingPlan } from '../core/capture/recording.ts';
import { beginsNote, REALTIME, type WireMessage } from '../core/midi/message.ts';
import { barMs, beatMs } from '../core/music/timeline.ts';
import { loadSound, soundClick } from '../sound/live.ts';
import { startTicker } from '../sound/player.ts';
import { deviceSetting } from './device-settings.ts';
import { forgetPlayed, listenToTransport, memoryOf } from './hearing.ts';
import { KEEP_EVERY_MS, keepMore, keepRest, store } from './keeping.ts';
import { createLateness, latenessFacts } from './lateness.ts';
import { lastPlayed } from './memory.ts';
import { planOf } from './plan.ts';
import {
  armedSources,
  outputOf,
  triggersNow,
  useRecorder,
  type Prompt,
  type SourceState,
} from './recorder-state.ts';
import { ECHO_NOTES, running, setRunning, tellEcho, type Running } from './running.ts';
import { answerKeys } from './stand-ins.ts';

/** How far ahead clicks and clocks are sent, and how often it is looked, in milliseconds. */
const AHEAD_MS = 120;
const EVERY_MS = 25;

/** From the press of the button to the count-in. */
const LEAD_MS = 250;

/** A source that plays on after the bars that were asked for is heard out for so many bars. */
const HEAR_OUT_BARS = 4;

let ticker: Worker | undefined;

/** Another's start begins a recording that waits for it, and its stop ends it. */
function followTransport(status: number, ms: number): void {
  const { phase, settings } = useRecorder.getState();
  if (!running || settings.clock !== 'followed') return;
  if (phase === 'waiting' && (status === REALTIME.start || status === REALTIME.continue)) {
    running.plan.startMs = ms;
    useRecorder.setState({ phase: 'recording', startMs: ms });
  } else if (phase === 'recording' && status === REALTIME.stop) void stopRecording(ms);
}

listenToTransport(followTransport);

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
  const inBar = barMs(bpm, meter);
  const countIn = clock === 'click' ? settings.countInBars * inBar : 0;
  try {
    // A stand-in that is asked something answers it instead of playing by itself.
    const isSentOn = triggersNow().some(({ name }) => deviceSetting(name).use === 'through');
    if (useRecorder.getState().prompt || isSentOn) for (const { id } of sources) answerKeys(id);
    // Sounds are there before the first beat is, and before anything is played that must not wait for them.
    if (soundsHere(sources)) await loadSound().catch(() => {});
    const { id, plan } = await beginInTime(sources, clock === 'click' ? countIn : null);
    setRunning({
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
      notesAt: -Infinity,
      lastOnset: -Infinity,
      lost: [],
      lateness: createLateness(),
      // Another's clock ends it itself.
      stopAfter: clock === 'followed' ? null : settings.bars,
      sentUntil: plan.startMs - countIn,
      barMs: inBar,
    });
    const phases = {
      click: countIn > 0 ? 'count-in' : 'recording',
      followed: 'waiting',
      none: 'recording',
    } as const;
    useRecorder.setState({ phase: phases[clock], startMs: plan.startMs });
    ticker ??= startTicker(tick);
    ticker.postMessage(EVERY_MS);
  } catch (error) {
    setRunning(undefined);
    useRecorder.setState({ phase: 'idle', problem: `Nothing is recorded: ${(error as Error).message}` });
  }
}

/** Whether this page itself will sound something. */
function soundsHere(sources: readonly SourceState[]): boolean {
  const { click, clock, monitor } = useRecorder.getState().settings;
  return (click && clock === 'click') || (monitor && sources.some(({ kind }) => kind === 'stand-in'));
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
  tellNotes(running, now);
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

/** Between two numbers of notes that are shown, in milliseconds: whoever plays waits for each picture. */
const NOTES_EVERY = 300;

function tellNotes(now: Running, at: number): void {
  if (now.notes === useRecorder.getState().notes || at - now.notesAt < NOTES_EVERY) return;
  now.notesAt = at;
  useRecorder.setState({ notes: now.notes });
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
  const perBeat = beatMs(plan.bpm, plan.meter);
  if (clicks) {
    const first = Math.ceil((sentUntil - plan.startMs) / perBeat - 1e-6);
    for (let beat = first; plan.startMs + beat * perBeat < until; beat++) {
      const inBar = ((beat % numerator) + numerator) % numerator;
      void soundClick(plan.startMs + beat * perBeat, inBar === 0).catch(() => {});
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

/** Ends the recording; what was recorded becomes a take. */
export async function stopRecording(endMs = performance.now()): Promise<void> {
  const now = running;
  if (!now || !store) return;
  setRunning(undefined);
  ticker?.postMessage(0);
  useRecorder.setState({ phase: 'finishing', notes: now.notes });
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
    for (const id of now.index.keys()) forgetPlayed(id);
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
  const memory = memoryOf(id);
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
    forgetPlayed(id);
    useRecorder.setState({ phase: 'idle', finished: { ...answer, name: plan.name } });
  } catch (error) {
    useRecorder.setState({ phase: 'idle', problem: (error as Error).message });
  }
}
