import { useMemo } from 'react';
import { useNavigate } from 'react-router';
import type { Column, Order } from '../../ui/table/columns.ts';
import { DataTable } from '../../ui/table/DataTable.tsx';
import type { TakeRowWire } from '../api/queries.ts';
import { TAKE_COLUMNS } from './take-columns.tsx';

/** All takes, in an order that the server gives: it has all of them. */
export function TakeTable({
  takes,
  total,
  current,
  chosen,
  order,
  onOrder,
  onCurrent,
  onChoose,
  onChooseAll,
  onEnd,
}: {
  takes: readonly TakeRowWire[];
  total: number;
  current: string | undefined;
  chosen: ReadonlySet<string>;
  order: Order;
  onOrder: (order: Order | null) => void;
  onCurrent: (id: string) => void;
  onChoose: (id: string, others: boolean) => void;
  onChooseAll: () => void;
  /** The end of what is loaded comes into sight. */
  onEnd: () => void;
}) {
  const navigate = useNavigate();
  const all = chosen.size > 0 && takes.every(({ id }) => chosen.has(id));
  const columns = useMemo(
    (): Column<TakeRowWire>[] => [
      {
        ...{ id: 'choose', title: 'Choose', stays: true, className: 'w-9 pl-[7px]' },
        head: (
          <input
            type="checkbox"
            className="block size-5"
            aria-label="Choose all that are loaded"
            checked={all}
            onChange={onChooseAll}
          />
        ),
        cell: ({ id, name }) => (
          <input
            type="checkbox"
            className="block size-5"
            aria-label={`Choose ${name}`}
            checked={chosen.has(id)}
            onChange={() => {}}
            onClick={(event) => {
              event.stopPropagation();
              onChoose(id, event.shiftKey);
            }}
          />
        ),
      },
      ...TAKE_COLUMNS,
    ],
    [all, chosen, onChoose, onChooseAll],
  );
  return (
    <DataTable
      name="takes"
      label="Takes"
      rows={takes}
      total={total}
      columns={columns}
      rowHeight={45}
      order={order}
      onOrder={onOrder}
      current={current}
      rowProps={({ id }) => ({
        className: `quiet-row cursor-pointer border-l-3 ${id === current ? 'border-l-madder bg-select' : 'border-l-transparent hover:bg-card'}`,
        'aria-selected': chosen.has(id),
        onClick: () => onCurrent(id),
        onDoubleClick: () => void navigate(`/split/${id}`),
      })}
      onEnd={onEnd}
    />
  );
}
