import { placeInBar } from '../music/metrical.ts';
import { isPitched, playedNotes, type Clip, type ClipNote } from '../phrase/clip.ts';
import { unitsOf } from '../phrase/units.ts';

/** What can be left out or added as one: a stroke of a pitched part, a hit of a drum. */
export interface Stroke {
  tick: number;
  notes: readonly ClipNote[];
  /** 0 on the first beat of the bar, less on weaker places (`placeInBar`). */
  weight: number;
  /** Beats from the bar line, and which bar, from 0. */
  beat: number;
  bar: number;
}

/** The strokes of a clip in order of time; key switches are none. */
export function strokesIn(clip: Clip): Stroke[] {
  const notes = playedNotes(clip);
  const units = isPitched(clip) ? unitsOf({ ...clip, notes }) : notes.map((note) => [note]);
  return units.map((unit) => ({ tick: unit[0]!.tick, notes: unit, ...placeOf(clip, unit[0]!.tick) }));
}

/** Where a tick lies in its bar; what is played a little early belongs to the place it is meant for. */
export function placeOf(clip: Clip, tick: number): ReturnType<typeof placeInBar> {
  const { ppq } = clip.timeline;
  const from = tick - clip.pickup;
  const nearest = (grid: number) => Math.round(from / grid) * grid;
  const [even, odd] = [nearest(ppq / 4), nearest(ppq / 3)];
  const at = Math.abs(odd - from) < Math.abs(even - from) - ppq / 48 ? odd : even;
  return placeInBar(clip, clip.pickup + at);
}
