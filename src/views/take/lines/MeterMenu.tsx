import { Popover } from 'radix-ui';
import { useState } from 'react';
import { number, object, string } from 'yup';
import type { Take } from '../../../core/capture/take.ts';
import { meterName, METERS, parseMeter } from '../../../core/music/meters.ts';
import { barStart, meterAt } from '../../../core/music/timeline.ts';
import { CheckedForm, SubmitButton, useCheckedForm } from '../../../ui/form/checked-form.tsx';
import { FormNumber, FormSelect } from '../../../ui/form/form-fields.tsx';
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
  const isAssumed = meters.length === 0;
  return (
    <Popover.Root open={isOpen} onOpenChange={setOpen}>
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
        <MeterForm
          own={own}
          startBar={startBar !== null && startBar > 1 ? startBar : null}
          onMeter={(meter, from) => {
            const fromTick = from === null || from <= 1 ? 0 : Math.round(barStart(timeline, from));
            move({ move: 'meter', fromTick, ...parseMeter(meter) });
            setOpen(false);
          }}
        />
      </PopoverCard>
    </Popover.Root>
  );
}

const meterFormSchema = object({
  meter: string().required(),
  /** Null for the first bar. */
  from: number().integer().min(1).max(100_000).nullable().defined(),
});

function MeterForm({
  own,
  startBar,
  onMeter,
}: {
  own: string;
  startBar: number | null;
  onMeter: (meter: string, from: number | null) => void;
}) {
  const form = useCheckedForm(meterFormSchema, { meter: own, from: startBar });
  const { meter, from } = form.watch();
  return (
    <CheckedForm form={form} className="grid gap-2" onSubmit={(said) => onMeter(said.meter, said.from)}>
      <FormSelect name="meter" label="Meter">
        {[...new Set([...METERS, own])].map((name) => (
          <option key={name}>{name}</option>
        ))}
      </FormSelect>
      <FormNumber name="from" label="From bar" min={1} max={100_000} empty="the first" />
      <p className="text-xs text-muted">
        The notes stay where they are; bars are counted anew from there to the end.
      </p>
      <SubmitButton>
        {from === null || from <= 1 ? `All of it in ${meter}` : `${meter} from bar ${from} on`}
      </SubmitButton>
    </CheckedForm>
  );
}
