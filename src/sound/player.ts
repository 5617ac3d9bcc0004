import { create } from 'zustand';
import { STATUS, kindOf } from '../core/midi/smf.ts';
import { bpmOf, tempoAt } from '../core/music/timeline.ts';
import { inProject, type ProjectSetting } from '../core/reuse/in-project.ts';
import { messagesDue, soundProgram, tickAt, type Lane, type Playing, type SoundProgram } from './program.ts';
import type { Synth } from './synth.ts';

/** Something to listen to. */
export interface Listening {
  /** The same id again is the same music: changes are taken over without starting anew. */
  id: string;
  title: string;
  subtitle: string;
  lanes: Lane[];
}

/** The project in whose key and tempo things can be heard. */
export interface HeardProject extends ProjectSetting {
  name: string;
}

interface PlayerState {
  state: 'silent' | 'loading' | 'playing' | 'failed';
  problem: string | null;
  listening: Listening | null;
  loop: boolean;
  /** 0..1. */
  volume: number;
  /** BPM chosen by hand; null plays at the own or the project's tempo. */
  tempo: number | null;
  /** GM program 0..127 for everything pitched; null plays each part's own. */
  sound: number | null;
  project: HeardProject | null;
  /** Whether the project's key and tempo are used. */
  inProject: boolean;
  /** Ids of lanes that are not heard. */
  muted: ReadonlySet<string>;
  /** Where messages go instead of the synthesizer; null for the synthesizer. */
  output: SoundOutput | null;
}

/** A device or stand-in that sounds what is listened to. Times are those of `performance.now()`. */
export interface SoundOutput {
  id: string;
  name: string;
  send(message: { ms: number; bytes: readonly number[] }): void;
}

/** How far ahead messages are handed to the synthesizer, and how often, in seconds. */
const AHEAD = 0.1;
const EVERY = 0.025;

/** From the press of the key to the first note: time for messages to arrive. */
const LEAD_IN = 0.05;

/** Between a message that ends things and one that begins others, in seconds. */
const APART = 0.01;

/** What the interface shows. It changes through the functions below only. */
export const usePlayer = create<PlayerState>(() => ({
  state: 'silent',
  problem: null,
  listening: null,
  loop: true,
  volume: 0.8,
  tempo: null,
  sound: null,
  project: null,
  inProject: false,
  muted: new Set(),
  output: null,
}));

/** What is being played; undefined in silence. */
interface Performance {
  synth: Synth;
  program: SoundProgram;
  playing: Playing;
  /** Audio time at which playing began. */
  startedAt: number;
  /** Seconds since then up to which messages have been sent. */
  sentUntil: number;
  send(bytes: readonly number[], time: number): void;
}

let performing: Performance | undefined;
let synthesizer: Promise<Synth> | undefined;
let ticker: Worker | undefined;
/** Audio time until which what was scheduled before the last silence is still being ended. */
let quietUntil = 0;
/** Counts calls to play, so that a slow start does not overtake a later one. */
let attempt = 0;

/** BPM at which something sounds when nothing is chosen by hand. */
export function ownTempo(state: Pick<PlayerState, 'listening' | 'inProject' | 'project'>): number {
  if (state.inProject && state.project) return state.project.bpm;
  const clip = state.listening?.lanes[0]?.clip;
  return clip ? bpmOf(tempoAt(clip.timeline, 0).microseconds) : 120;
}

/** Starts listening; the same thing again while it sounds stops it. */
export async function toggleListening(listening: Listening): Promise<void> {
  const { state, listening: now } = usePlayer.getState();
  if (now?.id === listening.id && (state === 'playing' || state === 'loading')) stop();
  else await listen(listening);
}

/** Starts listening from the beginning. */
export async function listen(listening: Listening): Promise<void> {
  usePlayer.setState({ listening });
  await start(0);
}

/** Plays what is in the bar from its beginning, or stops it. */
export async function playOrStop(): Promise<void> {
  const { state, listening } = usePlayer.getState();
  if (state === 'playing' || state === 'loading') stop();
  else if (listening) await start(0);
}

export function stop(): void {
  attempt++;
  ticker?.postMessage(0);
  endPerformance();
  usePlayer.setState({ state: 'silent' });
}

function endPerformance(): void {
  if (!performing) return;
  const { synth, startedAt, sentUntil, send } = performing;
  quietUntil = Math.max(synth.now(), startedAt + sentUntil) + APART;
  synth.silence(quietUntil);
  if (usePlayer.getState().output)
    for (let channel = 0; channel < 16; channel++) send([STATUS.controller | channel, 123, 0], quietUntil);
  performing = undefined;
}

/** Puts what is open into the bar, to be played from there; what sounds is left alone. */
export function offer(listening: Listening): void {
  const { state } = usePlayer.getState();
  if (state === 'silent' || state === 'failed') usePlayer.setState({ listening });
}

/** Takes over a changed version of what is in the bar: goes on at the same place where it sounds. */
export function refresh(listening: Listening): void {
  const { listening: now, state } = usePlayer.getState();
  if (now?.id !== listening.id) return;
  usePlayer.setState({ listening });
  if (state === 'playing') void start(positionTick());
}

/** Changes how things are heard; what sounds goes on at the same place, changed. */
export function hear(
  change: Partial<Pick<PlayerState, 'loop' | 'tempo' | 'sound' | 'project' | 'inProject'>>,
): void {
  usePlayer.setState(change);
  if (usePlayer.getState().state === 'playing') void start(positionTick());
}

export function setVolume(volume: number): void {
  usePlayer.setState({ volume });
  void synthesizer?.then((synth) => synth.setVolume(volume));
}

/** Sounds everything on a device or stand-in, or (null) on the own synthesizer again. */
export function setOutput(output: SoundOutput | null): void {
  const sounding = usePlayer.getState().state === 'playing';
  const at = positionTick();
  if (sounding) stop();
  usePlayer.setState({ output });
  if (sounding) void start(at);
}

/** Which lanes are not heard, from the next note on. */
export function setMuted(muted: ReadonlySet<string>): void {
  usePlayer.setState({ muted });
}

/** The tick that sounds now; 0 in silence. */
export function positionTick(): number {
  if (!performing) return 0;
  const seconds = performing.synth.now() - performing.startedAt;
  return seconds < 0 ? performing.playing.fromTick : tickAt(performing.program, performing.playing, seconds);
}

/** The one synthesizer of the page, awake. It and its bank are loaded with the first sound, not with the page. */
export async function sharedSynth(): Promise<Synth> {
  synthesizer ??= import('./synth.ts').then(({ startSynth }) => startSynth());
  const synth = await synthesizer;
  await synth.wake();
  return synth;
}

async function start(fromTick: number): Promise<void> {
  const mine = ++attempt;
  const { listening } = usePlayer.getState();
  if (!listening || listening.lanes.length === 0) return;
  if (!performing) usePlayer.setState({ state: 'loading', problem: null });
  let synth: Synth;
  try {
    synth = await sharedSynth();
  } catch (error) {
    synthesizer = undefined;
    usePlayer.setState({ state: 'failed', problem: error instanceof Error ? error.message : String(error) });
    return;
  }
  if (mine !== attempt) return;
  const state = usePlayer.getState();
  const lanes = listening.lanes.map(({ id, clip }) => ({
    id,
    clip: state.inProject && state.project ? inProject(clip, state.project) : clip,
  }));
  const program = soundProgram(lanes, state.sound);
  endPerformance();
  // What silence still has to end is over before the first message of the new start.
  const startedAt = Math.max(synth.now(), quietUntil + APART) + LEAD_IN;
  const playing = {
    speed: state.tempo === null ? 1 : state.tempo / bpmOf(tempoAt(program.timeline, 0).microseconds),
    loop: state.loop,
    fromTick: fromTick < program.length ? fromTick : 0,
  };
  synth.openAt(startedAt - LEAD_IN / 2);
  synth.setVolume(state.volume);
  const { output } = state;
  const send = output
    ? (bytes: readonly number[], time: number) =>
        output.send({ ms: performance.now() + (time - synth.now()) * 1000, bytes })
    : synth.send;
  for (const bytes of program.setUp) send(bytes, startedAt - LEAD_IN / 2);
  performing = { synth, program, playing, startedAt, sentUntil: 0, send };
  usePlayer.setState({ state: 'playing' });
  sendDue();
  ticker ??= startTicker();
  ticker.postMessage(EVERY * 1000);
}

/** A clock that goes on in the background; told how often in milliseconds, 0 stops it. */
export function startTicker(onTick = sendDue): Worker {
  const worker = new Worker(new URL('./ticker.ts', import.meta.url), { type: 'module' });
  worker.onmessage = onTick;
  return worker;
}

function sendDue(): void {
  if (!performing) return;
  const { synth, program, playing, startedAt, sentUntil, send } = performing;
  const now = synth.now() - startedAt;
  const until = now + AHEAD;
  if (until > sentUntil) {
    const { muted } = usePlayer.getState();
    for (const { bytes, lane, seconds } of messagesDue(program, playing, sentUntil, until)) {
      const isNoteOn = kindOf(bytes[0]!) === STATUS.noteOn;
      if (!(isNoteOn && muted.has(lane))) send(bytes, startedAt + seconds);
    }
    performing.sentUntil = until;
  }
  if (!playing.loop && tickAt(program, playing, now) >= program.length) stop();
}
