import { rollup } from 'd3-array';
import type { Take } from '../capture/take.ts';
import { tempoAt } from '../music/timeline.ts';
import { notesByPart, type Split } from './split.ts';

/** Two notes of one pitch this close are one note twice: a generator that is still on answers about so fast. */
export const DOUBLE_MS = 10;

/** Ticks within which two notes of one pitch are one. */
export function doubleTicks(take: Take): number {
  const { timeline } = take.timing;
  return DOUBLE_MS / (tempoAt(timeline, 0).microseconds / 1000 / timeline.ppq);
}

/** Of notes that come twice (one pitch within 10 ms), the later ones. `indices` ascend. */
export function doublesAmong(take: Take, indices: Iterable<number>): number[] {
  const { notes } = take;
  const apart = doubleTicks(take);
  const single = new Map<number, number>();
  const later: number[] = [];
  for (const i of indices) {
    const pitch = notes.pitch[i]!;
    const before = single.get(pitch);
    if (before !== undefined && notes.tick[i]! - before <= apart) {
      later.push(i);
      single.delete(pitch);
    } else single.set(pitch, notes.tick[i]!);
  }
  return later;
}

/** The notes of one part that another plays too, at the same pitch within 10 ms; each of the other's is used once. */
export function doubledBy(take: Take, one: readonly number[], other: readonly number[]): number[] {
  const { notes } = take;
  const apart = doubleTicks(take);
  const ticksOf = (own: readonly number[]) => own.map((i) => notes.tick[i]!);
  const byPitch = rollup(other, ticksOf, (i) => notes.pitch[i]!);
  const next = new Map<number, number>();
  return one.filter((i) => {
    const ticks = byPitch.get(notes.pitch[i]!);
    if (!ticks) return false;
    let at = next.get(notes.pitch[i]!) ?? 0;
    while (at < ticks.length && ticks[at]! < notes.tick[i]! - apart) at++;
    const found = at < ticks.length && ticks[at]! <= notes.tick[i]! + apart;
    next.set(notes.pitch[i]!, found ? at + 1 : at);
    return found;
  });
}

/** Pairs of parts (indices) of which the second plays the notes of the first: one generator on two sounds. */
export function layeredParts(take: Take, split: Split): [first: number, second: number][] {
  const notes = notesByPart(split);
  return notes.flatMap((own, second): [number, number][] => {
    const first = notes.slice(0, second).findIndex((other) => isDoubleOf(take, own, other));
    return first < 0 ? [] : [[first, second]];
  });
}

/** Fewer notes may agree by chance. */
const FEWEST_LAYERED = 8;

function isDoubleOf(take: Take, one: readonly number[], other: readonly number[]): boolean {
  const few = Math.min(one.length, other.length);
  if (few < FEWEST_LAYERED || few < 0.8 * Math.max(one.length, other.length)) return false;
  return doubledBy(take, one, other).length >= 0.9 * one.length;
}
