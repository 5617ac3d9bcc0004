import { group } from 'd3-array';
import { compareClipNotes, type Clip, type ClipNote } from '../phrase/clip.ts';

/**
 * A phrase part of the way from how it was captured (0) to how the recipe leaves it (1), both in one frame. What only one
 * of them has is there in its half of the way.
 */
export function between(before: Clip, after: Clip, share: number): Clip {
  if (share >= 1) return after;
  const scale = before.length > 0 ? after.length / before.length : 1;
  const waiting = byOrigin(before.notes);
  const notes: ClipNote[] = [];
  for (const note of after.notes) {
    const was = waiting.get(note.origin)?.pop();
    if (was) notes.push(onTheWay(was, note, scale, share));
    else if (share >= 0.5) notes.push(note);
  }
  if (share < 0.5) {
    for (const left of waiting.values())
      for (const note of left) notes.push({ ...note, tick: Math.round(note.tick * scale) });
  }
  return { ...after, notes: notes.sort(compareClipNotes) };
}

/** Notes by origin, the last piece of each to be taken first: both sides pair from the end. */
function byOrigin(notes: readonly ClipNote[]): Map<number, ClipNote[]> {
  return group(notes, ({ origin }) => origin);
}

function onTheWay(was: ClipNote, note: ClipNote, scale: number, share: number): ClipNote {
  const way = (from: number, to: number) => Math.round(from + (to - from) * share);
  return {
    ...note,
    tick: way(was.tick * scale, note.tick),
    duration: way(was.duration * scale, note.duration),
    // Pitches have nothing in between.
    pitch: share < 0.5 ? was.pitch : note.pitch,
    velocity: way(was.velocity, note.velocity),
  };
}
