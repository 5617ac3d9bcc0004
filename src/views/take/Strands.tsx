import { useCallback, useEffect, useMemo, useRef, type PointerEvent, type WheelEvent } from 'react';
import type { Part } from '../../core/split/split.ts';
import { Toggle } from '../../ui/Button.tsx';
import { preparedContext, themeColor, useSize, useThemeVersion } from '../../ui/canvas.ts';
import { RoleMark } from '../../ui/RoleMark.tsx';
import {
  drawNotes,
  drawWarp,
  heights,
  roleColor,
  wheeled,
  type BarLine,
  type DrawnNotes,
  type TimeWindow,
} from '../../ui/strand.ts';
import { Playhead } from '../app/Playhead.tsx';

/** Bars chosen by hand, counted from 1. */
export interface BarRange {
  start: number;
  count: number;
}

/** A part as it is drawn. */
export interface Strand {
  part: Part;
  notes: DrawnNotes;
}

export interface StrandsProps {
  strands: readonly Strand[];
  bars: readonly BarLine[];
  endTick: number;
  window: TimeWindow;
  onWindow: (window: TimeWindow) => void;
  selected: ReadonlySet<string>;
  onSelect: (part: string, add: boolean) => void;
  range: BarRange | null;
  onRange: (range: BarRange | null) => void;
  soloed: ReadonlySet<string>;
  muted: ReadonlySet<string>;
  onSolo: (part: string) => void;
  onMute: (part: string) => void;
  /** Where the sounding music begins in the take; null where something else sounds. */
  playingFrom: number | null;
}

const HEADER = 196;

/** Strands over shared bars: the list of parts at the left is the strands' own header. */
export function Strands(props: StrandsProps) {
  const { strands, bars, window, range, selected, playingFrom } = props;
  const tickOf = useCallback((tick: number) => (playingFrom ?? 0) + tick, [playingFrom]);
  const [area, { width }] = useSize<HTMLDivElement>();
  const canvasWidth = Math.max(0, width - HEADER);
  const drag = useBarDrag(props, canvasWidth);
  const onWheel = (event: WheelEvent) => {
    const left = area.current!.getBoundingClientRect().left + HEADER;
    const next = wheeled(window, event, left, canvasWidth, props.endTick);
    if (next) props.onWindow(next);
  };
  return (
    <div ref={area} className="relative flex min-h-0 flex-1 flex-col" onWheel={onWheel}>
      <div className="flex border-b border-rule">
        <div className="flex-none" style={{ width: HEADER }} />
        <BarRuler bars={bars} window={window} range={range} width={canvasWidth} drag={drag} />
      </div>
      <div className="min-h-0 flex-1 overflow-x-hidden overflow-y-auto" role="list" aria-label="Parts">
        {strands.map((strand) => (
          <StrandRow
            key={strand.part.id}
            {...props}
            strand={strand}
            width={canvasWidth}
            drag={drag}
            isSelected={selected.has(strand.part.id)}
          />
        ))}
      </div>
      <Playhead
        isPlaying={playingFrom !== null}
        tickOf={tickOf}
        window={window}
        left={HEADER}
        width={canvasWidth}
      />
    </div>
  );
}

/** Choosing bars by dragging over ruler or strands. */
function useBarDrag({ bars, window, onRange, onSelect }: StrandsProps, width: number) {
  const anchor = useRef<number | null>(null);
  const barAt = (event: PointerEvent<HTMLElement>) => {
    const x = event.clientX - event.currentTarget.getBoundingClientRect().left;
    const tick = window.fromTick + (x / Math.max(1, width)) * (window.toTick - window.fromTick);
    const index = bars.findLastIndex((bar) => bar.tick <= tick);
    return Math.max(1, index + 1);
  };
  const setTo = (bar: number) => {
    const from = Math.min(anchor.current!, bar);
    onRange({ start: from, count: Math.abs(anchor.current! - bar) + 1 });
  };
  return (part?: string) => ({
    onPointerDown: (event: PointerEvent<HTMLElement>) => {
      if (event.button !== 0) return;
      event.currentTarget.setPointerCapture(event.pointerId);
      if (part) onSelect(part, event.ctrlKey || event.metaKey || event.shiftKey);
      anchor.current = barAt(event);
      setTo(anchor.current);
    },
    onPointerMove: (event: PointerEvent<HTMLElement>) => {
      if (anchor.current !== null) setTo(barAt(event));
    },
    onPointerUp: () => {
      anchor.current = null;
    },
  });
}

type Drag = ReturnType<typeof useBarDrag>;

function BarRuler({
  bars,
  window,
  range,
  width,
  drag,
}: Pick<StrandsProps, 'bars' | 'window' | 'range'> & { width: number; drag: Drag }) {
  const scale = width / (window.toTick - window.fromTick);
  const barWidth = bars.length > 1 ? (bars[1]!.tick - bars[0]!.tick) * scale : width;
  // Numbers only as near to each other as they can be read.
  const every = [1, 2, 4, 8, 16, 32, 64, 128, 256].find((n) => n * barWidth > 26) ?? 512;
  const chosen = range && spanOf(range, bars, window, scale);
  return (
    <div className="relative h-7 flex-1 cursor-col-resize overflow-hidden text-sm select-none" {...drag()}>
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

function spanOf(range: BarRange, bars: readonly BarLine[], window: TimeWindow, scale: number) {
  const start = bars[range.start - 1]?.tick ?? 0;
  const last = bars.at(-1)!;
  const before = bars.at(-2) ?? { tick: 0 };
  const end = bars[range.start + range.count - 1]?.tick ?? last.tick + (last.tick - before.tick);
  return { left: (start - window.fromTick) * scale, width: (end - start) * scale };
}

function StrandRow({
  strand,
  bars,
  window,
  width,
  drag,
  range,
  isSelected,
  onSelect,
  soloed,
  muted,
  onSolo,
  onMute,
}: StrandsProps & { strand: Strand; width: number; drag: Drag; isSelected: boolean }) {
  const { part, notes } = strand;
  const silent = muted.has(part.id) || (soloed.size > 0 && !soloed.has(part.id));
  const row = useRef<HTMLDivElement>(null);
  useEffect(() => {
    if (isSelected) row.current?.scrollIntoView({ block: 'nearest' });
  }, [isSelected]);
  return (
    <div
      ref={row}
      role="listitem"
      className={`flex h-17 border-b border-thread ${isSelected ? 'bg-card' : ''}`}
    >
      <div
        className={`flex flex-none cursor-pointer flex-col justify-center gap-1 border-l-3 pr-2 pl-2.5 ${isSelected ? 'border-madder' : 'border-transparent'}`}
        style={{ width: HEADER }}
        onClick={(event) => onSelect(part.id, event.ctrlKey || event.metaKey || event.shiftKey)}
      >
        <button
          type="button"
          aria-pressed={isSelected}
          className={`truncate text-left font-display font-semibold ${silent ? 'text-muted' : ''}`}
        >
          {part.name}
        </button>
        <div className="flex items-center gap-1.5 text-sm">
          <RoleMark role={part.role} />
          <span className="ml-auto text-muted">{notes.length.toLocaleString('en')}</span>
          <Toggle
            on={soloed.has(part.id)}
            aria-label={`Solo ${part.name}`}
            onClick={(event) => {
              event.stopPropagation();
              onSolo(part.id);
            }}
          >
            solo
          </Toggle>
          <Toggle
            on={muted.has(part.id)}
            aria-label={`Mute ${part.name}`}
            onClick={(event) => {
              event.stopPropagation();
              onMute(part.id);
            }}
          >
            mute
          </Toggle>
        </div>
      </div>
      <div
        className="relative min-w-0 flex-1 cursor-crosshair touch-none"
        data-strand={part.name}
        {...drag(part.id)}
      >
        <StrandCanvas
          notes={notes}
          part={part}
          bars={bars}
          window={window}
          width={width}
          range={isSelected ? range : null}
          silent={silent}
        />
      </div>
    </div>
  );
}

const ROW_HEIGHT = 67;

function StrandCanvas({
  notes,
  part,
  bars,
  window,
  width,
  range,
  silent,
}: {
  notes: DrawnNotes;
  part: Part;
  bars: readonly BarLine[];
  window: TimeWindow;
  width: number;
  range: BarRange | null;
  silent: boolean;
}) {
  const ref = useRef<HTMLCanvasElement>(null);
  const theme = useThemeVersion();
  const height = useMemo(() => heights(notes, part.role), [notes, part.role]);
  useEffect(() => {
    if (width <= 0) return;
    const context = preparedContext(ref.current!, width, ROW_HEIGHT);
    if (range) {
      const { left, width: span } = spanOf(range, bars, window, width / (window.toTick - window.fromTick));
      context.fillStyle = themeColor('select');
      context.fillRect(left, 0, span, ROW_HEIGHT);
    }
    drawWarp(context, bars, window, width, ROW_HEIGHT);
    const style = { color: silent ? themeColor('rule') : roleColor(part.role), thickness: 3.5 };
    drawNotes(context, notes, height, window, { width, height: ROW_HEIGHT }, style);
  }, [notes, part.role, bars, window, width, range, silent, height, theme]);
  return <canvas ref={ref} style={{ width, height: ROW_HEIGHT }} className="block" aria-hidden="true" />;
}
