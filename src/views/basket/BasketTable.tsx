import {
  closestCenter,
  DndContext,
  KeyboardSensor,
  PointerSensor,
  useSensor,
  useSensors,
  type Announcements,
  type DragEndEvent,
  type UniqueIdentifier,
} from '@dnd-kit/core';
import {
  arrayMove,
  SortableContext,
  sortableKeyboardCoordinates,
  useSortable,
  verticalListSortingStrategy,
} from '@dnd-kit/sortable';
import { GripVertical, Play, X } from 'lucide-react';
import { Link } from 'react-router';
import { Swatch } from '../../ui/Swatch.tsx';
import { PhraseCells, PhraseHeadings } from '../phrase/PhraseCells.tsx';
import type { BasketWire } from '../api/queries.ts';

type Item = BasketWire['items'][number];

const COLUMNS =
  'grid grid-cols-[20px_24px_110px_minmax(120px,1.1fr)_86px_50px_46px_36px_40px_minmax(140px,1.3fr)_24px] items-center gap-x-2.5';

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
  const sensors = useSensors(
    useSensor(PointerSensor, { activationConstraint: { distance: 4 } }),
    useSensor(KeyboardSensor, { coordinateGetter: sortableKeyboardCoordinates }),
  );
  const ids = items.map(({ id }) => id);
  const onDragEnd = ({ active, over }: DragEndEvent) => {
    if (!over || active.id === over.id) return;
    const item = items.find(({ id }) => id === active.id);
    onOrder(arrayMove(ids, ids.indexOf(String(active.id)), ids.indexOf(String(over.id))), item?.name ?? '');
  };
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
      <DndContext
        sensors={sensors}
        collisionDetection={closestCenter}
        accessibility={{ announcements: announcementsFor(items) }}
        onDragEnd={onDragEnd}
      >
        <SortableContext items={ids} strategy={verticalListSortingStrategy}>
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
        </SortableContext>
      </DndContext>
    </div>
  );
}

/** What is said to those who do not see a row move: names and places instead of ids. */
function announcementsFor(items: readonly BasketWire['items'][number][]): Announcements {
  const name = (id: UniqueIdentifier) => items.find((item) => item.id === id)?.name ?? '';
  const place = (id: UniqueIdentifier) =>
    `place ${items.findIndex((item) => item.id === id) + 1} of ${items.length}`;
  return {
    onDragStart: ({ active }) => `${name(active.id)} is picked up, ${place(active.id)}.`,
    onDragOver: ({ active, over }) => (over ? `${name(active.id)} over ${place(over.id)}.` : undefined),
    onDragEnd: ({ active, over }) => `${name(active.id)} is put down, ${place((over ?? active).id)}.`,
    onDragCancel: ({ active }) => `${name(active.id)} stays where it was, ${place(active.id)}.`,
  };
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
  const { attributes, listeners, setNodeRef, transform, transition } = useSortable({ id: item.id });
  return (
    <li
      ref={setNodeRef}
      className={`${COLUMNS} h-10 border-b border-l-3 border-b-thread ${isSelected ? 'border-l-madder bg-card' : 'border-l-transparent hover:bg-card'}`}
      style={{ transform: transform ? `translateY(${transform.y}px)` : undefined, transition }}
      onClick={onSelect}
      aria-current={isSelected}
    >
      <button
        type="button"
        className="cursor-grab text-muted"
        {...attributes}
        {...listeners}
        aria-label={`Move ${item.name}`}
      >
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
      <Link to={`/normalize/${item.id}`} className="truncate font-bold">
        {item.name}
      </Link>
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
