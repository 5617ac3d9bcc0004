import { useEffect, useMemo, useRef } from 'react';
import { preparedContext, themeColor } from '../../../ui/drawing/canvas.ts';
import { useThemeVersion } from '../../../ui/drawing/use-canvas.ts';
import {
  drawNotes,
  drawWarp,
  heights,
  kitLanes,
  nameNotes,
  roleColor,
  type BarLine,
  type DrawnNotes,
} from '../../../ui/drawing/strand.ts';
import { type TimeWindow, type TimeScale, timeScale } from '../../../ui/drawing/time-window.ts';
import type { BarRange, Strand } from '../../shared/takes/strand-columns.ts';

/** Pixels of a strand, and of one that is opened. */
export const STRAND_HEIGHT = 67;
export const OPEN_HEIGHT = 190;

/** Where bars lie in a window, in pixels. */
export function spanOf(range: BarRange, bars: readonly BarLine[], x: TimeScale) {
  const start = bars[range.start - 1]?.tick ?? 0;
  const last = bars.at(-1)!;
  const before = bars.at(-2) ?? { tick: 0 };
  const end = bars[range.start + range.count - 1]?.tick ?? last.tick + (last.tick - before.tick);
  return { left: x(start), width: x(end) - x(start) };
}

/** The notes of a part over the bars: locked ones hollow, chosen ones framed, a kit on the named lanes of its pieces. */
export function StrandCanvas({
  strand,
  bars,
  window,
  width,
  range,
  silent,
  open,
  names,
  chosen,
}: {
  strand: Strand;
  bars: readonly BarLine[];
  window: TimeWindow;
  width: number;
  range: BarRange | null;
  silent: boolean;
  open: boolean;
  /** Whether note names are written where there is room. */
  names: boolean;
  /** Notes of the take that are chosen. */
  chosen: ReadonlySet<number>;
}) {
  const ref = useRef<HTMLCanvasElement>(null);
  const theme = useThemeVersion();
  const { part, notes, indices, locked } = strand;
  const tall = open ? OPEN_HEIGHT : STRAND_HEIGHT;
  const height = useMemo(() => heights(notes, part.role), [notes, part.role]);
  const lanes = useMemo(() => kitLanes(notes, part.role), [notes, part.role]);
  const layers = useMemo(
    () => layersOf({ notes, indices, locked }, chosen),
    [notes, indices, locked, chosen],
  );
  useEffect(() => {
    if (width <= 0) return;
    const context = preparedContext(ref.current!, width, tall);
    const size = { width, height: tall };
    if (range) {
      const { left, width: span } = spanOf(range, bars, timeScale(window, width));
      context.fillStyle = themeColor('select');
      context.fillRect(left, 0, span, tall);
    }
    drawWarp(context, bars, window, width, tall);
    const color = silent ? themeColor('rule') : roleColor(part.role);
    const thickness = open ? 7 : 3.5;
    drawNotes(context, layers.body, height, window, size, { color, thickness });
    if (layers.locked)
      drawNotes(context, layers.locked, height, window, size, { color, thickness, hollow: true });
    if (layers.chosen) {
      const style = { color: themeColor('ink'), thickness: thickness + 3, hollow: true };
      drawNotes(context, layers.chosen, height, window, size, style);
    }
    // The pieces of a kit are named by their lanes.
    if (names && lanes.length === 0)
      nameNotes(context, notes, height, window, size, { color: themeColor('ink'), thickness });
  }, [notes, layers, part.role, bars, window, width, tall, range, silent, open, names, lanes, height, theme]);
  // A name stands over the hits of its lane, not on them; closer lanes are not named.
  const named = lanes.length > 0 && tall / lanes.length >= 13;
  return (
    <>
      <canvas ref={ref} style={{ width, height: tall }} className="block" aria-hidden="true" />
      {named &&
        lanes.map((lane, i) => (
          <span
            key={lane}
            className="pointer-events-none absolute left-0.5 text-[9px] leading-none text-muted"
            style={{ top: Math.max(0, tall * (1 - (i + 0.5) / lanes.length) - (open ? 15 : 11)) }}
          >
            {lane}
          </span>
        ))}
    </>
  );
}

/** Notes that are drawn alike. */
function layersOf(
  { notes, indices, locked }: Pick<Strand, 'notes' | 'indices' | 'locked'>,
  chosen: ReadonlySet<number>,
) {
  const only = (wanted: (i: number) => boolean): DrawnNotes | null => {
    const at = [...indices.keys()].filter((k) => wanted(indices[k]!));
    if (at.length === 0) return null;
    const pick = (column: ArrayLike<number>) => Int32Array.from(at, (k) => column[k]!);
    return {
      length: at.length,
      tick: pick(notes.tick),
      duration: pick(notes.duration),
      pitch: pick(notes.pitch),
      velocity: pick(notes.velocity),
    };
  };
  const isLocked = new Set(locked);
  return {
    body: locked.length === 0 ? notes : (only((i) => !isLocked.has(i)) ?? { ...notes, length: 0 }),
    locked: locked.length === 0 ? null : only((i) => isLocked.has(i)),
    chosen: chosen.size === 0 ? null : only((i) => chosen.has(i)),
  };
}
