import {
  columnVisibilityFeature,
  createSortedRowModel,
  rowSortingFeature,
  tableFeatures,
  useTable,
  type ColumnDef,
  type Header,
  type Row as TableRow,
} from '@tanstack/react-table';
import { ArrowDown, ArrowUp } from 'lucide-react';
import { useEffect, useMemo, useState, type HTMLAttributes, type RefObject } from 'react';
import { useVirtualRows } from './virtual-rows.ts';
import { useHiddenColumns, type Column, type Order } from './columns.ts';

const FEATURES = tableFeatures({
  rowSortingFeature,
  columnVisibilityFeature,
  sortedRowModel: createSortedRowModel(),
});
type Features = typeof FEATURES;

interface Identified {
  id: string;
}

const NONE: readonly string[] = [];
const nothing = () => {};

/**
 * A table of which only the rows in sight are drawn, however many there are. Its rows are ordered by a press on a column's name: here,
 * or by whoever has all of them where only the first are at hand (`order` and `onOrder`).
 */
export function DataTable<Row extends Identified>({
  name,
  label,
  rows,
  total = rows.length,
  columns,
  rowHeight,
  order,
  onOrder,
  current,
  rowProps,
  isOnCard = false,
  shown,
  onEnd = nothing,
}: {
  /** Under which its scroll and its columns are remembered. */
  name: string;
  label: string;
  rows: readonly Row[];
  /** How many there are, where not all of them are loaded. */
  total?: number;
  columns: readonly Column<Row>[];
  /** In pixels. */
  rowHeight: number;
  /** The order the rows come in; where it is given, they are not ordered here. */
  order?: Order;
  onOrder?: (order: Order | null) => void;
  /** The row that is kept in sight. */
  current?: string | undefined;
  rowProps?: (row: Row) => HTMLAttributes<HTMLTableRowElement>;
  /** It stands on a card, such as in a dialog. */
  isOnCard?: boolean;
  /** Is given the rows in the order they stand in: keys that go from row to row go by it. */
  shown?: RefObject<readonly Row[]>;
  /** The end of what is loaded comes into sight. */
  onEnd?: () => void;
}) {
  const hidden = useHiddenColumns((state) => state.hidden[name] ?? NONE);
  const [own, setOwn] = useState<Order | null>(null);
  const at = order ?? own;
  const table = useTable({
    features: FEATURES,
    data: rows as Row[],
    columns: useMemo(() => columns.map(columnDef), [columns]),
    getRowId: ({ id }) => id,
    manualSorting: order !== undefined,
    enableMultiSort: false,
    state: {
      sorting: useMemo(() => (at ? [at] : []), [at]),
      columnVisibility: useMemo(() => Object.fromEntries(hidden.map((id) => [id, false])), [hidden]),
    },
    onSortingChange: (change) => {
      const [next = null] = typeof change === 'function' ? change(at ? [at] : []) : change;
      if (onOrder) onOrder(next);
      else setOwn(next);
    },
  });
  const ordered = table.getRowModel().rows;
  useEffect(() => {
    if (shown) shown.current = ordered.map(({ original }) => original);
  }, [shown, ordered]);
  const { scroller, items, height } = useVirtualRows(ordered, {
    ...{ height: rowHeight, overscan: 10, current, headHeight: 32, onEnd, place: name },
  });
  const byId = useMemo(() => new Map(columns.map((column) => [column.id, column])), [columns]);
  const heads = table.getHeaderGroups()[0]!.headers;
  const cellsOf = (row: TableRow<Features, Row>) =>
    row.getVisibleCells().map((cell) => {
      const column = byId.get(cell.column.id)!;
      return (
        <td
          key={column.id}
          className={`${column.isFigure ? 'text-right' : ''} ${column.className ?? 'px-2'}`}
        >
          {column.cell(row.original)}
        </td>
      );
    });
  return (
    <div ref={scroller} className="-mx-2 min-h-0 flex-1 overflow-auto px-2">
      <table className="w-full border-collapse" aria-label={label} aria-rowcount={total}>
        <thead
          className={`sticky top-0 z-10 text-left text-sm text-muted ${isOnCard ? 'bg-card' : 'bg-paper'}`}
        >
          <tr className="border-b border-rule">
            {heads.map((head) => (
              <Head key={head.id} head={head} column={byId.get(head.column.id)!} />
            ))}
          </tr>
        </thead>
        <tbody>
          <Space height={items[0]?.start ?? 0} columns={heads.length} />
          {items.map(({ index }) => {
            const row = ordered[index]!;
            return (
              <tr key={row.id} style={{ height: rowHeight }} {...rowProps?.(row.original)}>
                {cellsOf(row)}
              </tr>
            );
          })}
          <Space height={height - (items.at(-1)?.end ?? 0)} columns={heads.length} />
        </tbody>
      </table>
    </div>
  );
}

function columnDef<Row extends Identified>(column: Column<Row>): ColumnDef<Features, Row> {
  const { id, value, mostFirst = false } = column;
  return {
    id,
    // What is nothing is `undefined` here: it stands last in either order.
    accessorFn: (row) => value?.(row) ?? undefined,
    enableSorting: value !== undefined,
    sortDescFirst: mostFirst,
    sortUndefined: 'last',
    sortFn: (a, b, by) => {
      const [one, other] = [a.getValue<string | number>(by), b.getValue<string | number>(by)];
      return typeof one === 'number' && typeof other === 'number'
        ? one - other
        : String(one).localeCompare(String(other), 'en', { numeric: true, sensitivity: 'base' });
    },
  };
}

/** The name over a column; a press orders the rows by it, the next turns them round, the third lets them be. */
function Head<Row extends Identified>({
  head,
  column,
}: {
  head: Header<Features, Row>;
  column: Column<Row>;
}) {
  const { title, hint, isFigure = false, className = 'px-2' } = column;
  const order = head.column.getIsSorted();
  const Arrow = order === 'desc' ? ArrowDown : ArrowUp;
  return (
    <th
      scope="col"
      className={`py-1 font-normal ${isFigure ? 'text-right' : ''} ${className}`}
      title={hint}
      aria-sort={order === 'asc' ? 'ascending' : order === 'desc' ? 'descending' : undefined}
    >
      {column.head ??
        (head.column.getCanSort() ? (
          <button
            type="button"
            className={`inline-flex min-h-6 items-center gap-1 hover:text-ink ${order ? 'font-bold text-ink' : ''}`}
            onClick={head.column.getToggleSortingHandler()}
          >
            {title}
            {order && <Arrow size={12} aria-hidden="true" />}
          </button>
        ) : (
          title
        ))}
    </th>
  );
}

function Space({ height, columns }: { height: number; columns: number }) {
  return height > 0 ? (
    <tr aria-hidden="true">
      <td colSpan={columns} style={{ height }} />
    </tr>
  ) : null;
}
