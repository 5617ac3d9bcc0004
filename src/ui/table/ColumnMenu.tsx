import { Columns3 } from 'lucide-react';
import { Popover } from 'radix-ui';
import { Button } from '../Button.tsx';
import { Checkbox } from '../fields/Checkbox.tsx';
import { PopoverCard } from '../PopoverCard.tsx';
import { showColumn, useHiddenColumns, type Column } from './columns.ts';

/** Which columns of a table are shown. */
export function ColumnMenu({
  table,
  columns,
}: {
  table: string;
  columns: readonly Pick<Column<never>, 'id' | 'title' | 'stays'>[];
}) {
  const hidden = useHiddenColumns((state) => state.hidden[table]);
  return (
    <Popover.Root>
      <Popover.Trigger asChild>
        <Button aria-label="Columns" title="Which columns are shown">
          <Columns3 size={15} aria-hidden="true" />
        </Button>
      </Popover.Trigger>
      <PopoverCard label="Columns" className="w-44">
        {columns
          .filter(({ stays }) => !stays)
          .map(({ id, title }) => (
            <Checkbox
              key={id}
              label={title}
              on={!hidden?.includes(id)}
              onChange={(on) => showColumn(table, id, on)}
            />
          ))}
      </PopoverCard>
    </Popover.Root>
  );
}
