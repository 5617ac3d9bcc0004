import { SelectField } from '../../../ui/SelectField.tsx';
import { Popover } from 'radix-ui';
import { useState } from 'react';
import type { Take } from '../../../core/capture/take.ts';
import { meterName, METERS, parseMeter } from '../../../core/music/meters.ts';
import { barStart, meterAt } from '../../../core/music/timeline.ts';
import { Button } from '../../../ui/Button.tsx';
import { NumberField } from '../../../ui/NumberField.tsx';
import { PopoverCard } from '../../../ui/PopoverCard.tsx';
import type { SplitEditing } from '../../shared/takes/editing.ts';

/** The meter of a take, as its file says or as is assumed; changed here for all of it, or from a bar on. */
export function MeterMenu({
  take,
  startBar,
  move,
}: {
  take: Take;
  /** First of the chosen bars; null where none are. */
  startBar: number | null;
  move: SplitEditing['move'];
}) {
  const [isOpen, setOpen] = useState(false);
  const { timeline, meters } = take.timing;
  const own = meterName(meterAt(timeline, 0));
  const [meter, setMeter] = useState(own);
  const [from, setFrom] = useState<number | null>(null);
  const isAssumed = meters.length === 0;
  const open = (to: boolean) => {
    setOpen(to);
    if (!to) return;
    setMeter(own);
    setFrom(startBar !== null && startBar > 1 ? startBar : null);
  };
  const choose = (text: string) => {
    move({
      move: 'meter',
      fromTick: from === null || from <= 1 ? 0 : Math.round(barStart(timeline, from)),
      ...parseMeter(text),
    });
    setOpen(false);
  };
  return (
    <Popover.Root open={isOpen} onOpenChange={open}>
      <Popover.Trigger asChild>
        <button
          type="button"
          aria-label={`Meter ${own}${isAssumed ? ', assumed' : ''}: change it`}
          className="rounded-[3px] px-0.5 underline decoration-rule underline-offset-3 hover:bg-sunk"
          title={
            isAssumed ? 'Assumed: the file gives no meter. Click to change it' : 'Click to change the meter'
          }
        >
          {[...new Set(timeline.meters.map(meterName))].slice(0, 3).join(', ')}
          {isAssumed && '?'}
        </button>
      </Popover.Trigger>
      <PopoverCard label="Meter" className="w-64">
        <form
          className="grid gap-2"
          onSubmit={(event) => {
            event.preventDefault();
            choose(meter);
          }}
        >
          <SelectField label="Meter" value={meter} onChange={(value) => setMeter(value)}>
            {[...new Set([...METERS, own])].map((name) => (
              <option key={name}>{name}</option>
            ))}
          </SelectField>
          <NumberField
            label="From bar"
            value={from}
            min={1}
            max={100_000}
            empty="the first"
            onChange={setFrom}
          />
          <p className="text-xs text-muted">
            The notes stay where they are; bars are counted anew from there to the end.
          </p>
          <Button kind="primary" type="submit">
            {from === null || from <= 1 ? `All of it in ${meter}` : `${meter} from bar ${from} on`}
          </Button>
        </form>
      </PopoverCard>
    </Popover.Root>
  );
}
