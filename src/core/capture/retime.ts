import { bisector } from 'd3-array';
import { LAST_TICK } from '../midi/read.ts';
import type { MidiEvent } from '../midi/smf.ts';
import { isMeta, META } from '../midi/smf.ts';
import { makeTimeline, tempoAt, type TempoChange, type Timeline } from '../music/timeline.ts';
import type { Take } from './take.ts';

/**
 * Where the ticks of a take go: pairs of a tick as it was and as it becomes, both ascending. Between two the way is
 * straight; before the first and after the last it goes on as beside them. What would come before 0 comes at 0.
 */
export interface Retiming {
  anchors: readonly (readonly [from: number, to: number])[];
  /** One meter throughout; where none is given, the take's own go along. */
  meter?: { numerator: number; denominator: number };
  /** Ticks a quarter note of the new ticks, where it is another: film time has no whole number of them. */
  ppq?: number;
}

/** So many ticks earlier; what lies before goes to 0. */
export function pulled(ticks: number): Retiming {
  return { anchors: [[0, 0], [ticks, 0], [ticks + 1, 1]] }; // prettier-ignore
}

/** So many ticks later. */
export function pushed(ticks: number): Retiming {
  return { anchors: [[0, ticks], [1, ticks + 1]] }; // prettier-ignore
}

/** As if each note were written twice as long (2: double time, twice the bars) or half as long (0.5). */
export function scaled(factor: number): Retiming {
  return { anchors: [[0, 0], [1000, 1000 * factor]] }; // prettier-ignore
}

/** The new tick of an old one, a fraction included. */
export function retimedTick({ anchors }: Retiming, tick: number): number {
  return Math.min(LAST_TICK, Math.max(0, along(anchors, tick)));
}

/** The old tick of a new one: of several the last. */
export function originalTick({ anchors }: Retiming, tick: number): number {
  return Math.max(0, along(anchors.map(([from, to]) => [to, from] as const), tick)); // prettier-ignore
}

const byOldTick = bisector(([from]: readonly [number, number]) => from);

function along(anchors: readonly (readonly [number, number])[], tick: number): number {
  const next = byOldTick.right(anchors, tick, 1, anchors.length - 1);
  const [fromA, toA] = anchors[next - 1]!;
  const [fromB, toB] = anchors[next]!;
  return fromB === fromA ? toB : toA + ((tick - fromA) * (toB - toA)) / (fromB - fromA);
}

/** Whether anchors ascend, and there are enough: what comes from outside is asked. */
export function isRetiming({ anchors }: Retiming): boolean {
  return (
    anchors.length >= 2 &&
    anchors.every(([from, to], k) => {
      const before = anchors[k - 1];
      return from >= 0 && to >= 0 && (!before || (from > before[0] && to >= before[1]));
    }) &&
    anchors.at(-1)![1] > anchors.at(-2)![1]
  );
}

/**
 * The take on other bars: every note sounds when it sounded (but for silence that is cut off or put before), the same
 * notes under the same indices, and the tempo map says how fast the new beats go. The file's own events go along.
 */
export function retimeTake(take: Take, retiming: Retiming): Take {
  const move = (tick: number) => Math.round(retimedTick(retiming, tick));
  const { timing, notes } = take;
  const timeline = retimedTimeline(timing.timeline, retiming);
  const tick = notes.tick.map(move);
  const { division } = take.file;
  return {
    ...take,
    asCaptured: asCapturedOf(take),
    file: {
      ...take.file,
      division: retiming.ppq === undefined ? division : { kind: 'metrical', ppq: retiming.ppq },
      tracks: take.file.tracks.map((events) => retimedEvents(events, move)),
    },
    timing: {
      ...timing,
      timeline,
      tempos: timeline.tempos,
      meters: retiming.meter
        ? timeline.meters
        : timing.meters.map((meter) => ({ ...meter, tick: move(meter.tick) })),
      keys: timing.keys.map((key) => ({ ...key, tick: move(key.tick) })),
      markers: timing.markers.map((marker) => ({ ...marker, tick: move(marker.tick) })),
      ticks: move(timing.ticks),
    },
    notes: {
      ...notes,
      tick,
      duration: notes.duration.map((duration, i) =>
        Math.max(Math.min(1, duration), move(notes.tick[i]! + duration) - tick[i]!),
      ),
    },
  };
}

/** What a correction of time leaves behind: file, time and notes as they came. */
function asCapturedOf({ asCaptured, file, timing, notes }: Take): NonNullable<Take['asCaptured']> {
  return asCaptured ?? { file, timing, tick: notes.tick, duration: notes.duration };
}

/**
 * The take in another meter from a tick on: the same notes at the same ticks, bars counted anew. Where the tick lies within a
 * bar, a new one begins there.
 */
export function inMeter(
  take: Take,
  { fromTick, numerator, denominator }: { fromTick: number; numerator: number; denominator: number },
): Take {
  const { timing } = take;
  const { timeline } = timing;
  const before = timeline.meters.filter(({ tick }) => tick < fromTick);
  const meters = [...before, { tick: fromTick, numerator, denominator }];
  return {
    ...take,
    asCaptured: asCapturedOf(take),
    timing: { ...timing, timeline: makeTimeline(timeline.ppq, timeline.tempos, meters), meters },
  };
}

/** The take up to a tick, and never shorter than what sounds. */
export function endingAt(take: Take, tick: number): Take {
  const { notes, timing } = take;
  let ticks = tick;
  for (let i = 0; i < notes.length; i++) ticks = Math.max(ticks, notes.tick[i]! + notes.duration[i]!);
  return {
    ...take,
    asCaptured: asCapturedOf(take),
    timing: { ...timing, ticks },
  };
}

/** The take in the time in which it was captured. */
export function takeAsCaptured(take: Take): Take {
  if (!take.asCaptured) return take;
  const { file, timing, tick, duration } = take.asCaptured;
  return { ...take, file, timing, notes: { ...take.notes, tick, duration } };
}

/** Tempo and meter events stay in the timeline alone: in the file they would say what no longer holds. */
function retimedEvents(events: readonly MidiEvent[], move: (tick: number) => number): MidiEvent[] {
  return events
    .filter((event) => !isMeta(event, META.tempo) && !isMeta(event, META.meter))
    .map((event) => ({ ...event, tick: move(event.tick) }));
}

function retimedTimeline(timeline: Timeline, retiming: Retiming): Timeline {
  const ppq = retiming.ppq ?? timeline.ppq;
  const breaks = [
    ...new Set([0, ...timeline.tempos.map(({ tick }) => tick), ...retiming.anchors.map(([from]) => from)]),
  ].sort((a, b) => a - b);
  const tempos = breaks.flatMap((from, k): TempoChange[] => {
    const to = breaks[k + 1] ?? from + timeline.ppq;
    const length = along(retiming.anchors, to) - along(retiming.anchors, from);
    if (length <= 0) return [];
    const { microseconds } = tempoAt(timeline, from);
    return [
      {
        tick: Math.round(retimedTick(retiming, from)),
        microseconds: ((microseconds * (to - from)) / length) * (ppq / timeline.ppq),
      },
    ];
  });
  const meters = retiming.meter
    ? [{ tick: 0, ...retiming.meter }]
    : timeline.meters.map((meter) => ({ ...meter, tick: Math.round(retimedTick(retiming, meter.tick)) }));
  const settled = makeTimeline(ppq, withoutRepeats(tempos), meters);
  // What plays from the start has the first tempo that anything has.
  if (tempos[0] && tempos[0].tick > 0) settled.tempos[0] = { ...tempos[0], tick: 0 };
  return settled;
}

/** Neighbors of one tempo are one. */
function withoutRepeats(tempos: readonly TempoChange[]): TempoChange[] {
  return tempos.filter(
    ({ microseconds }, k) => k === 0 || Math.abs(microseconds / tempos[k - 1]!.microseconds - 1) > 1e-6,
  );
}
