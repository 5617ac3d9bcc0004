import type { PointerEvent } from 'react';
import type { BarLine, TimeWindow } from '../../ui/strand.ts';
import { spanOf } from './StrandCanvas.tsx';
import type { BarRange } from './strand-columns.ts';

type Handlers = Partial<
  Record<'onPointerDown' | 'onPointerMove' | 'onPointerUp', (event: PointerEvent<HTMLElement>) => void>
>;

/** Bar numbers over the strands; bars are chosen by dragging. */
export function BarRuler({
  bars,
  window,
  range,
  width,
  drag,
}: {
  bars: readonly BarLine[];
  window: TimeWindow;
  range: BarRange | null;
  width: number;
  drag: Handlers;
}) {
  const scale = width / (window.toTick - window.fromTick);
  const barWidth = bars.length > 1 ? (bars[1]!.tick - bars[0]!.tick) * scale : width;
  // Numbers only as near to each other as they can be read.
  const every = [1, 2, 4, 8, 16, 32, 64, 128, 256].find((n) => n * barWidth > 26) ?? 512;
  const chosen = range && spanOf(range, bars, window, scale);
  return (
    <div className="relative h-7 flex-1 cursor-col-resize overflow-hidden text-sm select-none" {...drag}>
      {chosen && (
        <div
          className="absolute inset-y-0 border-x-2 border-weld bg-select"
          style={{ left: chosen.left, width: chosen.width }}
        />
      )}
      {bars.map(({ tick }, i) => {
        const x = (tick - window.fromTick) * scale;
        if (i % every !== 0 || x < -20 || x > width) return null;
        return (
          <span key={i} className="absolute bottom-0.5" style={{ left: x + 3 }}>
            {i + 1}
          </span>
        );
      })}
    </div>
  );
}
