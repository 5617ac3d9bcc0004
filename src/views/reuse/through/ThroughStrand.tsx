import { useEffect, useMemo, useRef } from 'react';
import { isMade, type Clip } from '../../../core/phrase/clip.ts';
import { plural } from '../../../core/words.ts';
import { preparedContext, themeColor } from '../../../ui/drawing/canvas.ts';
import { useSize, useThemeVersion } from '../../../ui/drawing/use-canvas.ts';
import {
  drawNotes,
  drawnNotes,
  drawThorn,
  drawWarp,
  heights,
  roleColor,
  type BarLine,
} from '../../../ui/drawing/strand.ts';
import { type TimeWindow, timeScale, pixelsFor } from '../../../ui/drawing/time-window.ts';
import { Playhead } from '../../shared/listening/Playhead.tsx';

/** A part over other chords: hollow as it was, solid as it follows, a dot in what nobody played, a thorn over what falls outside. */
export function ThroughStrand({
  hollow,
  solid,
  outside,
  chosen,
  bars,
  isPlaying,
  onChoose,
}: {
  hollow: Clip;
  solid: Clip;
  /** Origins of the notes that fall outside, and of the one that is looked at. */
  outside: ReadonlySet<number>;
  chosen: number | undefined;
  bars: readonly BarLine[];
  isPlaying: boolean;
  onChoose: (note: number) => void;
}) {
  const [box, size] = useSize<HTMLDivElement>();
  const canvas = useRef<HTMLCanvasElement>(null);
  const theme = useThemeVersion();
  const drawn = useMemo(
    () => ({
      hollow: drawnNotes(hollow.notes),
      solid: drawnNotes(solid.notes),
      height: heights(drawnNotes([...hollow.notes, ...solid.notes]), solid.role),
    }),
    [hollow, solid],
  );
  const window = useMemo(
    (): TimeWindow => ({ fromTick: 0, toTick: Math.max(1, solid.length) }),
    [solid.length],
  );
  const thickness = Math.min(10, Math.max(4, size.height / 18));
  useEffect(() => {
    if (size.width <= 0 || size.height <= 0) return;
    const context = preparedContext(canvas.current!, size.width, size.height);
    drawWarp(context, bars, window, size.width, size.height);
    const style = { color: roleColor(solid.role), thickness: thickness - 2 };
    drawNotes(context, drawn.solid, drawn.height, window, size, style);
    const ring = { ...size, height: size.height + 2 };
    context.translate(0, -1);
    drawNotes(context, drawn.hollow, drawn.height, window, ring, {
      hollow: true,
      color: themeColor('muted'),
      thickness,
    });
    context.translate(0, 1);
    const x = timeScale(window, size.width);
    const room = size.height - thickness - 2;
    for (const note of solid.notes) {
      const left = x(note.tick);
      const top = 1 + room * (1 - drawn.height(note.pitch));
      if (isMade(note)) {
        context.fillStyle = themeColor('card');
        context.beginPath();
        context.arc(
          left + thickness / 2,
          top + (thickness - 2) / 2,
          Math.max(1, thickness / 6),
          0,
          2 * Math.PI,
        );
        context.fill();
      }
      if (outside.has(note.origin)) drawThorn(context, left, Math.max(10, top));
      if (note.origin === chosen) {
        context.strokeStyle = themeColor('ink');
        context.lineWidth = 1.5;
        context.strokeRect(
          left - 3,
          top - 3,
          Math.max(thickness, pixelsFor(x, note.duration)) + 5,
          thickness + 4,
        );
      }
    }
  }, [drawn, solid, bars, window, size, theme, outside, chosen, thickness]);
  return (
    <div
      ref={box}
      className="relative min-h-0 flex-1 overflow-hidden border border-rule bg-card"
      onClick={(event) => {
        const { left } = event.currentTarget.getBoundingClientRect();
        const tick = ((event.clientX - left) / Math.max(1, size.width)) * solid.length;
        const near = solid.notes
          .filter(({ origin }) => outside.has(origin))
          .sort((a, b) => Math.abs(a.tick - tick) - Math.abs(b.tick - tick))[0];
        if (near) onChoose(near.origin);
      }}
    >
      <canvas
        ref={canvas}
        className="absolute inset-0"
        style={{ width: size.width, height: size.height }}
        role="img"
        aria-label={`${plural(solid.notes.length, 'note')}, hollow as they were, solid as they follow; ${outside.size} outside`}
      />
      <Playhead isPlaying={isPlaying} tickOf={asItIs} window={window} left={0} width={size.width} />
    </div>
  );
}

const asItIs = (tick: number) => tick;
