import { create } from 'zustand';
import type { WireMessage } from '../core/midi/message.ts';
import type { Mishap } from '../core/standins/mishaps.ts';
import { STAND_INS, type AnySettings } from '../core/standins/stand-ins.ts';
import type { MidiOutput, MidiSource, SourceStream } from './source.ts';
import type { StandInCommand, StandInSays } from './stand-in.worker.ts';

/** How a stand-in is set, and whether it plays. */
export interface StandInState {
  settings: AnySettings;
  mishaps: Mishap[];
  /** It answers the keys it is sent instead of playing by itself. */
  answersKeys: boolean;
  playing: boolean;
}

/** All stand-ins by id, as a form shows them. */
export const useStandIns = create<Record<string, StandInState>>(() =>
  Object.fromEntries(
    STAND_INS.map(({ id, defaults }) => [
      id,
      { settings: { ...defaults }, mishaps: [], answersKeys: false, playing: false },
    ]),
  ),
);

type Listener = (message: WireMessage, stream: SourceStream) => void;

interface Machine {
  worker: Worker;
  listeners: Set<Listener>;
}

const machines = new Map<string, Machine>();

/** A stand-in's thread, started when it is needed first. */
function machineOf(id: string): Machine {
  const known = machines.get(id);
  if (known) return known;
  const worker = new Worker(new URL('./stand-in.worker.ts', import.meta.url), { type: 'module' });
  const machine: Machine = { worker, listeners: new Set() };
  worker.onmessage = ({ data }: MessageEvent<StandInSays>) => {
    const tell = (messages: WireMessage[], stream: SourceStream) => {
      for (const { ms, bytes } of messages) {
        const own = { ms: ms - performance.timeOrigin, bytes };
        for (const listener of machine.listeners) listener(own, stream);
      }
    };
    tell(data.played, 'played');
    tell(data.input, 'input');
    if (useStandIns.getState()[id]!.playing !== data.playing) change(id, { playing: data.playing });
  };
  machines.set(id, machine);
  set(id);
  return machine;
}

function command(id: string, message: StandInCommand): void {
  machineOf(id).worker.postMessage(message);
}

function set(id: string): void {
  const { settings, mishaps, answersKeys } = useStandIns.getState()[id]!;
  machines
    .get(id)
    ?.worker.postMessage({ kind: 'set', id, settings, mishaps, answersKeys } satisfies StandInCommand);
}

function change(id: string, part: Partial<StandInState>): void {
  useStandIns.setState((all) => ({ [id]: { ...all[id]!, ...part } }));
}

/** Sets a stand-in; what it plays ends. */
export function setStandIn(id: string, part: Partial<Omit<StandInState, 'playing'>>): void {
  change(id, part);
  set(id);
}

/** Whether a stand-in can answer keys at all. */
export function canAnswer(id: string): boolean {
  return STAND_INS.find((one) => one.id === id)?.respond !== undefined;
}

/** Lets a stand-in that can answer keys do so. */
export function answerKeys(id: string): void {
  if (canAnswer(id) && !useStandIns.getState()[id]!.answersKeys) setStandIn(id, { answersKeys: true });
}

/** Presses its own play button: it plays by its own clock, which it sends. */
export function playStandIn(id: string, inMs = 100): void {
  command(id, { kind: 'play', atMs: performance.timeOrigin + performance.now() + inMs });
}

export function stopStandIn(id: string): void {
  command(id, { kind: 'stop' });
}

/** Bars that a stand-in is set to play, its tempo and meter, its chart and how many instruments it has. */
export function askedOf(id: string) {
  const standIn = STAND_INS.find((one) => one.id === id)!;
  const { settings, answersKeys } = useStandIns.getState()[id]!;
  const { bpm, meter, bars, parts } = standIn.play(settings);
  const chart = settings.chart ?? settings.chord;
  return {
    bpm,
    meter,
    bars: answersKeys ? null : bars,
    parts: parts.length,
    chart: typeof chart === 'string' ? chart : undefined,
  };
}

export const STAND_IN_SOURCES: readonly MidiSource[] = STAND_INS.map(({ id, title }) => ({
  id,
  name: title,
  kind: 'stand-in',
  listen: (onMessage) => {
    const { listeners } = machineOf(id);
    listeners.add(onMessage);
    return () => listeners.delete(onMessage);
  },
}));

export const STAND_IN_OUTPUTS: readonly MidiOutput[] = STAND_INS.map(({ id, title }) => ({
  id,
  name: title,
  kind: 'stand-in',
  send: ({ ms, bytes }) =>
    command(id, { kind: 'hear', messages: [{ ms: ms + performance.timeOrigin, bytes: [...bytes] }] }),
}));
