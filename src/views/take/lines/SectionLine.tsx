import { Popover } from 'radix-ui';
import { useState } from 'react';
import { PURPOSES, type Section } from '../../../core/music/form.ts';
import { barStart, type Timeline } from '../../../core/music/timeline.ts';
import { sectionSaidSchema } from '../../../requests/moves.ts';
import { BoundedInput } from '../../../ui/fields/BoundedInput.tsx';
import { Button } from '../../../ui/Button.tsx';
import { CheckedForm, SubmitButton, useCheckedForm } from '../../../ui/form/checked-form.tsx';
import { FormSelect, FormText } from '../../../ui/form/form-fields.tsx';
import { PopoverCard } from '../../../ui/PopoverCard.tsx';
import type { TimeWindow } from '../../../ui/drawing/time-window.ts';
import { pixelsOf } from '../spans.ts';
import type { BarRange } from '../../shared/takes/strand-columns.ts';

/** What can be done with sections. */
export interface SectionDoing {
  /** All sections, in place of those that are shown; null gives back what is found. */
  onSections: (sections: Section[] | null) => void;
  onRange: (range: BarRange) => void;
  onKeepChanges: (bars: BarRange, name: string) => void;
  onSheaf: (bars: BarRange) => void;
}

/** The sections over the bars, named; each can be put right, chosen, or kept. */
export function SectionLine({
  sections,
  fills,
  byHand,
  timeline,
  window,
  width,
  doing,
}: {
  sections: readonly Section[];
  /** Bars in which the drums lead on. */
  fills: readonly number[];
  byHand: boolean;
  timeline: Timeline;
  window: TimeWindow;
  width: number;
  doing: SectionDoing;
}) {
  return (
    <div className="relative h-5.5 flex-1 overflow-hidden" role="group" aria-label="Sections">
      {sections.map((section, at) => {
        const place = pixelsOf(
          barStart(timeline, section.startBar),
          barStart(timeline, section.startBar + section.bars),
          window,
          width,
        );
        return (
          place && (
            <SectionSpan
              key={`${at} ${section.startBar}`}
              section={section}
              sections={sections}
              at={at}
              byHand={byHand}
              place={place}
              doing={doing}
            />
          )
        );
      })}
      {/* On the first bar of a section stands its name. */}
      {fills
        .filter((bar) => sections.every(({ startBar }) => startBar !== bar))
        .map((bar) => {
          const place = pixelsOf(barStart(timeline, bar), barStart(timeline, bar + 1), window, width);
          return (
            place &&
            place.width > 22 && (
              <span
                key={`fill ${bar}`}
                title={`The drums lead on in bar ${bar}`}
                className="pointer-events-none absolute top-1 rounded-[2px] bg-paper px-1 text-[10px] leading-3.5 text-madder"
                style={{ left: place.left + place.width - 24 }}
              >
                fill<span className="sr-only">, bar {bar}</span>
              </span>
            )
          );
        })}
    </div>
  );
}

function SectionSpan({
  section,
  sections,
  at,
  byHand,
  place,
  doing,
}: {
  section: Section;
  sections: readonly Section[];
  at: number;
  byHand: boolean;
  place: { left: number; width: number };
  doing: SectionDoing;
}) {
  const [open, setOpen] = useState(false);
  const { startBar, bars, label, purpose } = section;
  const last = startBar + bars - 1;
  const own = { start: startBar, count: bars };
  return (
    <Popover.Root
      open={open}
      onOpenChange={(next) => {
        setOpen(next);
        if (next) doing.onRange(own);
      }}
    >
      <Popover.Trigger asChild>
        <button
          type="button"
          title={`${label}, ${purpose}: bars ${startBar} to ${last}`}
          aria-label={`Section ${label}, ${purpose}, bars ${startBar} to ${last}${byHand ? ', by hand' : ''}`}
          className={`absolute inset-y-0.5 truncate rounded-[2px] border px-1.5 text-left text-xs leading-4 hover:border-ink ${
            byHand ? 'border-madder bg-card' : 'border-rule bg-sunk'
          }`}
          style={{ left: place.left + 1, width: Math.max(3, place.width - 2) }}
        >
          {place.width > 22 && (
            <>
              <b className="font-display">{label}</b> <span className="text-muted">{purpose}</span>
            </>
          )}
        </button>
      </Popover.Trigger>
      <PopoverCard className="w-80" label={`Section ${label}`}>
        <SectionCard
          section={section}
          sections={sections}
          at={at}
          byHand={byHand}
          doing={doing}
          onDone={() => setOpen(false)}
        />
      </PopoverCard>
    </Popover.Root>
  );
}

/** What a section is called and for, and what can be done with its bars. */
function SectionCard({
  section,
  sections,
  at,
  byHand,
  doing,
  onDone,
}: {
  section: Section;
  sections: readonly Section[];
  at: number;
  byHand: boolean;
  doing: SectionDoing;
  onDone: () => void;
}) {
  const { startBar, bars, label, purpose } = section;
  const last = startBar + bars - 1;
  const own = { start: startBar, count: bars };
  const form = useCheckedForm(sectionSaidSchema, { label, purpose });
  const [splitAt, setSplitAt] = useState(startBar + Math.ceil(bars / 2));
  const following = sections[at + 1];
  const close = (run: () => void) => () => {
    run();
    onDone();
  };
  const change = (changed: Section[]) =>
    doing.onSections([...sections.slice(0, at), ...changed, ...sections.slice(at + 1)]);
  return (
    <CheckedForm
      form={form}
      className="grid gap-2.5"
      onSubmit={(said) => close(() => change([{ ...section, ...said }]))()}
    >
      <div className="flex items-end gap-1.5">
        <FormText name="label" label="Name" className="min-w-0 flex-1" maxLength={60} />
        <FormSelect name="purpose" label="For">
          {PURPOSES.map((one) => (
            <option key={one}>{one}</option>
          ))}
        </FormSelect>
        <SubmitButton>Set</SubmitButton>
      </div>
      <p className="text-xs text-muted">
        Bars {startBar} to {last}, {byHand ? 'set by hand' : 'found'}
      </p>
      <div className="flex flex-wrap gap-1.5">
        <Button small onClick={close(() => doing.onSheaf(own))}>
          A sheaf of these bars
        </Button>
        <Button
          small
          onClick={close(() => doing.onKeepChanges(own, `${label}, bars ${startBar} to ${last}`))}
        >
          Keep the changes
        </Button>
        {following && (
          <Button
            small
            onClick={close(() =>
              doing.onSections([
                ...sections.slice(0, at),
                { ...section, bars: bars + following.bars },
                ...sections.slice(at + 2),
              ]),
            )}
          >
            Join with {following.label}
          </Button>
        )}
        {byHand && (
          <Button small onClick={close(() => doing.onSections(null))}>
            All as found
          </Button>
        )}
      </div>
      {bars > 1 && (
        <div className="flex items-center gap-1.5 text-sm text-muted">
          A new one from bar
          <BoundedInput
            label="A new one from bar"
            className="field h-6 w-14 px-1.5 text-ink"
            min={startBar + 1}
            max={last}
            value={splitAt}
            onValue={setSplitAt}
          />
          <Button
            small
            onClick={close(() =>
              change([
                { ...section, bars: splitAt - startBar },
                { ...section, startBar: splitAt, bars: last - splitAt + 1 },
              ]),
            )}
          >
            Split
          </Button>
        </div>
      )}
    </CheckedForm>
  );
}
