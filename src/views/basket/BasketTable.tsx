import { arrayMove } from '@dnd-kit/sortable';
import { GripVertical, Play, X } from 'lucide-react';
import type { MouseEvent, ReactNode } from 'react';
import { Link } from 'react-router';
import { isPitched } from '../../core/phrase/clip.ts';
import { plural } from '../../core/words.ts';
import { RenameField } from '../../ui/fields/RenameField.tsx';
import { SortableList, useSortableRow } from '../../ui/SortableList.tsx';
import { Swatch } from '../../ui/drawing/Swatch.tsx';
import { PhraseCells, PhraseHeadings } from '../shared/phrases/PhraseCells.tsx';
import type { BasketRow } from './edit.ts';
import type { BasketItem } from './editing.ts';
import { ownWords } from './OwnWay.tsx';

const COLUMNS =
  'grid grid-cols-[20px_24px_110px_minmax(110px,1.5fr)_78px_70px_76px_32px_38px_24px_minmax(90px,1fr)_24px] items-center gap-x-2.5 middling:grid-cols-[20px_18px_60px_minmax(80px,1fr)_70px_60px_66px_28px_30px_24px_24px] middling:gap-x-1.5';

interface RowActions {
  onSelect: (id: string) => void;
  /** With the others from the selected one to it, or alone. */
  onChoose: (id: string, others: boolean) => void;
  onListen: (id: string) => void;
  onRemove: (id: string) => void;
  onRename: (id: string, heading: string) => void;
}

/**
 * The phrases of a basket in their order, under their headings, each with the file name it will have. Rows are dragged by their handle.
 */
export function BasketTable({
  rows,
  items,
  selected,
  chosen,
  sounding,
  ownWay,
  onOrder,
  ...actions
}: RowActions & {
  rows: readonly BasketRow[];
  items: ReadonlyMap<string, BasketItem>;
  selected: string | undefined;
  chosen: ReadonlySet<string>;
  sounding: string | undefined;
  /** How a phrase leaves of its own, to be opened. */
  ownWay: (item: BasketItem) => ReactNode;
  onOrder: (rows: BasketRow[], name: string) => void;
}) {
  const named = rows.map(({ id, heading }) => ({ id, name: heading ?? items.get(id)?.name ?? '' }));
  const order = (from: number, to: number) => onOrder(arrayMove([...rows], from, to), named[from]!.name);
  const numbers = numbersOf(rows);
  return (
    <div className="min-h-0 flex-1 overflow-auto">
      <div className={`${COLUMNS} sticky top-0 z-10 border-b border-rule bg-paper pb-1 text-sm text-muted`}>
        <span />
        <span className="text-right">#</span>
        <span>Swatch</span>
        <span>Phrase</span>
        <PhraseHeadings />
        <span />
        <span className="middling:hidden">File</span>
        <span />
      </div>
      <SortableList items={named} onOrder={order}>
        <ul>
          {rows.map(({ id, heading, own }, at) => {
            const item = items.get(id);
            if (heading !== undefined)
              return <HeadingRow key={id} {...actions} id={id} heading={heading} count={under(rows, at)} />;
            if (!item) return null;
            return (
              <PhraseRow
                key={id}
                {...actions}
                item={item}
                own={own ? ownWords(own, isPitched(item)) : ''}
                number={numbers.get(id)!}
                isSelected={id === selected}
                isChosen={chosen.has(id)}
                isSounding={id === sounding}
                ownWay={ownWay(item)}
              />
            );
          })}
        </ul>
      </SortableList>
    </div>
  );
}

/** Numbers of the phrases, from 1. */
function numbersOf(rows: readonly BasketRow[]): Map<string, number> {
  const phrases = rows.filter(({ heading }) => heading === undefined);
  return new Map(phrases.map(({ id }, k) => [id, k + 1]));
}

/** How many phrases stand under a heading. */
function under(rows: readonly BasketRow[], at: number): number {
  const next = rows.findIndex(({ heading }, k) => k > at && heading !== undefined);
  return (next < 0 ? rows.length : next) - at - 1;
}

function HeadingRow({
  id,
  heading,
  count,
  onRemove,
  onRename,
}: Pick<RowActions, 'onRemove' | 'onRename'> & { id: string; heading: string; count: number }) {
  const { row, handle } = useSortableRow(id);
  return (
    <li
      {...row}
      id={`heading-${id}`}
      className="flex h-9 items-end gap-2.5 border-b border-l-3 border-b-rule border-l-transparent pb-0.5"
    >
      <button
        type="button"
        className="mb-1 cursor-grab text-muted"
        {...handle}
        aria-label={`Move ${heading}`}
      >
        <GripVertical size={15} />
      </button>
      <span className="min-w-0 flex-1">
        <RenameField
          label={`Heading ${heading}`}
          className="font-display text-lg"
          value={heading}
          onRename={(text) => onRename(id, text)}
        />
      </span>
      <span className="mb-1 text-sm text-muted">{plural(count, 'phrase')}</span>
      <RemoveButton label={`Remove the heading ${heading}`} onRemove={() => onRemove(id)} />
    </li>
  );
}

function PhraseRow({
  item,
  own,
  number,
  isSelected,
  isChosen,
  isSounding,
  ownWay,
  onSelect,
  onChoose,
  onListen,
  onRemove,
}: Omit<RowActions, 'onRename'> & {
  item: BasketItem;
  /** How it leaves of its own, in words; empty where it leaves as the basket. */
  own: string;
  number: number;
  isSelected: boolean;
  isChosen: boolean;
  isSounding: boolean;
  ownWay: ReactNode;
}) {
  const { row, handle } = useSortableRow(item.id);
  const choose = ({ shiftKey, ctrlKey, metaKey }: MouseEvent) =>
    shiftKey || ctrlKey || metaKey ? onChoose(item.id, shiftKey) : onSelect(item.id);
  return (
    <li
      {...row}
      className={`${COLUMNS} h-10 border-b border-l-3 border-b-thread ${isSelected ? 'border-l-madder' : 'border-l-transparent'} ${
        isChosen ? 'bg-select' : isSelected ? 'bg-card' : 'hover:bg-card'
      }`}
      onClick={choose}
      aria-current={isSelected}
      data-chosen={isChosen}
    >
      <button type="button" className="cursor-grab text-muted" {...handle} aria-label={`Move ${item.name}`}>
        <GripVertical size={15} />
      </button>
      <span className="text-right text-muted">{number}</span>
      <button
        type="button"
        className="relative flex overflow-hidden"
        onClick={() => onListen(item.id)}
        aria-label={`Listen to ${item.name}`}
        title="Listen"
      >
        <Swatch notes={item.swatch} role={item.role} bars={item.bars} width={110} height={28} />
        {isSounding && <Play size={12} className="absolute top-2 left-12 text-madder" fill="currentColor" />}
      </button>
      <span className="min-w-0 leading-tight">
        <span className="block truncate">
          <Link to={`/normalize/${item.id}`} className="font-bold" title={item.name}>
            {item.name}
          </Link>
          {item.state === 'discarded' && <span className="ml-1.5 text-xs text-madder">set aside</span>}
        </span>
        {own && <span className="block truncate text-xs text-madder">{own}</span>}
      </span>
      <PhraseCells phrase={item} />
      {ownWay}
      <span className="truncate text-sm text-muted middling:hidden" title={item.file}>
        {item.file}
      </span>
      <RemoveButton
        label={`Take ${item.name} out`}
        title="Take out (Delete)"
        onRemove={() => onRemove(item.id)}
      />
    </li>
  );
}

function RemoveButton({
  label,
  title = label,
  onRemove,
}: {
  label: string;
  title?: string;
  onRemove: () => void;
}) {
  return (
    <button
      type="button"
      className="grid size-6 place-items-center text-muted hover:text-ink"
      onClick={onRemove}
      aria-label={label}
      title={title}
    >
      <X size={14} />
    </button>
  );
}
