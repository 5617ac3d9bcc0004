import { useDraggable } from '@dnd-kit/core';
import { Pin } from 'lucide-react';
import type { PhraseListItem } from '../../../server/library/phrases/search.ts';
import { Swatch } from '../../../ui/drawing/Swatch.tsx';
import { PhraseCells, PhraseHeadings } from '../../shared/phrases/PhraseCells.tsx';
import { LeaveHandle } from '../../shared/leaving/LeaveHandle.tsx';
import { ratingWords } from '../../shared/phrases/rating.ts';
import { FitFigure } from './FitReasons.tsx';

/** Pixels. */
export const ROW = 31;

const COLUMNS =
  'grid grid-cols-[minmax(110px,1fr)_minmax(130px,1.4fr)_92px_44px_46px_36px_40px_52px_minmax(60px,0.7fr)] items-center gap-x-3 middling:grid-cols-[88px_minmax(100px,1.3fr)_82px_36px_42px_30px_34px_28px_minmax(36px,0.6fr)] middling:gap-x-2';

/** The headings of the rows. */
export function RowHeadings() {
  return (
    <div className={`${COLUMNS} border-b border-rule px-2 pb-1 text-sm text-muted`}>
      <span>Swatch</span>
      <span>Phrase</span>
      <PhraseHeadings />
      <span className="text-right">Fit</span>
      <span>Tags</span>
    </div>
  );
}

/** How a row stands among the others. */
export interface RowState {
  isSelected: boolean;
  isChosen: boolean;
  isSounding: boolean;
  /** Begins at the next line. */
  waits: boolean;
  /** Goes on playing while others are tried. */
  isPinned: boolean;
}

/** A phrase in the list: chosen by a click, heard by its swatch, dragged onto a basket or a tag. */
export function PhraseRow({
  phrase,
  state,
  at,
  total,
  top,
  onSelect,
  onChoose,
  onListen,
  onOpen,
}: {
  phrase: PhraseListItem;
  state: RowState;
  /** From 1. */
  at: number;
  total: number;
  /** Pixels from the list's beginning. */
  top: number;
  onSelect: (id: string) => void;
  /** With the others from the selected one to it, or alone. */
  onChoose: (id: string, others: boolean) => void;
  onListen: (id: string) => void;
  onOpen: (id: string) => void;
}) {
  const { isSelected, isChosen, isSounding, waits, isPinned } = state;
  const { setNodeRef, listeners, isDragging } = useDraggable({
    id: phrase.id,
    data: { name: phrase.name },
  });
  return (
    <div
      ref={setNodeRef}
      {...listeners}
      id={`phrase-${phrase.id}`}
      role="option"
      aria-setsize={total}
      aria-posinset={at}
      aria-selected={isSelected || isChosen}
      data-sounding={isSounding}
      className={`${COLUMNS} group absolute inset-x-0 cursor-pointer border-b border-l-3 border-b-thread pr-2 pl-1.5 ${
        isSelected ? 'border-l-madder' : 'border-l-transparent'
      } ${isChosen ? 'bg-select' : isSelected ? 'bg-card' : 'hover:bg-card'} ${isDragging ? 'opacity-50' : ''}`}
      style={{ height: ROW, transform: `translateY(${top}px)` }}
      onClick={({ shiftKey, ctrlKey, metaKey }) =>
        shiftKey || ctrlKey || metaKey ? onChoose(phrase.id, shiftKey) : onSelect(phrase.id)
      }
      title={phrase.name}
      onDoubleClick={() => onOpen(phrase.id)}
    >
      <span className="flex overflow-hidden" title="Listen (Space)" onClick={() => onListen(phrase.id)}>
        <Swatch notes={phrase.swatch} role={phrase.role} bars={phrase.bars} width={132} height={ROW - 7} />
      </span>
      <span className={`flex min-w-0 items-center font-bold ${isSounding ? 'text-madder' : ''}`}>
        <span className="min-w-0 flex-1 truncate">
          {isPinned && <Pin size={11} className="mr-1 inline text-madder" aria-label="pinned" />}
          {phrase.name}
          {waits && <span className="font-normal text-muted"> waits</span>}
        </span>
        <span className="opacity-0 group-hover:opacity-100">
          <LeaveHandle what={phrase.name} leaves={{ kind: 'phrase', id: phrase.id }} isQuiet />
        </span>
      </span>
      <PhraseCells phrase={phrase} />
      <FitFigure fit={phrase.fit} />
      <span className="truncate text-sm text-muted" title={phrase.tags.join(', ')}>
        {phrase.rating !== null && (
          <span className="text-weld" title="Rating">
            {ratingWords(phrase.rating)}{' '}
          </span>
        )}
        {phrase.tags.join(', ')}
      </span>
    </div>
  );
}
