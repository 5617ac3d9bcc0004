import type { Take } from '../capture/take.ts';
import { GM_DRUM_CHANNEL, GM_DRUM_RANGE } from '../midi/gm.ts';
import { barTicks, beatTicks, meterAt } from '../music/timeline.ts';
import type { PitchPair } from './split.ts';

/** GM percussion: what the three that carry a groove translate to. */
const KICK = 36;
const SNARE = 38;
const CLOSED_HAT = 42;

/** Shifts by which kits are found off the GM map, in semitones: an octave's naming is the usual cause. */
const SHIFTS = [-12, 12, -24, 24];

/**
 * A translation from a kit's found layout to the GM percussion map: by octaves where that brings kick, snare and hat to
 * their places; else kick, snare and hat by where they fall in the bar (common practice: the kick on the first beat,
 * the snare on the beats after it, the hat most often). Empty where the kit lies right, or nothing can be told.
 */
export function guessDrumMap(take: Take, indices: readonly number[]): PitchPair[] {
  const counts = new Map<number, number>();
  for (const i of indices) counts.set(take.notes.pitch[i]!, (counts.get(take.notes.pitch[i]!) ?? 0) + 1);
  const pitches = [...counts.keys()].sort((a, b) => a - b);
  if (liesRight(counts, 0) || isOnKitChannel(take, indices, counts)) return [];
  const shift = SHIFTS.find((by) => liesRight(counts, by));
  if (shift !== undefined) return pitches.map((pitch) => [pitch, pitch + shift] as const);
  return byPlaceInTheBar(take, indices, counts);
}

/** On channel 10 what lies within the map and its usual extensions, 27 to 87 (common practice), means what it says. */
function isOnKitChannel(
  take: Take,
  indices: readonly number[],
  counts: ReadonlyMap<number, number>,
): boolean {
  if (!indices.every((i) => take.notes.channel[i] === GM_DRUM_CHANNEL)) return false;
  return [...counts.keys()].every((pitch) => pitch >= 27 && pitch <= 87);
}

/** Whether nearly all hits, shifted, lie on the GM map with a kick and a snare, and a hat where they had to be shifted. */
function liesRight(counts: ReadonlyMap<number, number>, by: number): boolean {
  let all = 0;
  let within = 0;
  for (const [pitch, count] of counts) {
    all += count;
    if (pitch + by >= GM_DRUM_RANGE.low && pitch + by <= GM_DRUM_RANGE.high) within += count;
  }
  const has = (...wanted: number[]) => wanted.some((pitch) => counts.has(pitch - by));
  return within >= 0.9 * all && has(35, 36) && has(37, 38, 39, 40) && (by === 0 || has(42, 44, 46));
}

function byPlaceInTheBar(
  take: Take,
  indices: readonly number[],
  counts: ReadonlyMap<number, number>,
): PitchPair[] {
  const { timeline } = take.timing;
  const meter = meterAt(timeline, 0);
  const beat = beatTicks(timeline.ppq, meter);
  const perBar = Math.round(barTicks(timeline.ppq, meter) / beat);
  const onBeat = (pitch: number, wanted: (beatInBar: number) => boolean) => {
    const hits = indices.filter((i) => take.notes.pitch[i] === pitch);
    const right = hits.filter((i) => {
      const at = take.notes.tick[i]! / beat;
      return Math.abs(at - Math.round(at)) < 0.12 && wanted(Math.round(at) % perBar);
    });
    return right.length / hits.length;
  };
  const often = [...counts].filter(([, count]) => count >= 0.05 * indices.length).map(([pitch]) => pitch);
  const pick = (score: (pitch: number) => number, taken: number[]) => {
    const [best] = often.filter((pitch) => !taken.includes(pitch)).sort((a, b) => score(b) - score(a));
    return best !== undefined && score(best) >= 0.5 ? [best] : [];
  };
  const snare = pick((pitch) => onBeat(pitch, (at) => (perBar === 4 ? at % 2 === 1 : at > 0)), []);
  const kick = pick((pitch) => onBeat(pitch, (at) => (perBar === 4 ? at % 2 === 0 : at === 0)), snare);
  const rest = often.filter((pitch) => ![...snare, ...kick].includes(pitch));
  const hat = rest.sort((a, b) => counts.get(b)! - counts.get(a)!).slice(0, 1);
  if (kick.length === 0 || snare.length === 0) return [];
  return [
    [kick[0]!, KICK] as const,
    [snare[0]!, SNARE] as const,
    ...hat.map((pitch) => [pitch, CLOSED_HAT] as const),
  ].filter(([from, to]) => from !== to);
}
