import { swatchOf } from '../shared/phrases/swatch-of.ts';
import { plural } from '../../core/words.ts';
import { memo } from 'react';
import {
  cellAt,
  densityOf,
  octaveOf,
  type Weave,
  type WeaveCell,
  type WeaveSection,
} from '../../core/weave/weave.ts';
import { RoleMark } from '../../ui/drawing/RoleMark.tsx';
import { Swatch } from '../../ui/drawing/Swatch.tsx';
import type { PhraseWire } from '../api/queries.ts';
import { LeaveHandle } from '../shared/leaving/LeaveHandle.tsx';
import { useDropPlace } from './DragOnSheet.tsx';
import type { Place } from './place.ts';

/** A sheet of few bars is about so wide, a bar between these; a section no narrower than its name. In pixels. */
const SHEET_WIDTH = 780;
const BAR_WIDTH = { least: 10, most: 30 };
const NARROWEST = 96;

function sectionWidths(weave: Weave): Map<string, number> {
  const bars = weave.sections.reduce((sum, section) => sum + section.bars * section.times, 0);
  const bar = Math.min(BAR_WIDTH.most, Math.max(BAR_WIDTH.least, SHEET_WIDTH / Math.max(1, bars)));
  return new Map(
    weave.sections.map(({ id, bars: own, times }) => [
      id,
      Math.max(NARROWEST, Math.round(own * times * bar)),
    ]),
  );
}

/** The bars in which sections begin, from 1. */
function firstBars(weave: Weave): Map<string, number> {
  let bar = 1;
  const firsts = new Map<string, number>();
  for (const { id, bars, times } of weave.sections) {
    firsts.set(id, bar);
    bar += bars * times;
  }
  return firsts;
}

/** The sheet: sections across, each as wide as its bars, parts down, a ticket in each cell. */
export function WeaveSheet({
  weaveId,
  weave,
  phrases,
  place,
  told,
  onPlace,
}: {
  weaveId: string;
  weave: Weave;
  phrases: ReadonlyMap<string, PhraseWire>;
  place: Place;
  /** Places that something is told of, as "section part". */
  told: ReadonlySet<string>;
  onPlace: (place: Place) => void;
}) {
  const widths = sectionWidths(weave);
  const firsts = firstBars(weave);
  const isHere = (section: string | null, part: string | null) =>
    place.section === section && place.part === part;
  return (
    <div className="min-h-0 flex-1 overflow-auto" data-sheet>
      <table className="border-separate border-spacing-0" aria-label="The weave">
        <thead className="sticky top-0 z-20 bg-paper">
          <tr>
            <th className="sticky left-0 z-20 w-32 min-w-32 bg-paper" />
            {weave.sections.map((section) => (
              <SectionHead
                key={section.id}
                weaveId={weaveId}
                firstBar={firsts.get(section.id)!}
                section={section}
                width={widths.get(section.id)!}
                isHere={isHere(section.id, null)}
                onPlace={onPlace}
              />
            ))}
          </tr>
        </thead>
        <tbody>
          {weave.parts.map((part) => (
            <tr key={part.id}>
              <th
                scope="row"
                className="sticky left-0 z-10 border-t border-thread bg-paper p-0 text-left font-normal"
              >
                <span className="group relative block">
                  <button
                    type="button"
                    className={`flex h-14 w-32 items-center gap-2 px-1.5 text-left ${isHere(null, part.id) ? 'bg-select outline-2 -outline-offset-2 outline-ink' : 'hover:bg-sunk'}`}
                    aria-pressed={isHere(null, part.id)}
                    onClick={() => onPlace({ section: null, part: part.id })}
                  >
                    <RoleMark role={part.role} bare />
                    <span className="truncate">{part.name}</span>
                  </button>
                  <span className="absolute top-1 right-0.5 opacity-0 group-focus-within:opacity-100 group-hover:opacity-100">
                    <LeaveHandle what={part.name} leaves={{ kind: 'weave', id: weaveId, parts: [part.id] }} />
                  </span>
                </span>
              </th>
              {weave.sections.map((section) => {
                const cell = cellAt(weave, section.id, part.id);
                return (
                  <SheetCell
                    key={section.id}
                    section={section.id}
                    part={part.id}
                    label={`${part.name} in ${section.name}`}
                    cell={cell}
                    phrase={cell && phrases.get(cell.phrase)}
                    width={widths.get(section.id)! - 16}
                    isTold={told.has(`${section.id} ${part.id}`)}
                    isHere={isHere(section.id, part.id)}
                    onPlace={onPlace}
                  />
                );
              })}
            </tr>
          ))}
        </tbody>
      </table>
    </div>
  );
}

const SectionHead = memo(function SectionHead({
  weaveId,
  firstBar,
  section,
  width,
  isHere,
  onPlace,
}: {
  weaveId: string;
  /** Where it is played first, from 1. */
  firstBar: number;
  section: WeaveSection;
  width: number;
  isHere: boolean;
  onPlace: (place: Place) => void;
}) {
  const { setNodeRef, isOver } = useDropPlace({ section: section.id, part: null });
  const face = isOver ? DROP : isHere ? 'bg-select outline-2 -outline-offset-2 outline-ink' : 'hover:bg-sunk';
  return (
    <th
      ref={setNodeRef}
      scope="col"
      className="border-l border-thread-strong p-0 align-bottom font-normal"
      style={{ minWidth: width }}
    >
      <span className="group relative block">
        <button
          type="button"
          className={`grid w-full gap-0.5 rounded-t-[3px] px-2 py-1 text-left ${face}`}
          aria-pressed={isHere}
          onClick={() => onPlace({ section: section.id, part: null })}
        >
          <span className="flex items-baseline gap-2">
            <span className="truncate font-display text-base font-bold">{section.name}</span>
            <span className="text-xs whitespace-nowrap text-muted">
              {plural(section.bars, 'bar')}
              {section.times > 1 ? ` × ${section.times}` : ''}
            </span>
          </span>
          <span className="max-w-60 truncate text-xs text-muted" title={section.changes}>
            {section.changes || 'their own chords'}
          </span>
          <Energy level={section.energy} />
        </button>
        <span className="absolute top-1 right-0.5 opacity-0 group-focus-within:opacity-100 group-hover:opacity-100">
          <LeaveHandle
            what={section.name}
            leaves={{ kind: 'weave', id: weaveId, bars: { from: firstBar, to: firstBar + section.bars - 1 } }}
          />
        </span>
      </span>
    </th>
  );
});

/** Where what is dragged would fall. */
const DROP = 'outline-2 -outline-offset-1 outline-indigo';

/** A cell, drawn again only where something of it changed: a sheet has hundreds. */
const SheetCell = memo(function SheetCell({
  section,
  part,
  label,
  cell,
  phrase,
  width,
  isTold,
  isHere,
  onPlace,
}: {
  section: string;
  part: string;
  label: string;
  cell: WeaveCell | undefined;
  phrase: PhraseWire | undefined;
  width: number;
  isTold: boolean;
  isHere: boolean;
  onPlace: (place: Place) => void;
}) {
  const { setNodeRef, isOver } = useDropPlace({ section, part });
  const outline = isOver ? DROP : isHere ? 'outline-2 -outline-offset-1 outline-ink' : 'hover:border-ink';
  const face = cell ? 'border border-rule bg-card' : 'border border-dashed border-thread';
  return (
    <td ref={setNodeRef} className="border-t border-l border-thread p-0.5">
      <button
        type="button"
        data-cell={`${section} ${part}`}
        aria-pressed={isHere}
        className={`relative block h-13 w-full overflow-hidden rounded-[3px] text-left ${face} ${outline} ${cell?.muted ? 'opacity-40' : ''}`}
        onClick={() => onPlace({ section, part })}
      >
        <span className="sr-only">
          {label}: {cell ? '' : 'empty'}
        </span>
        {cell && <CellFace cell={cell} phrase={phrase} width={width} told={isTold} />}
      </button>
    </td>
  );
});

/** One to five stitches. */
function Energy({ level }: { level: number }) {
  return (
    <span className="flex gap-0.5" title={`Energy ${level} of 5`}>
      {[1, 2, 3, 4, 5].map((at) => (
        <span key={at} className={`h-1 w-3 ${at <= level ? 'bg-ink' : 'bg-thread'}`} />
      ))}
    </span>
  );
}

function marksOf(cell: WeaveCell): string[] {
  const density = densityOf(cell);
  const octave = octaveOf(cell);
  return [
    density === 0 ? '' : density > 0 ? `busier ${density}` : `calmer ${-density}`,
    octave === 0 ? '' : `octave ${octave > 0 ? '+' : ''}${octave}`,
    cell.plain ? 'own chords' : '',
    cell.rounds === null ? '' : plural(cell.rounds, 'round'),
    cell.offset > 0 ? `from bar ${cell.offset + 1}` : '',
    cell.crash ? 'crash' : '',
    cell.fill ? 'fill' : '',
    cell.muted ? 'silent' : '',
  ].filter(Boolean);
}

function CellFace({
  cell,
  phrase,
  width,
  told,
}: {
  cell: WeaveCell;
  phrase: PhraseWire | undefined;
  width: number;
  told: boolean;
}) {
  const marks = marksOf(cell);
  return (
    <span className="absolute inset-0 px-1.5 py-0.5">
      <span className="flex items-baseline gap-1.5">
        <span className="truncate text-sm">{phrase?.name ?? 'its phrase is gone'}</span>
        {told && (
          <span className="ml-auto flex-none text-xs text-madder" aria-hidden="true">
            !
          </span>
        )}
      </span>
      {phrase && (
        <span className="block opacity-80">
          <Swatch notes={swatchOf(phrase)} role={phrase.role} bars={phrase.bars} width={width} height={16} />
        </span>
      )}
      <span className="block truncate text-xs leading-tight text-muted">{marks.join(', ')}</span>
    </span>
  );
}
