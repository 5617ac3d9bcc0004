import { useEffect, useState } from 'react';
import { ENDINGS } from '../../../core/normalize/ending.ts';
import { WAYS } from '../../../core/through/pieces.ts';
import { MOST_BEATS, readOrWhy, type WrittenChanges } from '../../../core/through/sounding.ts';
import { WAY_TITLES } from '../../../core/through/words.ts';
import { Choice, StepNumber, type FieldsProps, SeedNumber } from './step-inputs.tsx';

/** Fields of the steps that make another phrase of one that is settled. */

export function ThroughFields({ step, onChange }: FieldsProps<'through'>) {
  const { way: _, ...others } = step;
  return (
    <>
      <ChangesField label="from" value={step.from} onValue={(from) => onChange({ ...step, from })} />
      <ChangesField label="to" value={step.to} onValue={(to) => onChange({ ...step, to })} />
      <Choice
        label="goes"
        before
        value={step.way ?? ''}
        options={[['', 'as its role does'], ...WAYS.map((way) => [way, WAY_TITLES[way]] as const)]}
        onValue={(value) => {
          const way = WAYS.find((one) => one === value);
          onChange(way ? { ...step, way } : others);
        }}
      />
    </>
  );
}

/** Changes as a chart; those that no chart can say are told by their number. */
function ChangesField({
  label,
  value,
  onValue,
}: {
  label: string;
  value: WrittenChanges;
  onValue: (value: string) => void;
}) {
  const isChart = typeof value === 'string';
  const [text, setText] = useState(isChart ? value : '');
  useEffect(() => setText(isChart ? value : ''), [isChart, value]);
  const read = readOrWhy(text, MOST_BEATS);
  if (!isChart) {
    return (
      <span className="text-muted">
        {label} {value.length} chords: {value.map(({ symbol }) => symbol || 'N.C.').join(' ')}
      </span>
    );
  }
  return (
    <label className="flex w-full flex-wrap items-center gap-1.5">
      <span className="w-8 text-muted">{label}</span>
      <input
        className="h-6 min-w-0 flex-1 rounded-[3px] border border-rule bg-card px-1.5"
        value={text}
        spellCheck={false}
        aria-label={`Chords ${label}`}
        aria-invalid={typeof read === 'string'}
        onChange={({ target }) => {
          setText(target.value);
          if (typeof readOrWhy(target.value, MOST_BEATS) !== 'string') onValue(target.value);
        }}
      />
      {typeof read === 'string' && <span className="w-full pl-10 text-madder">{read}</span>}
    </label>
  );
}

export function DensityFields({ step, onChange }: FieldsProps<'density'>) {
  return (
    <>
      <StepNumber
        label="from -3, calm, to 3, busy"
        name="level"
        value={step.level}
        min={-3}
        max={3}
        onValue={(level) => onChange({ ...step, level })}
      />
      <SeedNumber value={step.seed} onValue={(seed) => onChange({ ...step, seed })} />
    </>
  );
}

export function LayerFields({ step, onChange }: FieldsProps<'layer'>) {
  const of = (change: Partial<typeof step>) => onChange({ ...step, ...change });
  return (
    <>
      <StepNumber
        label="octaves up"
        name="octaves"
        value={step.octave ?? 0}
        min={-4}
        max={4}
        onValue={(octave) => of({ octave })}
      />
      <StepNumber
        label="% as loud"
        name="level"
        value={Math.round(100 * (step.level ?? 1))}
        min={5}
        max={200}
        onValue={(percent) => of({ level: percent / 100 })}
      />
      <StepNumber
        label="ms late"
        name="late"
        value={step.lateMs ?? 0}
        min={0}
        max={1000}
        onValue={(lateMs) => of({ lateMs })}
      />
    </>
  );
}

const ENDING_TITLES: Readonly<Record<(typeof ENDINGS)[number], string>> = {
  ring: 'lets ring',
  stop: 'stops short',
  slower: 'grows slower, then rings',
};

export function EndingFields({ step, onChange }: FieldsProps<'ending'>) {
  return (
    <>
      <Choice
        label="it"
        before
        value={step.as}
        options={ENDINGS.map((as) => [as, ENDING_TITLES[as]])}
        onValue={(as) => onChange({ ...step, as: as as typeof step.as })}
      />
      <StepNumber
        label="bars more"
        name="bars"
        value={step.bars ?? 1}
        min={1}
        max={8}
        onValue={(bars) => onChange({ ...step, bars })}
      />
    </>
  );
}
