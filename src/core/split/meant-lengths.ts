import { group } from 'd3-array';
import type { Take } from '../capture/take.ts';

/**
 * Lengths in ticks of some notes of one channel as they were most likely meant, by note index. Where one pitch sounds
 * twice at once, the file does not say which end is whose: first in, first out is the rule, and where instruments share a
 * channel it gives a short note the end of a long one. Here each end goes to the note that it gives a length which
 * others have. The take's own lengths stay as they are.
 */
export function meantLengths(take: Take, indices: readonly number[]): Map<number, number> {
  const { notes } = take;
  const byPitch = group(indices, (i) => notes.pitch[i]!);
  const usual = usualLengths(take, [...byPitch.values()]);
  const meant = new Map<number, number>();
  for (const list of byPitch.values()) pairByLength(take, list, usual, meant);
  return meant;
}

/** Lengths that differ by a few hundredths count as one. */
const bin = (length: number) => Math.round(Math.log2(Math.max(1, length)) * 8);

/** How often each length comes among notes whose end is in no doubt. */
function usualLengths(take: Take, pitches: readonly (readonly number[])[]): Map<number, number> {
  const { notes } = take;
  const counts = new Map<number, number>();
  for (const list of pitches) {
    let soundsUntil = -1;
    list.forEach((i, k) => {
      const end = notes.tick[i]! + notes.duration[i]!;
      const next = list[k + 1];
      const isAlone = notes.tick[i]! >= soundsUntil && (next === undefined || notes.tick[next]! >= end);
      soundsUntil = Math.max(soundsUntil, end);
      if (!isAlone) return;
      const length = bin(notes.duration[i]!);
      counts.set(length, (counts.get(length) ?? 0) + 1);
    });
  }
  return counts;
}

/** Notes of one pitch and channel that sound at once, at the most. */
const MOST_AT_ONCE = 32;

/** Goes through one pitch's beginnings and ends in time; of several that sound, the end goes to the likeliest. */
function pairByLength(
  take: Take,
  list: readonly number[],
  usual: ReadonlyMap<number, number>,
  meant: Map<number, number>,
): void {
  const { notes } = take;
  const ends = list.map((i) => notes.tick[i]! + notes.duration[i]!).sort((a, b) => a - b);
  let next = 0;
  let sounding: number[] = [];
  for (const end of ends) {
    while (next < list.length && notes.tick[list[next]!]! < end) sounding.push(list[next++]!);
    // So many at once are no music: the first ends first, as the file has it.
    if (sounding.length > MOST_AT_ONCE) {
      const first = sounding.shift()!;
      meant.set(first, end - notes.tick[first]!);
      continue;
    }
    // A note of no length begins where it ends.
    if (sounding.length === 0) sounding.push(list[next++]!);
    const likely = (i: number) => usual.get(bin(end - notes.tick[i]!)) ?? 0;
    const ended = sounding.reduce((best, i) => (likely(i) > likely(best) ? i : best));
    meant.set(ended, end - notes.tick[ended]!);
    sounding = sounding.filter((i) => i !== ended);
  }
}
