import type { Take } from '../capture/take.ts';

/** A cycle has at least so many slices. */
const FEWEST = 4;

/**
 * The pitches of one cycle, where some notes trigger slices of a sample: a run of neighboring pitches, all of them, each
 * once a cycle and in the same order every time (common practice). Null where they do not.
 */
export function sliceCycle(take: Take, indices: readonly number[]): number[] | null {
  const { notes } = take;
  const played = indices.map((i) => notes.pitch[i]!);
  const pitches = [...new Set(played)];
  const [low, high] = [Math.min(...pitches), Math.max(...pitches)];
  if (pitches.length < FEWEST || high - low + 1 !== pitches.length) return null;
  const cycle = played.slice(0, pitches.length);
  if (new Set(cycle).size !== cycle.length || played.length < 2 * cycle.length) return null;
  const right = played.filter((pitch, k) => pitch === cycle[k % cycle.length]).length;
  return right >= 0.9 * played.length && !isScale(take, indices) ? cycle : null;
}

/** Slices are cut at uneven places or all sound one after the other without overlap; a held run is a scale. */
function isScale(take: Take, indices: readonly number[]): boolean {
  const { notes } = take;
  const overlaps = indices.filter(
    (i, k) => k > 0 && notes.tick[indices[k - 1]!]! + notes.duration[indices[k - 1]!]! > notes.tick[i]! + 1,
  );
  return overlaps.length > 0.2 * indices.length;
}
