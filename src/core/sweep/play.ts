import { barTicks } from '../music/timeline.ts';
import { heldChart } from '../standins/held.ts';
import { PPQ, type Performance, type Played } from '../standins/performance.ts';
import type { CommonSettings, Held } from '../standins/stand-in.ts';
import { bpmOfRun, runName, standInOf, type SweepPlan, type SweepSettings } from './plan.ts';

const METER = { numerator: 4, denominator: 4 };

/**
 * What a stand-in plays in one run, without waiting for its clock. A chart goes into its own field where it has one, and is held down
 * where it answers keys; a phrase is held down (`held`, in ticks of the stand-ins).
 * @throws ChartError where the chart cannot be read; RangeError where the source cannot be set off so
 */
export function playRun(
  plan: SweepPlan,
  run: SweepSettings,
  held: readonly Held[] | null = null,
): Performance {
  const standIn = standInOf(plan);
  if (!standIn) throw new RangeError('Only a stand-in can be played without its device.');
  const { trigger } = plan;
  const settings: CommonSettings & SweepSettings = {
    ...standIn.defaults,
    ...plan.settings,
    ...run,
    bpm: bpmOfRun(plan, run),
  };
  const has = (name: string) => standIn.fields.some((field) => field.name === name);
  if (has('bars') && !('bars' in run)) settings.bars = plan.bars;
  const title = `${standIn.title}: ${runName(plan, run)}`;
  if (trigger.kind === 'own') return { ...standIn.play(settings), title };
  if (trigger.kind === 'chart' && has('chart'))
    return { ...standIn.play({ ...settings, chart: trigger.chart }), title };
  if (!standIn.respond)
    throw new RangeError(
      `${standIn.title} ${trigger.kind === 'chart' ? 'plays no chart' : 'answers no keys'}: let it play by itself.`,
    );
  const down = trigger.kind === 'chart' ? heldChart(trigger.chart) : (held ?? []);
  const until = plan.bars * barTicks(PPQ, METER);
  const notes = standIn.respond(down, settings, until);
  const program = typeof settings.program === 'number' ? settings.program : 0;
  return {
    ...{ title, bpm: settings.bpm, meter: METER, bars: plan.bars },
    parts: [{ name: standIn.title, channel: 0, program, notes: [...notes] }],
    input: { name: 'Keys held', channel: 0, program: null, notes: down.map(playedKey(until)) },
  };
}

const playedKey =
  (until: number) =>
  ({ tick, end, pitch, velocity }: Held): Played => ({
    ...{ tick, pitch, velocity },
    length: (end ?? until) - tick,
  });
