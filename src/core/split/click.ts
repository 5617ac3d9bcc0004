import type { Take } from '../capture/take.ts';
import { barTicks, beatTicks, meterAt } from '../music/timeline.ts';

/** Fewer are no click. */
const FEWEST = 8;

/** What a click may stray from the beat, in beats. */
const STRAY = 0.07;

/**
 * Whether some notes are a click track: one or two pitches, one onset on each beat and none between, and where there
 * are two, the other on the first of the bar (common practice).
 */
export function isClick(take: Take, indices: readonly number[]): boolean {
  const { notes, timing } = take;
  if (indices.length < FEWEST) return false;
  const pitches = [...new Set(indices.map((i) => notes.pitch[i]!))];
  if (pitches.length > 2) return false;
  const meter = meterAt(timing.timeline, 0);
  const beat = beatTicks(timing.timeline.ppq, meter);
  const bar = barTicks(timing.timeline.ppq, meter);
  const beats = indices.map((i) => Math.round(notes.tick[i]! / beat));
  const onBeats = indices.every((i, k) => Math.abs(notes.tick[i]! - beats[k]! * beat) <= beat * STRAY);
  const eachOnce = beats.every((at, k) => k === 0 || at === beats[k - 1]! + 1);
  if (!onBeats || !eachOnce) return false;
  if (indices.some((i) => notes.duration[i]! > beat)) return false;
  const perBar = Math.round(bar / beat);
  const firsts = new Set(indices.filter((_, k) => beats[k]! % perBar === 0).map((i) => notes.pitch[i]!));
  const others = new Set(indices.filter((_, k) => beats[k]! % perBar !== 0).map((i) => notes.pitch[i]!));
  if (pitches.length === 2)
    return firsts.size === 1 && others.size === 1 && ![...firsts].some((p) => others.has(p));
  // One pitch on every beat may be a bass or a kick: a click stresses the first of the bar, and is short.
  const loud = (is: boolean) => {
    const group = indices.filter((_, k) => (beats[k]! % perBar === 0) === is);
    return group.reduce((sum, i) => sum + notes.velocity[i]!, 0) / Math.max(1, group.length);
  };
  const short = indices.every((i) => notes.duration[i]! <= beat * 0.3);
  return short && pitches[0]! >= 60 && loud(true) >= loud(false) + 6;
}
