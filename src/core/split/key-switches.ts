import type { Take } from '../capture/take.ts';

/** How far key switches lie from the notes that sound, in semitones (common practice). */
const APART = 12;

/** Switches are few pitches; more are another hand. */
const MOST_PITCHES = 12;

/** The body must be clearly more than the switches, by pitches. */
const FEWEST_BODY = 3;

/**
 * Notes that choose how an instrument plays instead of sounding: a few pitches that are held or repeated, an octave
 * or more below or above everything else of the part, within an octave of each other. Empty where there are none.
 */
export function keySwitches(take: Take, indices: readonly number[]): number[] {
  const counts = new Map<number, number>();
  for (const i of indices) counts.set(take.notes.pitch[i]!, (counts.get(take.notes.pitch[i]!) ?? 0) + 1);
  const pitches = [...counts.keys()].sort((a, b) => a - b);
  const found = [pitches, [...pitches].reverse()].flatMap((order) => switchesAtEnd(order));
  if (found.length === 0) return [];
  const switches = new Set(found);
  const chosen = indices.filter((i) => switches.has(take.notes.pitch[i]!));
  return behavesLikeSwitches(take, chosen, indices.length) ? chosen : [];
}

/** Pitches before the first wide gap, counted from one end. */
function switchesAtEnd(order: readonly number[]): number[] {
  const gap = order.findIndex((pitch, k) => k > 0 && Math.abs(pitch - order[k - 1]!) >= APART);
  if (gap < 0 || gap > MOST_PITCHES || order.length - gap < FEWEST_BODY) return [];
  const group = order.slice(0, gap);
  const span = Math.abs(group[0]! - group.at(-1)!);
  // Outside of what most instruments play: a low bass note under chords is no switch.
  const far = group.every((pitch) => pitch < 28 || pitch > 96);
  return span < 12 && far ? group : [];
}

/** One at a time, more than once, and fewer than what they switch. */
function behavesLikeSwitches(take: Take, chosen: readonly number[], all: number): boolean {
  const { notes } = take;
  const together = chosen.filter((i, k) => k > 0 && notes.tick[i]! === notes.tick[chosen[k - 1]!]!);
  if (together.length > 0.1 * chosen.length) return false;
  return chosen.length >= 2 && chosen.length < all / 2;
}
