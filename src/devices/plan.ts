import type { RecordingPlan } from '../core/capture/recording.ts';
import { parseKey, type Key } from '../core/music/key.ts';
import { deviceSetting } from './device-settings.ts';
import { triggersNow, useRecorder, type SourceState } from './recorder-state.ts';
import { askedOf } from './stand-ins.ts';

/** What a recording of some sources is known by from its first second on. */
export function planOf(sources: SourceState[], startMs: number): RecordingPlan {
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
  const { askedChart } = useRecorder.getState();
  const key = told.find((one) => one.key !== '')?.key ?? '';
  return {
    chart: askedChart ?? told.find(({ chart }) => chart.trim() !== '')?.chart.trim() ?? '',
    key: parseKey(key) ?? null,
    bars: told.find(({ bars }) => bars !== null)?.bars ?? null,
  };
}
