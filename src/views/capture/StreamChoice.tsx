import { useMemo } from 'react';
import { tallyOf } from '../../core/split/tally.ts';
import { RoleMark } from '../../ui/drawing/RoleMark.tsx';
import type { CapturedTake } from '../api/captured.ts';
import { useCapturedTake, useTakeRow, type TakeWire } from '../api/queries.ts';
import { useSplitEditing } from '../shared/takes/editing.ts';

const REASON = 'not taken';

/** Which parts of one file are taken: what is unticked is set aside, and can be had back. */
export function StreamChoice({ takeId }: { takeId: string }) {
  const { data: row } = useTakeRow(takeId);
  const { data: captured } = useCapturedTake(row);
  return row && captured ? <Choice key={row.id} row={row} captured={captured} /> : null;
}

function Choice({ row, captured }: { row: TakeWire; captured: CapturedTake }) {
  const editing = useSplitEditing(row, captured);
  const { split } = editing;
  const tally = useMemo(() => tallyOf(split), [split]);
  const leftOut = new Map(
    split.setAside.flatMap(({ part, reason }, entry) =>
      reason === REASON && split.owner.includes(-1 - entry) ? [[part, entry] as const] : [],
    ),
  );
  const shown = split.parts.flatMap((part, i) =>
    tally.parts[i]! > 0 || leftOut.has(i) ? [{ part, notes: tally.parts[i]!, entry: leftOut.get(i) }] : [],
  );
  if (shown.length < 2) return null;
  return (
    <fieldset className="mt-2">
      <legend className="mb-1 text-sm text-muted">What of it is taken; the rest is set aside</legend>
      {shown.map(({ part, notes, entry }) => (
        <label key={part.id} className="flex min-h-6 cursor-pointer items-center gap-2 text-sm">
          <input
            type="checkbox"

            checked={entry === undefined}
            onChange={() =>
              editing.move(
                entry === undefined
                  ? { move: 'setAside', part: part.id, reason: REASON }
                  : { move: 'bringBack', entry },
              )
            }
          />
          <RoleMark role={part.role} bare />
          <span className="truncate">{part.name}</span>
          <span className="ml-auto text-muted">{notes || 'aside'}</span>
        </label>
      ))}
    </fieldset>
  );
}
