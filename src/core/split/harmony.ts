import type { Take } from '../capture/take.ts';
import { barTicks, meterAt } from '../music/timeline.ts';

/** Which pitch classes sound in each bar, part by part: against what the notes of one part are held. */
export interface Harmony {
  /** Ticks of a bar; the first meter is taken throughout. */
  bar: number;
  /** By part, then bar: bits 0..11 for the pitch classes that begin there. */
  sounding: Uint16Array[];
}

/** Parts are lists of note indices. */
export function harmonyOf(take: Take, parts: readonly (readonly number[])[]): Harmony {
  const { notes, timing } = take;
  const bar = Math.max(1, barTicks(timing.timeline.ppq, meterAt(timing.timeline, 0)));
  const bars = Math.min(MOST_BARS, Math.floor(timing.ticks / bar) + 1);
  const sounding = parts.map((indices) => {
    const bits = new Uint16Array(bars);
    for (const i of indices) {
      const at = Math.floor(notes.tick[i]! / bar);
      if (at < bars) bits[at]! |= 1 << (notes.pitch[i]! % 12);
    }
    return bits;
  });
  return { bar, sounding };
}

/** A file may claim to be hours long: what comes later is not compared. */
export const MOST_BARS = 4096;

/** From how many pitch classes on the others make a harmony. */
const A_CHORD = 3;

/**
 * Share (0..1) of a part's notes whose pitch class none of the others play in the same bar; null where the others
 * make no harmony. High for drums, whose pitches are no pitches. `others` are indices of parts.
 */
export function misfit(
  take: Take,
  harmony: Harmony,
  indices: readonly number[],
  others: readonly number[],
): number | null {
  let compared = 0;
  let strange = 0;
  const around = new Map<number, number>();
  for (const i of indices) {
    const at = Math.floor(take.notes.tick[i]! / harmony.bar);
    let bits = around.get(at);
    if (bits === undefined) {
      bits = others.reduce((all, part) => all | (harmony.sounding[part]![at] ?? 0), 0);
      around.set(at, bits);
    }
    if (bitCount(bits) < A_CHORD) continue;
    compared++;
    if (!(bits & (1 << (take.notes.pitch[i]! % 12)))) strange++;
  }
  return compared < 8 ? null : strange / compared;
}

function bitCount(bits: number): number {
  let count = 0;
  for (let left = bits; left; left &= left - 1) count++;
  return count;
}
