import { create } from 'zustand';
import type { Account } from '../core/analyze/account.ts';
import type { RecordingClock } from '../core/capture/recording.ts';
import type { WireMessage } from '../core/midi/message.ts';
import { deviceSetting } from './device-settings.ts';
import type { MidiOutput, MidiSource } from './source.ts';
import { STAND_IN_OUTPUTS, STAND_IN_SOURCES } from './stand-ins.ts';
import type { MidiAccess } from './web-midi.ts';

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
  /** The chart that devices are asked to play in this recording; null for what was typed for each. */
  askedChart: string | null;
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
  askedChart: null,
}));

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

/** Devices that set the others off: what they play is kept beside the take, and never a part of it. */
export function triggersNow(): SourceState[] {
  return useRecorder
    .getState()
    .sources.filter(({ name, kind, lost }) => kind === 'device' && !lost && isTrigger(name));
}

function isTrigger(name: string): boolean {
  return deviceSetting(name).use !== 'recorded';
}

/** Where a source is played to: its own output, by its name where its ports have other ids. */
export function outputOf(source: Pick<SourceState, 'id' | 'name'> | undefined): MidiOutput | undefined {
  const { outputs } = useRecorder.getState();
  if (!source) return undefined;
  return outputs.find(({ id }) => id === source.id) ?? outputs.find(({ name }) => name === source.name);
}
