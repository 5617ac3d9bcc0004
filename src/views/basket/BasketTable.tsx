import { arrayMove } from '@dnd-kit/sortable';
import { GripVertical, Play, X } from 'lucide-react';
import { Link } from 'react-router';
import { SortableList, useSortableRow } from '../../ui/SortableList.tsx';
import { Swatch } from '../../ui/drawing/Swatch.tsx';
import { PhraseCells, PhraseHeadings } from '../shared/phrases/PhraseCells.tsx';
import type { BasketWire } from '../api/queries.ts';

type Item = BasketWire['items'][number];

const COLUMNS =
  'grid grid-cols-[20px_24px_110px_minmax(110px,1.1fr)_86px_84px_84px_36px_40px_minmax(110px,1.2fr)_24px] items-center gap-x-2.5';

/** The phrases of a basket in their order, each with the file name it will have. Rows are dragged by their handle. */
export function BasketTable({
  items,
  selected,
  sounding,
  onSelect,
  onListen,
  onOrder,
  onRemove,
}: {
  items: readonly Item[];
  selected: string | undefined;
  sounding: string | undefined;
  onSelect: (id: string) => void;
  onListen: (id: string) => void;
  onOrder: (ids: string[], name: string) => void;
  onRemove: (item: Item) => void;
}) {
  const ids = items.map(({ id }) => id);
  const order = (from: number, to: number) => onOrder(arrayMove(ids, from, to), items[from]!.name);
  return (
    <div className="min-h-0 flex-1 overflow-auto">
      <div className={`${COLUMNS} sticky top-0 z-10 border-b border-rule bg-paper pb-1 text-sm text-muted`}>
        <span />
        <span className="text-right">#</span>
        <span>Swatch</span>
        <span>Phrase</span>
        <PhraseHeadings />
        <span>File</span>
        <span />
      </div>
      <SortableList items={items} onOrder={order}>
        <ul>
          {items.map((item, i) => (
            <BasketRow
              key={item.id}
              item={item}
              number={i + 1}
              isSelected={item.id === selected}
              isSounding={item.id === sounding}
              onSelect={() => onSelect(item.id)}
              onListen={() => onListen(item.id)}
              onRemove={() => onRemove(item)}
            />
          ))}
        </ul>
      </SortableList>
    </div>
  );
}

function BasketRow({
  item,
  number,
  isSelected,
  isSounding,
  onSelect,
  onListen,
  onRemove,
}: {
  item: Item;
  number: number;
  isSelected: boolean;
  isSounding: boolean;
  onSelect: () => void;
  onListen: () => void;
  onRemove: () => void;
}) {
  const { row, handle } = useSortableRow(item.id);
  return (
    <li
      {...row}
      className={`${COLUMNS} h-10 border-b border-l-3 border-b-thread ${isSelected ? 'border-l-madder bg-card' : 'border-l-transparent hover:bg-card'}`}
      onClick={onSelect}
      aria-current={isSelected}
    >
      <button type="button" className="cursor-grab text-muted" {...handle} aria-label={`Move ${item.name}`}>
        <GripVertical size={15} />
      </button>
      <span className="text-right text-muted">{number}</span>
      <button
        type="button"
        className="relative flex"
        onClick={onListen}
        aria-label={`Listen to ${item.name}`}
        title="Listen"
      >
        <Swatch notes={item.swatch} role={item.role} bars={item.bars} width={110} height={28} />
        {isSounding && <Play size={12} className="absolute top-2 left-12 text-madder" fill="currentColor" />}
      </button>
      <span className="min-w-0 truncate">
        <Link to={`/normalize/${item.id}`} className="font-bold" title={item.name}>
          {item.name}
        </Link>
        {item.state === 'discarded' && <span className="ml-1.5 text-xs text-madder">set aside</span>}
      </span>
      <PhraseCells phrase={item} />
      <span className="truncate text-sm text-muted" title={item.file}>
        {item.file}
      </span>
      <button
        type="button"
        className="text-muted hover:text-ink"
        onClick={onRemove}
        aria-label={`Take ${item.name} out`}
        title="Take out (Delete)"
      >
        <X size={14} />
      </button>
    </li>
  );
}
