import type { WireMessage } from '../midi/message.ts';
import { CONTROLLER, STATUS } from '../midi/smf.ts';
import { PPQ } from '../standins/performance.ts';
import { heldChart, heldMessages, heldPitches, pitchesIn } from '../standins/held.ts';
import type { Held } from '../standins/stand-in.ts';
import { bpmOfRun, type SweepPlan, type SweepSettings } from './plan.ts';

/** What a device is told before a run: program, controllers, a key switch that is touched. `channel` from 0. */
export function settingMessages(run: SweepSettings, channel: number): number[][] {
  return Object.entries(run).flatMap(([name, value]) => {
    if (typeof value !== 'number') return [];
    const controller = /^controller (\d{1,3})$/.exec(name);
    if (controller) return [[STATUS.controller | channel, Number(controller[1]), value]];
    if (name === 'program') return [[STATUS.program | channel, value - 1]];
    if (name === 'key switch')
      return [
        [STATUS.noteOn | channel, value, 100],
        [STATUS.noteOff | channel, value, 64],
      ];
    return [];
  });
}

/** What ends everything that a device still sounds, on all channels. */
export function allNotesOff(): number[][] {
  return Array.from({ length: 16 }, (_, channel) => [STATUS.controller | channel, CONTROLLER.allNotesOff, 0]);
}

/**
 * What sets a device off in a run, in milliseconds from bar one: the run's own held keys, the chart, or the phrase (`held`, in ticks of the
 * stand-ins); nothing where it plays by itself, set off by the clock.
 * @throws ChartError where the chart cannot be read
 */
export function triggerMessages(
  plan: SweepPlan,
  run: SweepSettings,
  held: readonly Held[] | null,
  channel: number,
): WireMessage[] {
  const keys = keysOfRun(plan, run, held);
  const semitones = typeof run.transpose === 'number' ? run.transpose : 0;
  return heldMessages(keys, { bpm: bpmOfRun(plan, run), semitones, channel, until: plan.bars * 4 * PPQ });
}

function keysOfRun(plan: SweepPlan, run: SweepSettings, held: readonly Held[] | null): readonly Held[] {
  if (typeof run.keys === 'string') return heldPitches(pitchesIn(run.keys));
  if (plan.trigger.kind === 'chart') return heldChart(plan.trigger.chart);
  return plan.trigger.kind === 'phrase' ? (held ?? []) : [];
}
