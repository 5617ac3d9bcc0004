import {
  DndContext,
  PointerSensor,
  useDraggable,
  useDroppable,
  useSensor,
  useSensors,
  type Announcements,
} from '@dnd-kit/core';
import { useCallback, useEffect, useRef, type ReactNode } from 'react';
import type { PartLoop } from '../../../core/analyze/part-loops.ts';
import type { Timeline } from '../../../core/music/timeline.ts';
import { isDoubtful } from '../../../core/words.ts';
import { Toggle } from '../../../ui/Button.tsx';
import { useTimeZoom } from '../../../ui/drawing/use-time-zoom.ts';
import { useSize } from '../../../ui/drawing/use-canvas.ts';
import { RoleMark } from '../../../ui/drawing/RoleMark.tsx';
import type { BarLine } from '../../../ui/drawing/strand.ts';
import type { TimeWindow } from '../../../ui/drawing/time-window.ts';
import { Playhead } from '../../shared/listening/Playhead.tsx';
import { BarRuler } from './BarRuler.tsx';
import { LoopMarks } from './LoopMarks.tsx';
import { LeaveHandle } from '../../shared/leaving/LeaveHandle.tsx';
import { PartMenu, type PartDoing } from './PartMenu.tsx';
import type { Selection } from '../selection.ts';
import { STRAND_HEIGHT, StrandCanvas } from './StrandCanvas.tsx';
import type { Strand } from '../../shared/takes/strand-columns.ts';
import { useStrandDrag, type StrandDrag } from './strand-drag.ts';

export interface StrandsProps {
  takeId: string;
  strands: readonly Strand[];
  bars: readonly BarLine[];
  endTick: number;
  window: TimeWindow;
  onWindow: (window: TimeWindow) => void;
  selection: Selection;
  soloed: ReadonlySet<string>;
  muted: ReadonlySet<string>;
  onSolo: (part: string) => void;
  onMute: (part: string) => void;
  /** Parts that are drawn taller. */
  opened: ReadonlySet<string>;
  /** Whether note names are written. */
  names: boolean;
  /** One part is dropped on another. */
  onMerge: (onto: string, part: string) => void;
  /** The chosen notes are dropped on a part. */
  onGive: (part: string) => void;
  onDo: (doing: PartDoing, part: string) => void;
  /** Where the sounding music begins in the take; null where something else sounds. */
  playingFrom: number | null;
  timeline: Timeline;
  /** Lines over and under the bar ruler, drawn to a width; each with what stands at its left. */
  above: readonly TakeLine[];
  below: readonly TakeLine[];
  /** The loops of a part that are marked: they do not lie over each other. */
  loopsOf: (part: string) => readonly PartLoop[];
  onLoop: (loop: PartLoop) => void;
}

/** A line of what was found, over the strands. */
export interface TakeLine {
  name: ReactNode;
  draw: (width: number) => ReactNode;
}

const HEADER = 196;

/** Strands over shared bars: the list of parts at the left is the strands' own header. */
export function Strands(props: StrandsProps) {
  const { strands, bars, window, selection, playingFrom, onMerge } = props;
  const tickOf = useCallback((tick: number) => (playingFrom ?? 0) + tick, [playingFrom]);
  const [area, { width }] = useSize<HTMLDivElement>();
  const canvasWidth = Math.max(0, width - HEADER);
  const drag = useStrandDrag(props, canvasWidth);
  // A click chooses; only a movement picks a part up.
  const sensors = useSensors(useSensor(PointerSensor, { activationConstraint: { distance: 8 } }));
  const { endTick, onWindow } = props;
  useTimeZoom(area, { window, endTick, left: HEADER, width: canvasWidth, onWindow });
  return (
    <div ref={area} className="notes-frame relative flex min-h-0 flex-1 flex-col">
      {props.above.map((line, at) => (
        <LineRow key={at} line={line} width={canvasWidth} />
      ))}
      <div className="flex border-b border-rule">
        <div className="flex-none" style={{ width: HEADER }} />
        <BarRuler
          bars={bars}
          window={window}
          range={selection.range}
          width={canvasWidth}
          drag={drag.bars()}
          tempos={props.timeline.tempos}
        />
      </div>
      {props.below.map((line, at) => (
        <LineRow key={at} line={line} width={canvasWidth} />
      ))}
      <DndContext
        sensors={sensors}
        accessibility={{ announcements: announcementsFor(strands) }}
        onDragEnd={({ active, over }) => {
          if (over && over.id !== active.id) onMerge(String(over.id), String(active.id));
        }}
      >
        <div
          className="notes-area min-h-0 flex-1 overflow-x-hidden overflow-y-auto"
          role="list"
          aria-label="Parts"
        >
          {strands.map((strand) => (
            <StrandRow key={strand.part.id} {...props} strand={strand} width={canvasWidth} drag={drag} />
          ))}
        </div>
      </DndContext>
      {drag.box && (
        <div
          className="pointer-events-none fixed z-20 border border-ink bg-ink/10"
          style={{ left: drag.box.left, top: drag.box.top, width: drag.box.width, height: drag.box.height }}
        />
      )}
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

function LineRow({ line, width }: { line: TakeLine; width: number }) {
  return (
    <div className="flex border-b border-thread">
      <div className="flex flex-none items-center gap-2 pr-2 pl-3 text-sm" style={{ width: HEADER }}>
        {line.name}
      </div>
      {width > 0 && line.draw(width)}
    </div>
  );
}

/** What is said to those who do not see a part move. */
function announcementsFor(strands: readonly Strand[]): Announcements {
  const name = (id: string | number | undefined) =>
    strands.find(({ part }) => part.id === id)?.part.name ?? '';
  return {
    onDragStart: ({ active }) => `${name(active.id)} is picked up.`,
    onDragOver: ({ over }) => (over ? `Over ${name(over.id)}.` : undefined),
    onDragEnd: ({ active, over }) =>
      over ? `${name(active.id)} is merged into ${name(over.id)}.` : undefined,
    onDragCancel: ({ active }) => `${name(active.id)} stays.`,
  };
}

function StrandRow({
  takeId,
  strand,
  bars,
  window,
  width,
  drag,
  selection,
  soloed,
  muted,
  onSolo,
  onMute,
  opened,
  names,
  onDo,
  timeline,
  loopsOf,
  onLoop,
}: StrandsProps & { strand: Strand; width: number; drag: StrandDrag }) {
  const { part, notes } = strand;
  const isSelected = selection.partIds.includes(part.id);
  const silent = muted.has(part.id) || (soloed.size > 0 && !soloed.has(part.id));
  const row = useRef<HTMLDivElement>(null);
  useEffect(() => {
    if (isSelected) row.current?.scrollIntoView({ block: 'nearest' });
  }, [isSelected]);
  const { setNodeRef: dropRef, isOver, active } = useDroppable({ id: part.id });
  const { setNodeRef: dragRef, listeners, isDragging, transform } = useDraggable({ id: part.id });
  const receives = (isOver && active?.id !== part.id) || drag.over === part.id;
  const asksRole = part.found && isDoubtful(part.certainty);
  return (
    <div
      ref={(element) => {
        row.current = element;
        dropRef(element);
      }}
      role="listitem"
      data-part={part.id}
      className={`flex border-b border-thread ${receives ? 'bg-select' : isSelected ? 'bg-card' : ''}`}
      style={{ minHeight: STRAND_HEIGHT + 1 }}
    >
      <div
        ref={dragRef}
        className={`flex flex-none cursor-pointer flex-col justify-center gap-1 border-l-3 pr-2 pl-2.5 ${isSelected ? 'border-madder' : 'border-transparent'} ${isDragging ? 'z-30 bg-card opacity-80 shadow-lg' : ''}`}
        style={{
          width: HEADER,
          transform: transform ? `translate(${transform.x}px, ${transform.y}px)` : undefined,
        }}
        onClick={(event) => selection.select(part.id, event.ctrlKey || event.metaKey || event.shiftKey)}
        {...listeners}
      >
        <div className="flex items-center gap-1">
          <button
            type="button"
            aria-pressed={isSelected}
            title={part.name}
            className={`min-w-0 flex-1 truncate text-left font-display font-semibold ${silent ? 'text-muted' : ''}`}
          >
            {part.name}
          </button>
          <LeaveHandle what={part.name} leaves={{ kind: 'take', id: takeId, parts: [part.id] }} />
          <PartMenu part={part} onDo={(doing) => onDo(doing, part.id)} />
        </div>
        <div className="flex items-center gap-1.5 text-sm">
          <span
            className={`min-w-0 flex-1 truncate ${asksRole ? 'text-muted italic' : ''}`}
            title={asksRole ? `Perhaps; ${part.certainty.toFixed(2)} certain` : undefined}
          >
            <RoleMark role={part.role} />
            {asksRole && '?'}
          </span>
          <span className="flex-none text-muted">{notes.length.toLocaleString('en')}</span>
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
        className={`relative min-w-0 flex-1 touch-none ${selection.choosing === 'notes' ? 'cursor-default' : 'cursor-crosshair'}`}
        data-strand={part.name}
        {...drag.strand(strand, opened.has(part.id))}
      >
        <StrandCanvas
          strand={strand}
          bars={bars}
          window={window}
          width={width}
          range={isSelected ? selection.range : null}
          silent={silent}
          open={opened.has(part.id)}
          names={names}
          chosen={isSelected ? selection.notes : NONE}
        />
        {loopsOf(part.id).map((loop) => (
          <LoopMarks
            key={`${loop.startBar} ${loop.bars}`}
            loop={loop}
            role={part.role}
            timeline={timeline}
            window={window}
            width={width}
            onChoose={() => onLoop(loop)}
          />
        ))}
      </div>
    </div>
  );
}

const NONE: ReadonlySet<number> = new Set();
