import { useEffect, useRef, type PointerEvent } from 'react';
import { preparedContext, themeColor } from '../../../ui/drawing/canvas.ts';
import { useSize, useThemeVersion } from '../../../ui/drawing/use-canvas.ts';
import { heights } from '../../../ui/drawing/strand.ts';
import { centeredOn, timeScale, type TimeWindow } from '../../../ui/drawing/time-window.ts';
import type { Strand } from '../../shared/takes/strand-columns.ts';

const HEIGHT = 22;

/** The whole take on a ribbon, a line a part; the frame is what the strands show, and can be dragged. */
export function Overview({
  strands,
  endTick,
  window,
  onWindow,
}: {
  strands: readonly Strand[];
  endTick: number;
  window: TimeWindow;
  onWindow: (window: TimeWindow) => void;
}) {
  const [box, { width }] = useSize<HTMLDivElement>();
  const canvas = useRef<HTMLCanvasElement>(null);
  const theme = useThemeVersion();
  useEffect(() => {
    if (width <= 0) return;
    const context = preparedContext(canvas.current!, width, HEIGHT);
    context.fillStyle = themeColor('muted');
    const x = timeScale({ fromTick: 0, toTick: endTick }, width);
    const line = HEIGHT / Math.max(1, strands.length);
    strands.forEach(({ notes, part }, row) => {
      const height = heights(notes, part.role);
      for (let i = 0; i < notes.length; i++) {
        const length = Math.max(1, x(notes.duration[i]!));
        context.fillRect(x(notes.tick[i]!), line * (row + 1 - height(notes.pitch[i]!)) - 0.5, length, 1);
      }
    });
  }, [strands, endTick, width, theme]);
  const percent = timeScale({ fromTick: 0, toTick: endTick }, 100);
  const center = (event: PointerEvent<HTMLDivElement>) => {
    if (event.buttons !== 1) return;
    const across = (event.clientX - event.currentTarget.getBoundingClientRect().left) / width;
    onWindow(centeredOn(window, percent.invert(100 * across), endTick));
  };
  return (
    <div
      ref={box}
      className="relative flex-1 overflow-hidden border border-thread bg-sunk"
      style={{ height: HEIGHT + 2 }}
      onPointerDown={center}
      onPointerMove={center}
      aria-hidden="true"
    >
      <canvas ref={canvas} style={{ width, height: HEIGHT }} />
      <div
        className="absolute inset-y-0 border-x-2 border-madder bg-madder/10"
        style={{
          left: `${percent(window.fromTick)}%`,
          width: `${percent(window.toTick - window.fromTick)}%`,
        }}
      />
    </div>
  );
}
