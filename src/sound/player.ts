import { create } from 'zustand';
import { STATUS, kindOf } from '../core/midi/smf.ts';
import { bpmOf, tempoAt } from '../core/music/timeline.ts';
import {
  alone,
  besidePins,
  changedAtBar,
  TRIED_ON,
  triedLayer,
  type Arranged,
  type HowHeard,
  type Listening,
  type Pin,
} from './arrange.ts';
import { layerTick, messagesOfLayers, nextMoment, type Change, type Layer } from './layers.ts';
import { freeChannel, tickAt } from './program.ts';
import type { Synth } from './synth.ts';

export type { HeardProject, Listening, Pin } from './arrange.ts';

interface PlayerState extends HowHeard {
  state: 'silent' | 'loading' | 'playing' | 'failed';
  problem: string | null;
  listening: Listening | null;
  /** 0..1. */
  volume: number;
  /** Ids of lanes that are not heard. */
  muted: ReadonlySet<string>;
  /** Where messages go instead of the synthesizer; null for the synthesizer. */
  output: SoundOutput | null;
  /** When what is tried next begins. */
  change: Change;
  /** What has been asked for and begins at the next line: its id. */
  waiting: string | null;
}

/** Pins at the most: more is no longer heard apart. */
export const MOST_PINS = 8;

/** A device or stand-in that sounds what is listened to. Times are those of `performance.now()`. */
export interface SoundOutput {
  id: string;
  name: string;
  send(message: { ms: number; bytes: readonly number[] }): void;
}

/** How far ahead messages are handed to the synthesizer, and how often, in seconds. */
const AHEAD = 0.1;
const EVERY = 0.025;

/** From the start to the first note, in seconds: time for messages to arrive. */
const LEAD_IN = 0.025;

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
  throughChords: false,
  fittedFor: 'none',
  muted: new Set(),
  output: null,
  pins: [],
  change: 'bar',
  waiting: null,
}));

/** What is being played; undefined in silence. */
interface Performance extends Arranged {
  synth: Synth;
  /** Audio time at which the clock was at 0. */
  startedAt: number;
  /** Seconds since then up to which messages have been sent. */
  sentUntil: number;
  send(bytes: readonly number[], time: number): void;
}

let performing: Performance | undefined;
let synthesizer: Promise<Synth> | undefined;
/** The synthesizer once it has been woken: what is awake sounds before the page is drawn anew. */
let ready: Synth | undefined;
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

/** Starts listening, from the beginning or (where nothing is pinned) from a tick. */
export async function listen(listening: Listening, fromTick = 0): Promise<void> {
  const { pins, state } = usePlayer.getState();
  usePlayer.setState({ listening });
  if (pins.length > 0 && performing && state === 'playing') tryNext(performing, listening);
  else await start(fromTick);
}

/** Whether all of them go on playing already, as far as there is room for so many. */
export function arePinned(own: readonly Pin[], pins: readonly Pin[]): boolean {
  return own.slice(-MOST_PINS).every(({ id }) => pins.some((one) => one.id === id));
}

/** Lets them go on playing while others are tried, or, where they all do, no longer; the oldest go where there are too many. */
export function togglePins(own: readonly Pin[]): void {
  const { pins } = usePlayer.getState();
  const others = pins.filter(({ id }) => !own.some((one) => one.id === id));
  setPins(arePinned(own, pins) ? others : [...others, ...own].slice(-MOST_PINS));
}

/** Takes a pin away, or (without an id) all. */
export function unpin(id?: string): void {
  setPins(id === undefined ? [] : usePlayer.getState().pins.filter((one) => one.id !== id));
}

function setPins(pins: readonly Pin[]): void {
  usePlayer.setState({ pins });
  if (usePlayer.getState().state === 'playing') void start(0);
}

/** When what is tried next begins. */
export function setChange(change: Change): void {
  usePlayer.setState({ change });
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
  const sent = Math.max(synth.now(), startedAt + sentUntil) + APART;
  quietUntil = synth.silence(sent);
  if (usePlayer.getState().output) {
    // A device takes nothing back: what has been sent there is waited for.
    quietUntil = sent + APART;
    for (let channel = 0; channel < 16; channel++) send([STATUS.controller | channel, 123, 0], sent);
  }
  performing = undefined;
  usePlayer.setState({ waiting: null });
}

/** Puts what is open into the bar, to be played from there; what sounds is left alone. */
export function offer(listening: Listening): void {
  const { state } = usePlayer.getState();
  if (state === 'silent' || state === 'failed') usePlayer.setState({ listening });
}

/**
 * Takes over a changed version of what is in the bar: goes on at the same place where it sounds, at once or (where nothing is
 * pinned) from the next bar line on.
 */
export function refresh(listening: Listening, change: 'once' | 'bar' = 'once'): void {
  const { listening: now, state, pins } = usePlayer.getState();
  if (now?.id !== listening.id) return;
  usePlayer.setState({ listening });
  if (state !== 'playing') return;
  if (change === 'bar' && pins.length === 0 && performing) goOnFromBar(performing, listening);
  else void start(positionTick());
}

/** Changes how things are heard; what sounds goes on at the same place, changed. */
export function hear(change: Partial<Omit<HowHeard, 'pins'>>): void {
  usePlayer.setState(change);
  if (usePlayer.getState().state === 'playing') void start(positionTick());
}

/** As it is, in the project's key, through the project's chords where it has any, and as it is again. */
export function hearNextWay(): void {
  const { inProject, throughChords, project } = usePlayer.getState();
  const next = !inProject ? 'key' : throughChords || !project?.chords ? 'own' : 'chords';
  hear({ inProject: next !== 'own', throughChords: next === 'chords', tempo: null });
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

/** The tick that sounds now of what is listened to, or so many seconds later; 0 in silence. */
export function positionTick(later = 0): number {
  if (!performing) return 0;
  const seconds = performing.synth.now() - performing.startedAt + later;
  const layer = current(performing, seconds);
  return layer ? layerTick(layer, seconds) : 0;
}

/** What is listened to at a moment: what was tried last and has begun. */
function current({ layers }: Performance, seconds: number): Layer | undefined {
  const tried = layers.filter(({ isPin }) => !isPin);
  return tried.findLast(({ from }) => from <= seconds) ?? tried[0];
}

/** The one synthesizer of the page, awake. It and its bank are loaded with the first sound, not with the page. */
export async function sharedSynth(): Promise<Synth> {
  synthesizer ??= import('./synth.ts').then(({ startSynth }) => startSynth());
  const synth = await synthesizer;
  await synth.wake();
  ready = synth;
  return synth;
}

async function start(fromTick: number): Promise<void> {
  const mine = ++attempt;
  const { listening } = usePlayer.getState();
  if (!listening || listening.lanes.length === 0) return;
  if (ready?.isAwake()) return begin(ready, fromTick);
  if (!performing) usePlayer.setState({ state: 'loading', problem: null });
  let synth: Synth;
  try {
    synth = await sharedSynth();
  } catch (error) {
    synthesizer = undefined;
    usePlayer.setState({ state: 'failed', problem: error instanceof Error ? error.message : String(error) });
    return;
  }
  if (mine === attempt) begin(synth, fromTick);
}

/** Ends what sounds, and begins what is to be heard in its place. */
function begin(synth: Synth, fromTick: number): void {
  const state = usePlayer.getState();
  const { listening } = state;
  if (!listening) return;
  const { layers, ...clock } =
    state.pins.length > 0 ? besidePins(listening, state) : alone(listening, state, fromTick);
  endPerformance();
  // What silence still has to end is over before the first message of the new start.
  const startedAt = Math.max(synth.now() + LEAD_IN, quietUntil + LEAD_IN / 2);
  synth.openAt(startedAt - LEAD_IN / 2);
  synth.setVolume(state.volume);
  const { output } = state;
  const send = output
    ? (bytes: readonly number[], time: number) =>
        output.send({ ms: performance.now() + (time - synth.now()) * 1000, bytes })
    : synth.send;
  for (const { program } of layers) for (const bytes of program.setUp) send(bytes, startedAt - LEAD_IN / 2);
  performing = { synth, layers, ...clock, startedAt, sentUntil: 0, send };
  usePlayer.setState({ state: 'playing' });
  sendDue();
  markBeginning((startedAt - synth.now()) * 1000);
  ticker ??= startTicker();
  ticker.postMessage(EVERY * 1000);
}

/** The mark (User Timing) by which whoever measures knows when the music begins: bench/library. */
export const BEGINNING = 'music begins';

function markBeginning(inMs: number): void {
  performance.clearMarks(BEGINNING);
  performance.mark(BEGINNING, { startTime: performance.now() + inMs });
}

/** A candidate that is there so long before the line still begins on it, in seconds: what is later waits for the next. */
const IN_TIME = 0.06;

/** How far ahead, in seconds, a change can begin: what was sent already has its end. */
function aheadOf({ sentUntil }: Performance, seconds: number): number {
  return Math.max(IN_TIME, sentUntil - seconds + APART);
}

/** Begins something in the place of what is tried now, at the next bar line, round or moment. The pins are not touched. */
function tryNext(now: Performance, listening: Listening): void {
  const state = usePlayer.getState();
  const seconds = now.synth.now() - now.startedAt;
  const at = nextMoment(state.change, seconds, {
    bar: now.bar,
    round: now.round,
    ahead: aheadOf(now, seconds),
  });
  const pins = now.layers.filter(({ isPin }) => isPin);
  // What would have begun at the same line has not: it is left out.
  const begun = now.layers.filter(({ isPin, from, until }) => !isPin && from < at && until > seconds);
  for (const layer of begun) layer.until = Math.min(layer.until, at);
  const used = begun.at(-1)?.program.setUp[0]?.[0] ?? 0;
  const channel = TRIED_ON.find((one) => (used & 0xf) !== freeChannel(one)) ?? TRIED_ON[0];
  now.layers = [...pins, ...begun, triedLayer(listening, now.tempo, state, channel, at)];
  usePlayer.setState({ waiting: listening.id });
}

/** So long writing an arrangement as messages may take, in seconds. */
const WHILE_WRITTEN = 0.5;

/** Goes on with a changed version of what sounds alone, from the next bar line. What would have begun there has not: it is left out. */
function goOnFromBar(now: Performance, listening: Listening): void {
  // A whole arrangement takes a while to be written as messages: what comes meanwhile is handed over first.
  sendDue(WHILE_WRITTEN);
  const seconds = now.synth.now() - now.startedAt;
  const begun = now.layers.filter(({ from, until }) => from <= now.sentUntil && until > seconds);
  now.layers = [
    ...begun.slice(0, -1),
    ...changedAtBar(begun.at(-1)!, listening, usePlayer.getState(), {
      now: seconds,
      ahead: aheadOf(now, seconds),
    }),
  ];
}

/** A clock that goes on in the background; told how often in milliseconds, 0 stops it. */
export function startTicker(onTick: () => void = () => sendDue()): Worker {
  const worker = new Worker(new URL('./ticker.ts', import.meta.url), { type: 'module' });
  worker.onmessage = onTick;
  return worker;
}

/** Hands over what is due, and what comes within `ahead` seconds. */
function sendDue(ahead?: number): void {
  if (!performing) return;
  const { synth, layers, startedAt, sentUntil, send } = performing;
  const now = synth.now() - startedAt;
  const hasPins = layers.some(({ isPin }) => isPin);
  const until = now + (ahead ?? (hasPins ? IN_TIME : AHEAD));
  if (until > sentUntil) {
    const { muted } = usePlayer.getState();
    for (const { bytes, lane, seconds } of messagesOfLayers(layers, sentUntil, until)) {
      const isNoteOn = kindOf(bytes[0]!) === STATUS.noteOn;
      if (!(isNoteOn && muted.has(lane))) send(bytes, startedAt + seconds);
    }
    performing.sentUntil = until;
  }
  const { waiting } = usePlayer.getState();
  if (waiting !== null && current(performing, now)?.id === waiting) usePlayer.setState({ waiting: null });
  // What has ended, and has had its endings, is done with.
  performing.layers = layers.filter((layer) => layer.until > performing!.sentUntil - EVERY);
  const last = layers.at(-1)!;
  const { program, playing } = last;
  if (!hasPins && !playing.loop && tickAt(program, playing, now - last.from) >= program.length) stop();
}
