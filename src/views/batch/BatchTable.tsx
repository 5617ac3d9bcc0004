import { Link } from 'react-router';
import { keyLabel } from '../../core/music/key.ts';
import { isFlag } from '../../core/normalize/difference.ts';
import { RoleMark } from '../../ui/RoleMark.tsx';
import { useVirtualRows } from '../../ui/virtual-rows.ts';
import type { BatchRowWire } from '../api/queries.ts';

const COLUMNS =
  'grid grid-cols-[24px_minmax(160px,1fr)_92px_76px_96px_84px_92px_88px_70px_minmax(70px,140px)] items-center gap-3';

const ROW = 34;

const STATES: Record<BatchRowWire['state'], string> = {
  waiting: 'waits',
  looked: 'would change',
  same: 'is so already',
  refused: 'refused',
  left: 'left out',
  applied: 'changed',
};

const nothing = () => {};

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
  const list = rows.map((row) => ({ ...row, id: row.phraseId }));
  const { scroller, items, height } = useVirtualRows(list, {
    height: ROW,
    overscan: 12,
    current: undefined,
    onEnd: nothing,
    place: 'batch',
  });
  const open = rows.filter(({ state }) => state === 'looked' || state === 'left');
  const all = open.length > 0 && open.every(({ state }) => state === 'looked');
  return (
    <div ref={scroller} className="min-h-0 flex-1 overflow-auto" role="table" aria-label="What would change">
      <div
        role="row"
        className={`${COLUMNS} sticky top-0 z-10 h-8 border-b border-l-3 border-b-rule border-l-transparent bg-paper text-sm text-muted`}
      >
        <span role="columnheader">
          <input
            type="checkbox"
            aria-label="All phrases"
            checked={all}
            disabled={!canChoose || open.length === 0}
            onChange={() =>
              onLeave(
                open.map(({ phraseId }) => phraseId),
                all,
              )
            }
          />
        </span>
        <span role="columnheader">Phrase</span>
        <span role="columnheader">Role</span>
        <span role="columnheader" className="text-right">
          Notes
        </span>
        <span role="columnheader" className="text-right">
          Moved
        </span>
        <span role="columnheader" className="text-right">
          Farthest
        </span>
        <span role="columnheader" className="text-right">
          Loud notes
        </span>
        <span role="columnheader">Key</span>
        <span
          role="columnheader"
          className="text-right"
          title="How many times the usual spread it lies from the middle of all"
        >
          Unusual
        </span>
        <span role="columnheader">State</span>
      </div>
      <div className="relative" style={{ height }}>
        {items.map(({ index, start }) => (
          <BatchRow
            key={list[index]!.id}
            row={list[index]!}
            top={start}
            canChoose={canChoose}
            onLeave={onLeave}
          />
        ))}
      </div>
    </div>
  );
}

function BatchRow({
  row,
  top,
  canChoose,
  onLeave,
}: {
  row: BatchRowWire;
  top: number;
  canChoose: boolean;
  onLeave: (phraseIds: string[], out: boolean) => void;
}) {
  const { difference: d, state, phraseId, name } = row;
  const flagged = d !== null && isFlag(row.outlier);
  return (
    <div
      role="row"
      className={`${COLUMNS} absolute inset-x-0 border-b border-l-3 border-b-thread text-sm ${flagged || state === 'refused' ? 'border-l-madder' : 'border-l-transparent'}`}
      style={{ top, height: ROW }}
    >
      <span role="cell">
        <input
          type="checkbox"
          aria-label={`Change ${name}`}
          checked={state === 'looked' || state === 'applied'}
          disabled={!canChoose || (state !== 'looked' && state !== 'left')}
          onChange={() => onLeave([phraseId], state === 'looked')}
        />
      </span>
      <span role="cell" className="truncate">
        <Link to={`/normalize/${phraseId}`} className="font-bold">
          {name}
        </Link>
      </span>
      <span role="cell">
        <RoleMark role={row.role} />
      </span>
      {d ? (
        <>
          <span role="cell" className="text-right">
            {d.notes.before === d.notes.after ? d.notes.after : `${d.notes.before} to ${d.notes.after}`}
          </span>
          <span role="cell" className="text-right">
            {d.moved === 0 ? '0' : `${d.moved}, ${d.movedMs} ms`}
          </span>
          <span role="cell" className="text-right">
            {d.farthestMs} ms
          </span>
          <span role="cell" className="text-right">
            {d.loud.before === d.loud.after ? d.loud.after : `${d.loud.before} to ${d.loud.after}`}
          </span>
          <span role="cell">{keyWords(d)}</span>
          <span role="cell" className={`text-right ${flagged ? 'font-bold text-madder' : 'text-muted'}`}>
            {row.outlier.toFixed(1)}
          </span>
        </>
      ) : (
        <span role="cell" className="col-span-6" />
      )}
      <span role="cell" className="truncate text-muted" title={row.reason ?? undefined}>
        {state === 'refused' ? row.reason : STATES[state]}
      </span>
    </div>
  );
}

function keyWords({ key, semitones }: NonNullable<BatchRowWire['difference']>): string {
  const [before, after] = [key.before, key.after].map((one) => (one ? keyLabel(one) : ''));
  if (semitones === 0 && before === after) return after!;
  const by = `${semitones > 0 ? '+' : ''}${semitones}`;
  return before === after ? `${after} ${by}` : `${before} to ${after}`;
}
