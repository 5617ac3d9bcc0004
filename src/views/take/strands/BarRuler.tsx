import { scaleLinear } from 'd3-scale';
import type { PointerEvent } from 'react';
import { bpmOf, type TempoChange } from '../../../core/music/timeline.ts';
import { barWidthIn, type BarLine } from '../../../ui/drawing/strand.ts';
import { type TimeWindow, timeScale } from '../../../ui/drawing/time-window.ts';
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
  const x = timeScale(window, width);
  const barWidth = barWidthIn(bars, x);
  // Numbers only as near to each other as they can be read.
  const every = [1, 2, 4, 8, 16, 32, 64, 128, 256].find((n) => n * barWidth > 26) ?? 512;
  const chosen = range && spanOf(range, bars, x);
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
        // The bar one is in keeps its number at the left until the next has come to it.
        const next = bars[i + 1];
        const left = every === 1 && (!next || x(next.tick) > 26) ? Math.max(0, x(tick)) : x(tick);
        if (i % every !== 0 || left < -20 || left > width) return null;
        return (
          <span key={i} className="absolute bottom-0.5" style={{ left: left + 3 }}>
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
  const x = timeScale(window, width);
  const y = scaleLinear([slowest, Math.max(slowest + 1, fastest)], [CURVE_HEIGHT - 1, 1]);
  const points = tempos.map(({ tick }, k) => `${x(tick).toFixed(1)},${y(bpms[k]!).toFixed(1)}`);
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
