import type { Take } from '../capture/take.ts';
import { describePlaying } from './split.ts';

/** Pitches of the GM percussion map on which kits mostly live: kick, snare, hats, toms, ride, crash. */
const CORE = new Set([
  35, 36, 37, 38, 39, 40, 41, 42, 43, 44, 45, 46, 47, 48, 49, 50, 51, 52, 53, 55, 57, 59,
]);

const isKick = (pitch: number) => pitch === 35 || pitch === 36;
const isBackbeatOrHat = (pitch: number) => [37, 38, 39, 40, 42, 44, 46].includes(pitch);

/**
 * How much some notes look like a drum kit, 0..1: kit pitches that come back at the same places of the bar, several
 * at once, short, and without steps of a scale. Thresholds: common practice.
 */
export function kitLikeness(take: Take, indices: readonly number[]): number {
  if (indices.length < 8) return 0;
  const { notes } = take;
  const pitches = indices.map((i) => notes.pitch[i]!);
  const core = pitches.filter((pitch) => CORE.has(pitch)).length / pitches.length;
  const distinct = new Set(pitches);
  if (core < 0.75 || distinct.size > 18 || distinct.size < 2) return 0;
  if (!pitches.some(isBackbeatOrHat)) return 0;
  const { medianLength } = describePlaying(take, indices);
  const short = medianLength <= 0.3 ? 1 : medianLength <= 0.6 ? 0.6 : 0.1;
  const kick = pitches.some(isKick) ? 1 : 0.5;
  const wide = Math.max(...distinct) - Math.min(...distinct) >= 5 ? 1 : 0.5;
  return core * short * kick * wide * stacking(take, indices);
}

/**
 * Pieces of a kit meet freely: a hat sounds alone and with the kick and with the snare. The notes of a chord always
 * come together, those of a tune or a bass line always alone. 0.3 for those, 1 for a kit.
 */
function stacking(take: Take, indices: readonly number[]): number {
  const { notes, timing } = take;
  // A 32nd note: what a loose hand spreads a chord over, and half of what parts two sixteenths.
  const close = timing.timeline.ppq / 8;
  const alone = new Map<number, number>();
  const stacked = new Map<number, number>();
  for (let k = 0; k < indices.length;) {
    let end = k + 1;
    while (end < indices.length && notes.tick[indices[end]!]! - notes.tick[indices[k]!]! < close) end++;
    const seen = end - k > 1 ? stacked : alone;
    for (; k < end; k++) {
      const pitch = notes.pitch[indices[k]!]!;
      seen.set(pitch, (seen.get(pitch) ?? 0) + 1);
    }
  }
  let free = 0;
  for (const [pitch, count] of alone) free += stacked.has(pitch) ? count + stacked.get(pitch)! : 0;
  const share = free / indices.length;
  return 0.3 + 0.7 * Math.min(1, share / 0.3);
}

/** From here on notes are taken for a kit. */
export const KIT_ENOUGH = 0.4;
