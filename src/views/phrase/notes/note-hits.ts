import type { ClipNote } from '../../../core/phrase/clip.ts';
import { type TimeWindow, timeScale, pixelsFor } from '../../../ui/drawing/time-window.ts';

/** How notes are laid out on a drawing, in pixels of it. */
export interface NoteLayout {
  window: TimeWindow;
  width: number;
  height: number;
  thickness: number;
  /** 0 is the floor, 1 the top. */
  heightOf: (pitch: number) => number;
}

/** Which end of a note is taken hold of within so many pixels of it. */
const EDGE = 5;

/** A finger is not a pixel. */
const NEAR = 3;

export interface Box {
  left: number;
  top: number;
  right: number;
  bottom: number;
}

/** Where a note is drawn. */
export function boxOf(note: ClipNote, layout: NoteLayout): Box {
  const { window, width, height, thickness, heightOf } = layout;
  const x = timeScale(window, width);
  const left = x(note.tick);
  const top = 1 + (height - thickness - 2) * (1 - heightOf(note.pitch));
  return {
    left,
    top,
    right: left + Math.max(thickness, pixelsFor(x, note.duration) - 1),
    bottom: top + thickness,
  };
}

/** The note at a point, and whether it is held by its end; undefined where there is none. The one drawn last lies on top. */
export function noteAt(
  notes: readonly ClipNote[],
  layout: NoteLayout,
  x: number,
  y: number,
): { note: ClipNote; byEnd: boolean } | undefined {
  for (const note of [...notes].reverse()) {
    const { left, top, right, bottom } = boxOf(note, layout);
    if (x < left - NEAR || x > right + NEAR || y < top - NEAR || y > bottom + NEAR) continue;
    // A short note is held by its body: there is no room for two handles.
    return { note, byEnd: right - left > 3 * EDGE && x > right - EDGE };
  }
  return undefined;
}

/** Notes that a box touches. */
export function notesWithin(notes: readonly ClipNote[], layout: NoteLayout, box: Box): ClipNote[] {
  return notes.filter((note) => {
    const own = boxOf(note, layout);
    return own.left <= box.right && own.right >= box.left && own.top <= box.bottom && own.bottom >= box.top;
  });
}

/** The tick at a place from the left. */
export function tickAt({ window, width }: NoteLayout, x: number): number {
  return timeScale(window, Math.max(1, width)).invert(x);
}

/** The pitch whose height is nearest to a place from the top, among those asked about. */
export function pitchAt(layout: NoteLayout, y: number, pitches: Iterable<number>): number {
  const { height, thickness, heightOf } = layout;
  let best = 60;
  let distance = Infinity;
  for (const pitch of pitches) {
    const middle = 1 + (height - thickness - 2) * (1 - heightOf(pitch)) + thickness / 2;
    if (Math.abs(middle - y) < distance) {
      distance = Math.abs(middle - y);
      best = pitch;
    }
  }
  return best;
}
