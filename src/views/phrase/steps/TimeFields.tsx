import { GRIDS } from '../../../core/normalize/grid.ts';
import { useFeels } from '../../api/queries.ts';
import { Choice, StepNumber, type FieldsProps, SeedNumber } from './step-inputs.tsx';

/** What becomes of a note that is shifted before bar one. */
export const EARLY = [
  ['hold', 'held at bar 1'],
  ['wrap', "at the loop's end"],
  ['pickup', 'a pickup'],
] as const;

export function BarsFields({ step, onChange }: FieldsProps<'bars'>) {
  return (
    <>
      <StepNumber
        label="from"
        before
        value={step.start}
        min={1}
        max={100_000}
        onValue={(start) => onChange({ ...step, start })}
      />
      <StepNumber
        label="count"
        before
        value={step.count}
        min={1}
        max={10_000}
        onValue={(count) => onChange({ ...step, count })}
      />
      <Choice
        label="at the end"
        before
        value={step.tail ?? 'cut'}
        options={[
          ['cut', 'notes cut'],
          ['keep', 'notes kept long'],
          ['wrap', 'notes heard on at bar 1'],
        ]}
        onValue={(tail) => onChange({ ...step, tail: tail as NonNullable<typeof step.tail> })}
      />
      <StepNumber
        label="beats of pickup"
        value={step.pickup ?? 0}
        min={0}
        max={16}
        onValue={(pickup) => onChange({ ...step, pickup })}
      />
    </>
  );
}

const SWINGS = [
  ['', 'straight'],
  ['keep', 'as played'],
  ['0.54', '54 %'],
  ['0.58', '58 %'],
  ['0.62', '62 %'],
  ['0.6667', '66.7 %'],
] as const;

export function QuantizeFields({ step, onChange }: FieldsProps<'quantize'>) {
  return (
    <>
      <Choice
        label="grid"
        before
        value={step.grid}
        options={GRIDS.map((grid) => [grid, grid])}
        onValue={(value) => onChange({ ...step, grid: GRIDS.find((grid) => grid === value)! })}
      />
      <StepNumber
        label="%"
        value={Math.round((step.strength ?? 1) * 100)}
        min={0}
        max={100}
        onValue={(percent) => onChange({ ...step, strength: percent / 100 })}
        name="strength"
      />
      <Choice
        label="swing"
        before
        value={step.swing === undefined ? '' : String(step.swing)}
        options={SWINGS}
        onValue={(value) => {
          const { swing: _swing, ...rest } = step;
          onChange(value === '' ? rest : { ...rest, swing: value === 'keep' ? 'keep' : Number(value) });
        }}
      />
      <label className="flex items-center gap-1" title="A strum, a rolled chord or a flam moves as one">
        <input
          type="checkbox"
          checked={step.spread !== 'flat'}
          onChange={({ target }) => onChange({ ...step, spread: target.checked ? 'keep' : 'flat' })}
        />
        strums keep their spread
      </label>
    </>
  );
}

export function FeelFields({ step, onChange }: FieldsProps<'feel'>) {
  const { data: feels = [] } = useFeels();
  const own = JSON.stringify(step.feel);
  const known = feels.find(({ feel }) => JSON.stringify(feel) === own);
  return (
    <>
      <Choice
        label="feel"
        before
        value={known?.id ?? ''}
        options={[
          ...(known ? [] : [['', step.feel.places.length > 0 ? 'one of its own' : 'none yet'] as const]),
          ...feels.map(({ id, name }) => [id, name] as const),
        ]}
        onValue={(id) => {
          const chosen = feels.find((feel) => feel.id === id);
          if (chosen) onChange({ ...step, feel: chosen.feel });
        }}
      />
      <StepNumber
        label="% of its timing"
        name="timing"
        value={Math.round((step.timing ?? 1) * 100)}
        min={0}
        max={100}
        onValue={(percent) => onChange({ ...step, timing: percent / 100 })}
      />
      <StepNumber
        label="% of its accents"
        name="accents"
        value={Math.round((step.accents ?? 0) * 100)}
        min={0}
        max={100}
        onValue={(percent) => onChange({ ...step, accents: percent / 100 })}
      />
    </>
  );
}

export function HumanizeFields({ step, onChange }: FieldsProps<'humanize'>) {
  return (
    <>
      <StepNumber
        label="ms"
        name="time strays by"
        value={step.ms}
        min={0}
        max={100}
        onValue={(ms) => onChange({ ...step, ms })}
      />
      <StepNumber
        label="of velocity"
        value={step.velocity ?? 0}
        min={0}
        max={40}
        onValue={(velocity) => onChange({ ...step, velocity })}
      />
      <SeedNumber value={step.seed} onValue={(seed) => onChange({ ...step, seed })} />
    </>
  );
}
