import type { PointerEvent } from 'react';
import { bpmOf, type TempoChange } from '../../../core/music/timeline.ts';
import type { BarLine, TimeWindow } from '../../../ui/strand.ts';
import { spanOf } from './StrandCanvas.tsx';
import type { BarRange } from '../../shared/takes/strand-columns.ts';

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
  tempos,
}: {
  bars: readonly BarLine[];
  window: TimeWindow;
  range: BarRange | null;
  width: number;
  drag: Handlers;
  /** The tempo map; drawn where it changes. */
  tempos: readonly TempoChange[];
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
      {tempos.length > 1 && <TempoCurve tempos={tempos} window={window} width={width} />}
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

const CURVE_HEIGHT = 11;

/** The tempo over time, from its slowest at the floor to its fastest at the top. */
function TempoCurve({
  tempos,
  window,
  width,
}: {
  tempos: readonly TempoChange[];
  window: TimeWindow;
  width: number;
}) {
  const bpms = tempos.map(({ microseconds }) => bpmOf(microseconds));
  const [slowest, fastest] = [Math.min(...bpms), Math.max(...bpms)];
  const scale = width / (window.toTick - window.fromTick);
  const points = tempos.map(({ tick }, k) => {
    const y = 1 + (CURVE_HEIGHT - 2) * (1 - (bpms[k]! - slowest) / Math.max(1, fastest - slowest));
    return `${((tick - window.fromTick) * scale).toFixed(1)},${y.toFixed(1)}`;
  });
  return (
    <svg
      className="pointer-events-none absolute inset-x-0 top-0"
      width={width}
      height={CURVE_HEIGHT}
      role="img"
      aria-label={`Tempo from ${Math.round(slowest)} to ${Math.round(fastest)} BPM`}
    >
      <polyline points={points.join(' ')} fill="none" stroke="var(--woad)" strokeWidth={1.5} />
    </svg>
  );
}
