import type { Weave } from '../../core/weave/weave.ts';

/** Where a person stands on the sheet: a cell, or (without a part) a section's head, or (without a section) a part's. */
export interface Place {
  section: string | null;
  part: string | null;
}

/** The place a step away on the sheet, heads of sections above and of parts at the left. */
export function placeFrom(weave: Weave, { section, part }: Place, across: number, down: number): Place {
  const columns = [null, ...weave.sections.map(({ id }) => id)];
  const rows = [null, ...weave.parts.map(({ id }) => id)];
  const clamp = (at: number, length: number) => Math.min(length - 1, Math.max(0, at));
  const column = columns[clamp(columns.indexOf(section) + across, columns.length)]!;
  const row = rows[clamp(rows.indexOf(part) + down, rows.length)]!;
  return column === null && row === null ? { section, part } : { section: column, part: row };
}
