import { useMemo } from 'react';
import { Link } from 'react-router';
import { keyLabel } from '../../core/music/key.ts';
import { isFlag } from '../../core/normalize/difference.ts';
import { RoleMark } from '../../ui/drawing/RoleMark.tsx';
import type { Column } from '../../ui/table/columns.ts';
import { DataTable } from '../../ui/table/DataTable.tsx';
import type { BatchRowWire } from '../api/queries.ts';

const STATES: Record<BatchRowWire['state'], string> = {
  waiting: 'waits',
  looked: 'would change',
  same: 'is so already',
  refused: 'refused',
  left: 'left out',
  applied: 'changed',
};

type Line = BatchRowWire & { id: string };

const FIGURE = 'px-2 whitespace-nowrap';

/** A row a phrase: what would change in figures, what is unusual among the others on top and told as such. */
export function BatchTable({
  rows,
  canChoose,
  onLeave,
}: {
  rows: readonly BatchRowWire[];
  canChoose: boolean;
  onLeave: (phraseIds: string[], out: boolean) => void;
}) {
  const lines = useMemo(() => rows.map((row) => ({ ...row, id: row.phraseId })), [rows]);
  const columns = useMemo((): Column<Line>[] => {
    const open = lines.filter(({ state }) => state === 'looked' || state === 'left');
    const all = open.length > 0 && open.every(({ state }) => state === 'looked');
    const ids = open.map(({ id }) => id);
    return [
      {
        ...{ id: 'choose', title: 'Choose', className: 'w-8 pl-2' },
        head: (
          <input
            type="checkbox"
            aria-label="All phrases"
            checked={all}
            disabled={!canChoose || open.length === 0}
            onChange={() => onLeave(ids, all)}
          />
        ),
        cell: ({ id, name, state }) => (
          <input
            type="checkbox"
            aria-label={`Change ${name}`}
            checked={state === 'looked' || state === 'applied'}
            disabled={!canChoose || (state !== 'looked' && state !== 'left')}
            onChange={() => onLeave([id], state === 'looked')}
          />
        ),
      },
      ...COLUMNS,
    ];
  }, [lines, canChoose, onLeave]);
  return (
    <DataTable
      name="batch"
      label="What would change"
      rows={lines}
      columns={columns}
      rowHeight={34}
      rowProps={(row) => ({
        className: `border-b border-l-3 border-b-thread text-sm ${isFlagged(row) || row.state === 'refused' ? 'border-l-madder' : 'border-l-transparent'}`,
      })}
    />
  );
}

const isFlagged = ({ difference, outlier }: Line) => difference !== null && isFlag(outlier);

const COLUMNS: readonly Column<Line>[] = [
  {
    ...{ id: 'phrase', title: 'Phrase', className: 'w-full max-w-0 min-w-40 truncate px-2' },
    value: ({ name }) => name,
    cell: ({ id, name }) => (
      <Link to={`/normalize/${id}`} className="font-bold">
        {name}
      </Link>
    ),
  },
  {
    ...{ id: 'role', title: 'Role' },
    value: ({ role }) => role,
    cell: ({ role }) => <RoleMark role={role} />,
  },
  {
    ...{ id: 'notes', title: 'Notes', isFigure: true, mostFirst: true, className: FIGURE },
    value: ({ difference: d }) => d && Math.abs(d.notes.after - d.notes.before),
    cell: ({ difference: d }) => d && fromTo(d.notes),
  },
  {
    ...{ id: 'moved', title: 'Moved', isFigure: true, mostFirst: true, className: FIGURE },
    value: ({ difference: d }) => d && d.moved,
    cell: ({ difference: d }) => d && (d.moved === 0 ? '0' : `${d.moved}, ${d.movedMs} ms`),
  },
  {
    ...{ id: 'farthest', title: 'Farthest', isFigure: true, mostFirst: true, className: FIGURE },
    value: ({ difference: d }) => d && d.farthestMs,
    cell: ({ difference: d }) => d && `${d.farthestMs} ms`,
  },
  {
    ...{ id: 'loud', title: 'Loud notes', isFigure: true, mostFirst: true, className: FIGURE },
    value: ({ difference: d }) => d && Math.abs(d.loud.after - d.loud.before),
    cell: ({ difference: d }) => d && fromTo(d.loud),
  },
  {
    ...{ id: 'key', title: 'Key', className: FIGURE },
    cell: ({ difference: d }) => d && keyWords(d),
  },
  {
    ...{ id: 'unusual', title: 'Unusual', isFigure: true, mostFirst: true, className: FIGURE },
    hint: 'How many times the usual spread it lies from the middle of all',
    value: ({ difference, outlier }) => difference && outlier,
    cell: (row) =>
      row.difference && (
        <span className={isFlagged(row) ? 'font-bold text-madder' : 'text-muted'}>
          {row.outlier.toFixed(1)}
        </span>
      ),
  },
  {
    ...{ id: 'state', title: 'State', className: 'max-w-40 truncate px-2 text-muted' },
    value: ({ state }) => STATES[state],
    cell: ({ state, reason }) => (
      <span title={reason ?? undefined}>{state === 'refused' ? reason : STATES[state]}</span>
    ),
  },
];

const fromTo = ({ before, after }: { before: number; after: number }) =>
  before === after ? after : `${before} to ${after}`;

function keyWords({ key, semitones }: NonNullable<BatchRowWire['difference']>): string {
  const [before, after] = [key.before, key.after].map((one) => (one ? keyLabel(one) : ''));
  if (semitones === 0 && before === after) return after!;
  const by = `${semitones > 0 ? '+' : ''}${semitones}`;
  return before === after ? `${after} ${by}` : `${before} to ${after}`;
}
