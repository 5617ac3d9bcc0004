import type { WireMessage } from '../midi/message.ts';
import { CONTROLLER, STATUS } from '../midi/smf.ts';
import { msPerQuarter } from '../music/timeline.ts';
import { parsePitch } from '../music/pitch.ts';
import { PPQ } from '../standins/performance.ts';
import type { Held } from '../standins/stand-in.ts';
import { bpmOfRun, type SweepPlan, type SweepSettings } from './plan.ts';
import { heldChart } from './play.ts';

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
  const ms = msPerQuarter(bpmOfRun(plan, run)) / PPQ;
  const transpose = typeof run.transpose === 'number' ? run.transpose : 0;
  const until = plan.bars * 4 * PPQ;
  return keys
    .filter(({ tick, pitch }) => tick < until && pitch + transpose >= 0 && pitch + transpose <= 127)
    .flatMap(({ tick, end, pitch, velocity }) => [
      { ms: tick * ms, bytes: [STATUS.noteOn | channel, pitch + transpose, velocity] },
      { ms: Math.min(end ?? until, until) * ms, bytes: [STATUS.noteOff | channel, pitch + transpose, 64] },
    ])
    .sort((a, b) => a.ms - b.ms || (a.bytes[0]! & 0xf0) - (b.bytes[0]! & 0xf0));
}

function keysOfRun(plan: SweepPlan, run: SweepSettings, held: readonly Held[] | null): readonly Held[] {
  if (typeof run.keys === 'string')
    return pitchesIn(run.keys).map((pitch) => ({ tick: 0, end: null, pitch, velocity: 90 }));
  if (plan.trigger.kind === 'chart') return heldChart(plan.trigger.chart);
  return plan.trigger.kind === 'phrase' ? (held ?? []) : [];
}

/** Pitches as people write them: "C3 E3 G3". What is none is left out. */
export function pitchesIn(text: string): number[] {
  return text
    .split(/[\s,]+/)
    .filter(Boolean)
    .flatMap((word) => parsePitch(word) ?? []);
}
