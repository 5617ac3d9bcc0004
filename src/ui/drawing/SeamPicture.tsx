import { useEffect, useMemo, useRef } from 'react';
import type { Role } from '../../core/split/roles.ts';
import { preparedContext, themeColor } from './canvas.ts';
import { useThemeVersion } from './use-canvas.ts';
import { drawNotes, heights, roleColor, type DrawnNotes } from './strand.ts';

/** Where a loop goes back to its beginning, in ticks. */
export interface SeamPlace {
  start: number;
  end: number;
  beat: number;
  /** A note so little ahead of a line is meant for it. */
  early: number;
}

/** The seam of a loop, enlarged: its last beat, the line, and its first beat. What sounds over the line is seen to. */
export function SeamPicture({
  notes,
  role,
  place,
  width,
  height,
  label,
}: {
  notes: DrawnNotes;
  role: Role;
  place: SeamPlace;
  width: number;
  height: number;
  label: string;
}) {
  const ref = useRef<HTMLCanvasElement>(null);
  const theme = useThemeVersion();
  const seam = useMemo(() => seamNotes(notes, place), [notes, place]);
  const heightOf = useMemo(() => heights(notes, role), [notes, role]);
  useEffect(() => {
    const context = preparedContext(ref.current!, width, height);
    context.fillStyle = themeColor('sunk');
    context.fillRect(0, 0, width, height);
    context.fillStyle = themeColor('madder');
    context.fillRect(width / 2 - 0.5, 0, 1, height);
    const window = { fromTick: 0, toTick: 2 * place.beat };
    const style = { color: roleColor(role), thickness: Math.max(4, height / 24) };
    drawNotes(context, seam, heightOf, window, { width, height }, style);
  }, [seam, place, heightOf, role, theme, width, height]);
  return <canvas ref={ref} style={{ width, height }} className="block" role="img" aria-label={label} />;
}

/** Notes of the last beat before the line and of the first after it, from tick 0 to two beats. */
function seamNotes(notes: DrawnNotes, { start, end, beat, early }: SeamPlace): DrawnNotes {
  const at: number[] = [];
  const ticks: number[] = [];
  for (let i = 0; i < notes.length; i++) {
    const tick = notes.tick[i]!;
    if (tick + notes.duration[i]! > end - beat && tick < end - early && tick >= start - early) {
      at.push(i);
      ticks.push(tick - (end - beat));
    }
    if (tick >= start - early && tick < start + beat) {
      at.push(i);
      ticks.push(beat + tick - start);
    }
  }
  const pick = (column: ArrayLike<number>) => Int32Array.from(at, (i) => column[i]!);
  return {
    length: at.length,
    tick: Int32Array.from(ticks),
    duration: pick(notes.duration),
    pitch: pick(notes.pitch),
    velocity: pick(notes.velocity),
  };
}
