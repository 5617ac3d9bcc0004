import { useRef, useState, type PointerEvent } from 'react';
import { isPitched, type Clip, type ClipNote } from '../../../core/phrase/clip.ts';
import type { HandEditing } from './hand-editing.ts';
import { boxOf, noteAt, notesWithin, pitchAt, tickAt, type Box, type NoteLayout } from './note-hits.ts';

/** What is being dragged, and how far: shown at once, done when it is let go. */
export type Drag =
  | { kind: 'move'; ticks: number; semitones: number }
  | { kind: 'length'; ticks: number }
  | { kind: 'box'; box: Box };

/** Pixels before a press is a drag. */
const STILL = 3;

/** Choosing, moving, stretching and adding notes with the pointer. Alt leaves the grid. */
export function useNoteDrag(
  clip: Clip,
  layout: NoteLayout,
  editing: HandEditing,
  step: number,
  left: number,
  top: number,
) {
  const [drag, setDrag] = useState<Drag | null>(null);
  const start = useRef<{ x: number; y: number; note: ClipNote | null; byEnd: boolean } | null>(null);
  const place = (event: { currentTarget: Element; clientX: number; clientY: number }) => {
    const box = event.currentTarget.getBoundingClientRect();
    return { x: event.clientX - box.left - left, y: event.clientY - box.top - top };
  };
  const pitches = () => (isPitched(clip) ? all128 : new Set(clip.notes.map(({ pitch }) => pitch)));

  const onPointerDown = (event: PointerEvent) => {
    if (event.button !== 0) return;
    const { x, y } = place(event);
    const hit = noteAt(clip.notes, layout, x, y);
    event.currentTarget.setPointerCapture(event.pointerId);
    start.current = { x, y, note: hit?.note ?? null, byEnd: hit?.byEnd ?? false };
    if (!hit) {
      if (!event.shiftKey) editing.choose([]);
      return;
    }
    const { origin } = hit.note;
    if (event.shiftKey) editing.choose([...editing.chosen, origin]);
    else if (!editing.chosen.has(origin)) editing.choose([origin]);
  };
  const onPointerMove = (event: PointerEvent) => {
    const from = start.current;
    if (!from) return;
    const { x, y } = place(event);
    if (!drag && Math.hypot(x - from.x, y - from.y) < STILL) return;
    if (!from.note) {
      const [l, r] = [Math.min(x, from.x), Math.max(x, from.x)];
      const [t, b] = [Math.min(y, from.y), Math.max(y, from.y)];
      setDrag({ kind: 'box', box: { left: l, top: t, right: r, bottom: b } });
      return;
    }
    const ticks = onGrid(tickAt(layout, x) - tickAt(layout, from.x), event.altKey ? 1 : step);
    if (from.byEnd) setDrag({ kind: 'length', ticks });
    else {
      const middle = boxOf(from.note, layout);
      const to = pitchAt(layout, (middle.top + middle.bottom) / 2 + y - from.y, pitches());
      setDrag({ kind: 'move', ticks, semitones: to - from.note.pitch });
    }
  };
  const onPointerUp = () => {
    start.current = null;
    setDrag(null);
    if (!drag) return;
    if (drag.kind === 'box') {
      editing.choose(notesWithin(clip.notes, layout, drag.box).map(({ origin }) => origin));
    } else {
      editing.edit(
        editing.notes.map((note) => ({ note: note.origin, ...changeOf(note, drag, clip) })),
        drag.kind === 'length' ? 'length by hand' : 'move by hand',
      );
    }
  };
  const onPointerCancel = () => {
    start.current = null;
    setDrag(null);
  };
  const onDoubleClick = (event: { currentTarget: Element; clientX: number; clientY: number }) => {
    const { x, y } = place(event);
    if (noteAt(clip.notes, layout, x, y)) return;
    const tick = Math.floor(tickAt(layout, x) / step) * step;
    editing.edit(
      [
        {
          add: {
            tick: Math.min(clip.length - 1, Math.max(0, Math.round(tick))),
            duration: Math.round(step),
            pitch: pitchAt(layout, y, pitches()),
            velocity: 90,
          },
        },
      ],
      'add a note',
    );
  };
  return { drag, handlers: { onPointerDown, onPointerMove, onPointerUp, onPointerCancel, onDoubleClick } };
}

const all128 = Array.from({ length: 128 }, (_, pitch) => pitch);

function onGrid(ticks: number, step: number): number {
  return Math.round(Math.round(ticks / step) * step);
}

function changeOf(note: ClipNote, drag: Exclude<Drag, { kind: 'box' }>, clip: Clip) {
  if (drag.kind === 'length') return { duration: Math.max(1, note.duration + drag.ticks) };
  return {
    tick: Math.min(clip.length - 1, Math.max(0, note.tick + drag.ticks)),
    ...(drag.semitones === 0 ? {} : { semitones: drag.semitones }),
  };
}

/** A note where it would be if the drag ended now. */
export function dragged(note: ClipNote, drag: Drag | null, clip: Clip): ClipNote {
  if (!drag || drag.kind === 'box') return note;
  const { semitones, ...change } = changeOf(note, drag, clip) as {
    semitones?: number;
    tick?: number;
    duration?: number;
  };
  return { ...note, ...change, pitch: Math.min(127, Math.max(0, note.pitch + (semitones ?? 0))) };
}
