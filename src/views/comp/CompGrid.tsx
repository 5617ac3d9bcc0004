import { useVirtualizer } from '@tanstack/react-virtual';
import { Star } from 'lucide-react';
import { memo, useEffect, useRef } from 'react';
import { passOfBar, type Choice } from '../../core/comp/choice.ts';
import { useSize } from '../../ui/drawing/use-canvas.ts';
import { LayeredSwatch } from '../../ui/drawing/Swatch.tsx';
import type { CellWire, CompSheet } from './comp.worker.ts';

/** Of a cell and of what stands beside and above it, in pixels: few passes over few bars have more room each. */
const WIDTH = { least: 84, most: 132 };
const HEIGHT = { least: 44, most: 76 };
const SIDE = 150;
const HEAD = 42;

/** What is divided among so many, each with at least and at most so much. */
function share(room: number, among: number, { least, most }: { least: number; most: number }): number {
  return Math.max(least, Math.min(most, Math.floor(room / Math.max(1, among))));
}

/** Where one is: a pass, and bars from one to another (from 0, either way round). */
export interface GridPlace {
  pass: number;
  anchor: number;
  bar: number;
}

/** Passes down, bars across, in each cell what is played there; at the foot what is taken. */
export function CompGrid({
  sheet,
  cells,
  choice,
  row,
  place,
  stars,
  joints,
  onPlace,
  onTake,
}: {
  sheet: CompSheet;
  cells: (CellWire | null)[][] | undefined;
  choice: Choice;
  /** The row that is looked at; -1 for all. */
  row: number;
  place: GridPlace;
  stars: readonly (readonly boolean[])[];
  /** What is told of the joint before each bar, where it has a step that is heard. */
  joints: ReadonlyMap<number, string>;
  onPlace: (place: GridPlace) => void;
  /** Bars that were drawn over with the mouse are taken from the pass they were drawn in. */
  onTake: (pass: number, from: number, to: number) => void;
}) {
  const [scroller, size] = useSize<HTMLDivElement>();
  const cellSize = {
    width: share(size.width - SIDE - 1, sheet.chart.length, WIDTH),
    height: share(size.height - 2 * HEAD - 4, sheet.passes.length, HEIGHT),
  };
  const drag = useRef<{ pass: number; from: number; moved: boolean } | null>(null);
  const across = useVirtualizer({
    horizontal: true,
    count: sheet.chart.length,
    getScrollElement: () => scroller.current,
    estimateSize: () => cellSize.width,
    overscan: 3,
    paddingStart: SIDE,
    scrollPaddingStart: SIDE,
  });
  const down = useVirtualizer({
    count: sheet.passes.length,
    getScrollElement: () => scroller.current,
    estimateSize: () => cellSize.height,
    overscan: 4,
    paddingStart: HEAD,
    scrollPaddingStart: HEAD,
    scrollPaddingEnd: HEAD,
  });
  useEffect(() => {
    across.measure();
    down.measure();
  }, [cellSize.width, cellSize.height, across, down]);
  useEffect(() => {
    across.scrollToIndex(place.bar, { align: 'auto' });
    down.scrollToIndex(place.pass, { align: 'auto' });
  }, [place.bar, place.pass, across, down]);
  const [from, to] = [Math.min(place.anchor, place.bar), Math.max(place.anchor, place.bar)];
  const takenAt = (bar: number) => (row < 0 ? passOfBar(choice, bar) : (choice[row]?.[bar] ?? null));
  const isMixed = (bar: number) =>
    row < 0 && passOfBar(choice, bar) === null && choice.some((bars) => bars[bar] !== null);
  const columns = across.getVirtualItems();
  return (
    <div
      ref={scroller}
      className="relative min-h-0 flex-1 overflow-auto border border-rule bg-card"
      role="grid"
      aria-label="Passes and bars"
      aria-rowcount={sheet.passes.length + 1}
      aria-colcount={sheet.chart.length + 1}
      onPointerUp={() => {
        if (drag.current?.moved) onTake(drag.current.pass, from, to);
        drag.current = null;
      }}
      onPointerLeave={() => (drag.current = null)}
    >
      <div style={{ width: across.getTotalSize(), height: down.getTotalSize() + HEAD }}>
        <div role="row" className="sticky top-0 z-20 bg-card" style={{ height: HEAD }}>
          <span
            role="columnheader"
            className="sticky left-0 z-30 inline-block h-full bg-card px-2 pt-1 text-sm text-muted"
            style={{ width: SIDE }}
          >
            Pass
          </span>
          {columns.map(({ index, start }) => (
            <span
              key={index}
              role="columnheader"
              className={`absolute top-0 flex h-full flex-col justify-end border-b border-l border-rule px-1.5 pb-0.5 ${index >= from && index <= to ? 'bg-select' : ''}`}
              style={{ left: start, width: cellSize.width }}
            >
              <span className="text-xs text-muted tabular-nums">{index + 1}</span>
              <span className="truncate font-bold" title={sheet.chart[index]}>
                {sheet.chart[index] || 'N.C.'}
              </span>
            </span>
          ))}
        </div>
        {down.getVirtualItems().map(({ index: pass, start: top }) => (
          <div
            key={pass}
            role="row"
            className="absolute right-0 left-0"
            style={{ top, height: cellSize.height }}
          >
            <PassHead sheet={sheet} pass={pass} isHere={place.pass === pass} />
            {columns.map(({ index: bar, start: left }) => (
              <span
                key={bar}
                role="gridcell"
                className="absolute top-0 border-b border-l border-thread"
                style={{ left, width: cellSize.width, height: cellSize.height }}
                onPointerDown={() => {
                  drag.current = { pass, from: bar, moved: false };
                  onPlace({ pass, anchor: bar, bar });
                }}
                onPointerEnter={() => {
                  if (!drag.current) return;
                  drag.current.moved = true;
                  onPlace({ pass: drag.current.pass, anchor: drag.current.from, bar });
                }}
                onDoubleClick={() => onTake(pass, bar, bar)}
              >
                <CellButton
                  label={`${sheet.passes[pass]!.title}, bar ${bar + 1}`}
                  cell={cells?.[pass]?.[bar] ?? null}
                  isKnown={cells !== undefined}
                  isTaken={takenAt(bar) === pass}
                  isHere={place.pass === pass && bar >= from && bar <= to}
                  isStarred={stars[pass]?.[bar] ?? false}
                  width={cellSize.width}
                  height={cellSize.height}
                />
              </span>
            ))}
          </div>
        ))}
        <div style={{ height: down.getTotalSize() - HEAD }} />
        <div
          role="row"
          className="sticky bottom-0 z-20 border-t-2 border-rule bg-card"
          style={{ height: HEAD }}
        >
          <span
            role="rowheader"
            className="sticky left-0 z-30 inline-flex h-full items-center bg-card px-2 font-bold"
            style={{ width: SIDE }}
          >
            Taken
          </span>
          {columns.map(({ index: bar, start: left }) => (
            <span
              key={bar}
              role="gridcell"
              className="absolute top-0 flex h-full flex-col items-center justify-center border-l border-thread"
              style={{ left, width: cellSize.width }}
            >
              <TakenMark pass={takenAt(bar)} isMixed={isMixed(bar)} />
              {joints.has(bar) && (
                <span className="max-w-full truncate px-1 text-xs text-madder" title={joints.get(bar)}>
                  {joints.get(bar)}
                </span>
              )}
            </span>
          ))}
        </div>
      </div>
    </div>
  );
}

function TakenMark({ pass, isMixed }: { pass: number | null; isMixed: boolean }) {
  if (isMixed) return <span className="text-sm text-muted">several</span>;
  if (pass === null) return <span className="text-sm text-muted">none</span>;
  return <span className="rounded-[3px] bg-ink px-2 font-bold text-paper tabular-nums">{pass + 1}</span>;
}

function PassHead({ sheet, pass, isHere }: { sheet: CompSheet; pass: number; isHere: boolean }) {
  const { title, short, follows, bpm } = sheet.passes[pass]!;
  return (
    <span
      role="rowheader"
      className={`sticky left-0 z-10 inline-flex h-full items-center gap-2 border-b border-thread px-2 ${isHere ? 'bg-select' : 'bg-card'}`}
      style={{ width: SIDE }}
    >
      <span className="w-5 flex-none text-right font-bold tabular-nums">{pass + 1}</span>
      <span className="grid min-w-0">
        <span className="truncate leading-tight" title={title}>
          {short}
        </span>
        <span className="truncate text-xs leading-tight text-muted tabular-nums">
          {Math.round(bpm * 10) / 10} BPM{follows === false ? ', by bar number' : ''}
        </span>
      </span>
    </span>
  );
}

/** One bar of one pass, drawn again only where something of it changed: a grid has hundreds. */
const CellButton = memo(function CellButton({
  label,
  cell,
  isKnown,
  isTaken,
  isHere,
  isStarred,
  width,
  height,
}: {
  label: string;
  cell: CellWire | null;
  isKnown: boolean;
  isTaken: boolean;
  isHere: boolean;
  isStarred: boolean;
  /** In pixels. */
  width: number;
  height: number;
}) {
  const told = [
    ...(cell?.miss ? ['off the chart'] : []),
    ...(cell?.isLoose ? ['loose'] : []),
    ...(cell?.isUnlike ? ['unlike all others'] : []),
    ...(isStarred ? ['starred'] : []),
    ...(isTaken ? ['taken'] : []),
  ];
  const outline = isHere ? 'outline-2 -outline-offset-2 outline-ink' : '';
  return (
    <button
      type="button"
      tabIndex={-1}
      aria-pressed={isTaken}
      className={`relative block size-full overflow-hidden text-left ${isTaken ? 'bg-select' : 'hover:bg-sunk'} ${outline}`}
    >
      <span className="sr-only">
        {label}: {cell ? told.join(', ') : isKnown ? 'not played' : 'being read'}
      </span>
      {cell ? (
        <span className={`block px-1 pt-1 ${isTaken ? '' : 'opacity-60'}`}>
          <LayeredSwatch parts={cell.parts} width={width - 10} height={height - 20} />
        </span>
      ) : (
        isKnown && (
          <span className="absolute inset-0 grid place-content-center text-xs text-muted" aria-hidden="true">
            not played
          </span>
        )
      )}
      <span className="absolute right-1 bottom-0 flex gap-1 text-xs leading-tight" aria-hidden="true">
        {cell?.miss && <b className="text-madder">{cell.miss.sounded || 'silent'}</b>}
        {cell?.isLoose && <span className="text-muted">loose</span>}
        {cell?.isUnlike && <span className="text-muted">unlike</span>}
        {isStarred && <Star size={11} className="fill-weld text-weld" />}
      </span>
      {isTaken && <span className="absolute right-0 bottom-0 left-0 h-1 bg-ink" aria-hidden="true" />}
    </button>
  );
});
