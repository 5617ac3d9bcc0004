import { create } from 'zustand';
import type { Held } from '../core/standins/stand-in.ts';
import { allNotesOff, settingMessages, triggerMessages } from '../core/sweep/device.ts';
import { bpmOfRun, PAUSE_SECONDS, runName, type SweepPlan, type SweepRunState, type SweepSettings } from '../core/sweep/plan.ts'; // prettier-ignore
import { deviceSetting } from './device-settings.ts';
import { armSource } from './hearing.ts';
import { startRecording, stopRecording } from './recorder.ts';
import { outputOf, useRecorder, type Prompt } from './recorder-state.ts'; // prettier-ignore

/** A sweep of a device, as the page goes through it. */
export interface DeviceSweep {
  id: string;
  plan: SweepPlan;
  runs: readonly { position: number; settings: SweepSettings; state: SweepRunState }[];
}

/** What is told of each run. */
export interface SweepTeller {
  /** What came of a run. */
  done(position: number, result: { takeId: string | null; reason: string }): Promise<unknown>;
}

interface SweepingState {
  /** The sweep that is gone through here; null for none. */
  id: string | null;
  position: number | null;
  phase: 'idle' | 'setting' | 'recording' | 'pause' | 'knob';
  problem: string | null;
}

export const useSweeping = create<SweepingState>(() => ({
  id: null,
  position: null,
  phase: 'idle',
  problem: null,
}));

/** Nothing for so long is noted, after it was tried once more; in milliseconds. */
const SILENT_MS = 4000;

/** Between a setting and the run: devices take a moment to load a sound, in milliseconds. */
const SETTLE_MS = 150;

let stopping = false;
let goOn: (() => void) | null = null;

/** Ends the sweep after the run that is under way; what was recorded is kept. */
export function stopSweeping(): void {
  stopping = true;
  goOn?.();
  if (useSweeping.getState().phase === 'recording') void stopRecording();
}

/** The knob is turned: the next run may begin. */
export function knobTurned(): void {
  goOn?.();
}

/**
 * Goes through the runs that wait, unattended: sets the device, counts in, records the bars and what rings on, ends all notes, rests a second. A
 * run in which nothing comes is made once more, and then noted. A device that is pulled out ends it; the runs wait until it is back.
 */
export async function sweepDevice(
  { id, plan, runs }: DeviceSweep,
  held: readonly Held[] | null,
  teller: SweepTeller,
): Promise<void> {
  if (plan.source.kind !== 'device' || useSweeping.getState().id !== null) return;
  const { name } = plan.source;
  // Only for as long as it lasts: what was set by hand is not written over.
  const { prompt, askedChart, settings, sources } = useRecorder.getState();
  stopping = false;
  useSweeping.setState({ id, position: null, phase: 'setting', problem: null });
  try {
    for (const run of runs.filter(({ state }) => state === 'waiting')) {
      if (stopping) break;
      const source = present(name);
      if (!source) {
        useSweeping.setState({ problem: `${name} is not there. Plug it in, and go on.` });
        break;
      }
      for (const one of useRecorder.getState().sources) armSource(one.id, one.id === source.id);
      useSweeping.setState({ position: run.position });
      if (plan.waits) await knob();
      if (stopping) break;
      const result = await runTwice(plan, run.settings, held, name);
      if (result === null) {
        if (!stopping) useSweeping.setState({ problem: `${name} went away. What it had played is kept; plug it in, and go on.` }); // prettier-ignore
        break;
      }
      await teller.done(run.position, result);
      useSweeping.setState({ phase: 'pause' });
      await rest(PAUSE_SECONDS * 1000);
    }
  } catch (error) {
    useSweeping.setState({ problem: (error as Error).message });
  } finally {
    useRecorder.setState({ prompt, askedChart, settings });
    for (const { id: one, armed } of sources) armSource(one, armed);
    useSweeping.setState({ id: null, position: null, phase: 'idle' });
  }
}

/** A run, and once more where nothing came; null where the sweep was ended before anything did. */
async function runTwice(
  plan: SweepPlan,
  run: SweepSettings,
  held: readonly Held[] | null,
  name: string,
): Promise<{ takeId: string | null; reason: string } | null> {
  for (let tries = 1; ; tries++) {
    const takeId = await oneRun(plan, run, held, name);
    if (takeId !== null) return { takeId, reason: '' };
    if (stopping || !present(name)) return null;
    if (tries === 2) return { takeId, reason: `Nothing came for ${SILENT_MS / 1000} seconds, twice.` };
  }
}

async function oneRun(
  plan: SweepPlan,
  run: SweepSettings,
  held: readonly Held[] | null,
  name: string,
): Promise<string | null> {
  const { channel } = deviceSetting(name);
  useSweeping.setState({ phase: 'setting' });
  send(name, settingMessages(run, channel));
  await rest(SETTLE_MS);
  const bpm = bpmOfRun(plan, run);
  const meter = { numerator: 4, denominator: 4 };
  const messages = triggerMessages(plan, run, held, channel);
  const title = `${plan.name}: ${runName(plan, run)}`;
  const prompt: Prompt = { kind: 'chart', id: '', name: title, bpm, meter, bars: plan.bars, messages };
  const askedChart = plan.trigger.kind === 'chart' ? plan.trigger.chart.trim() : '';
  useRecorder.setState(({ settings }) => ({
    ...{ prompt: messages.length > 0 ? prompt : null, askedChart, finished: null, problem: null },
    settings: { ...settings, name: title, clock: 'click', bpm, meter, bars: plan.bars, countInBars: 1 },
  }));
  try {
    await startRecording();
    useSweeping.setState({ phase: 'recording' });
    await ended();
  } finally {
    send(name, allNotesOff());
  }
  const { finished, problem } = useRecorder.getState();
  if (!finished && problem) throw new Error(problem);
  return finished?.takeId ?? null;
}

/** Waits until the recording is over; one in which nothing comes is ended early. */
function ended(): Promise<void> {
  return new Promise((resolve) => {
    const timer = setInterval(() => {
      const { phase, startMs, notes } = useRecorder.getState();
      if (phase === 'idle') {
        clearInterval(timer);
        resolve();
      } else if (phase === 'recording' && notes === 0 && performance.now() - startMs > SILENT_MS)
        void stopRecording();
    }, 50);
  });
}

function present(name: string) {
  return useRecorder
    .getState()
    .sources.find((source) => source.kind === 'device' && source.name === name && !source.lost);
}

function send(name: string, messages: readonly number[][]): void {
  const output = outputOf(present(name));
  for (const bytes of messages) output?.send({ ms: performance.now(), bytes });
}

function knob(): Promise<void> {
  useSweeping.setState({ phase: 'knob' });
  return new Promise((resolve) => {
    goOn = () => {
      goOn = null;
      resolve();
    };
  });
}

function rest(ms: number): Promise<void> {
  return new Promise((resolve) => setTimeout(resolve, ms));
}
