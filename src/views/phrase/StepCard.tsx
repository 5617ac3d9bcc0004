import { ArrowDown, ArrowUp, X } from 'lucide-react';
import { Switch } from 'radix-ui';
import type { ReactNode } from 'react';
import { keyName } from '../../core/music/key.ts';
import { pitchName } from '../../core/music/pitch.ts';
import { GRIDS } from '../../core/normalize/grid.ts';
import { STEP_TITLES, type RecipeStep, type StepReport } from '../../core/normalize/recipe.ts';

/** One step of the recipe: on or off, its parameters, its place, and what it changed. */
export function StepCard({
  step,
  report,
  isDrums,
  onChange,
  onMove,
  onRemove,
}: {
  step: RecipeStep;
  report: StepReport | undefined;
  isDrums: boolean;
  onChange: (step: RecipeStep) => void;
  onMove: (by: -1 | 1) => void;
  onRemove: () => void;
}) {
  const title = STEP_TITLES[step.step];
  const isOn = !step.off;
  return (
    <li className="group border-b border-thread py-2">
      <div className="flex items-center gap-2">
        <Switch.Root
          checked={isOn}
          onCheckedChange={(on) => onChange({ ...step, off: !on })}
          aria-label={`${title} on`}
          className="relative h-4 w-7 flex-none rounded-full border border-muted bg-card data-[state=checked]:border-indigo data-[state=checked]:bg-indigo"
        >
          <Switch.Thumb className="block size-2.5 translate-x-0.5 rounded-full bg-muted data-[state=checked]:translate-x-3.5 data-[state=checked]:bg-on-dye" />
        </Switch.Root>
        <h3 className={`text-base ${isOn ? '' : 'text-muted'}`}>{title}</h3>
        <span className="ml-auto flex">
          <IconButton label={`Move ${title} up`} onClick={() => onMove(-1)}>
            <ArrowUp size={13} />
          </IconButton>
          <IconButton label={`Move ${title} down`} onClick={() => onMove(1)}>
            <ArrowDown size={13} />
          </IconButton>
          <IconButton label={`Remove ${title}`} onClick={onRemove}>
            <X size={13} />
          </IconButton>
        </span>
      </div>
      <div
        className={`mt-1 flex flex-wrap items-center gap-x-3 gap-y-1 pl-9 text-sm ${isOn ? '' : 'opacity-60'}`}
      >
        <StepFields step={step} onChange={onChange} isDrums={isDrums} />
      </div>
      {isOn && <p className="mt-1 pl-9 text-xs text-muted">{report?.summary}</p>}
    </li>
  );
}

function IconButton({
  label,
  onClick,
  children,
}: {
  label: string;
  onClick: () => void;
  children: ReactNode;
}) {
  return (
    <button
      type="button"
      aria-label={label}
      title={label}
      onClick={onClick}
      className="flex size-6 items-center justify-center rounded-[3px] text-muted hover:bg-sunk hover:text-ink"
    >
      {children}
    </button>
  );
}

type FieldsProps<Name extends RecipeStep['step']> = {
  step: Extract<RecipeStep, { step: Name }>;
  onChange: (step: RecipeStep) => void;
};

function StepFields({
  step,
  onChange,
  isDrums,
}: {
  step: RecipeStep;
  onChange: (step: RecipeStep) => void;
  isDrums: boolean;
}) {
  switch (step.step) {
    case 'bars':
      return <BarsFields step={step} onChange={onChange} />;
    case 'pedal':
      return (
        <Choice
          label="the pedal"
          before
          value={step.mode}
          options={[
            ['length', 'into the length of notes'],
            ['keep', 'kept, up at the end'],
            ['drop', 'taken away'],
          ]}
          onValue={(mode) => onChange({ ...step, mode: mode as typeof step.mode })}
        />
      );
    case 'doubles':
      return (
        <NumberField
          label="ms: twice within is once"
          name="within"
          value={step.ms ?? 10}
          min={0}
          max={100}
          onValue={(ms) => onChange({ ...step, ms })}
        />
      );
    case 'time':
      return (
        <Choice
          label="written in"
          before
          value={String(step.factor)}
          options={[
            ['2', 'double time, twice the bars'],
            ['0.5', 'half time, half the bars'],
          ]}
          onValue={(factor) => onChange({ ...step, factor: factor === '2' ? 2 : 0.5 })}
        />
      );
    case 'humanize':
      return <HumanizeFields step={step} onChange={onChange} />;
    case 'controls':
      return (
        <Choice
          label="controllers and bend"
          before
          value={step.mode}
          options={[
            ['settle', 'said at the beginning'],
            ['keep', 'as played'],
            ['drop', 'taken away'],
          ]}
          onValue={(mode) => onChange({ ...step, mode: mode as typeof step.mode })}
        />
      );
    case 'quantize':
      return <QuantizeFields step={step} onChange={onChange} />;
    case 'velocity':
      return <VelocityFields step={step} onChange={onChange} isDrums={isDrums} />;
    case 'length':
      return (
        <NumberField
          label="% of its length"
          name="length"
          value={Math.round(step.factor * 100)}
          min={5}
          max={800}
          onValue={(percent) => onChange({ ...step, factor: percent / 100 })}
        />
      );
    case 'shift':
      return (
        <NumberField
          label="ms, negative is earlier"
          value={step.ms}
          min={-1000}
          max={1000}
          onValue={(ms) => onChange({ ...step, ms })}
        />
      );
    case 'transpose':
      return <TransposeFields step={step} onChange={onChange} />;
    case 'register':
      return <RegisterFields step={step} onChange={onChange} />;
    case 'resolution':
      return (
        <Choice
          label="ticks a quarter note"
          value={String(step.ppq)}
          options={['96', '192', '240', '384', '480', '960'].map((ppq) => [ppq, ppq])}
          onValue={(ppq) => onChange({ ...step, ppq: Number(ppq) })}
        />
      );
  }
}

function BarsFields({ step, onChange }: FieldsProps<'bars'>) {
  return (
    <>
      <NumberField
        label="from"
        before
        value={step.start}
        min={1}
        max={100_000}
        onValue={(start) => onChange({ ...step, start })}
      />
      <NumberField
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
        ]}
        onValue={(tail) => onChange({ ...step, tail: tail as NonNullable<typeof step.tail> })}
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

function QuantizeFields({ step, onChange }: FieldsProps<'quantize'>) {
  return (
    <>
      <Choice
        label="grid"
        before
        value={step.grid}
        options={GRIDS.map((grid) => [grid, grid])}
        onValue={(value) => onChange({ ...step, grid: GRIDS.find((grid) => grid === value)! })}
      />
      <NumberField
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

function HumanizeFields({ step, onChange }: FieldsProps<'humanize'>) {
  return (
    <>
      <NumberField
        label="ms"
        name="time strays by"
        value={step.ms}
        min={0}
        max={100}
        onValue={(ms) => onChange({ ...step, ms })}
      />
      <NumberField
        label="of velocity"
        value={step.velocity ?? 0}
        min={0}
        max={40}
        onValue={(velocity) => onChange({ ...step, velocity })}
      />
      <NumberField
        label="seed"
        before
        value={step.seed ?? 1}
        min={0}
        max={9999}
        onValue={(seed) => onChange({ ...step, seed })}
      />
    </>
  );
}

function VelocityFields({ step, onChange, isDrums }: FieldsProps<'velocity'> & { isDrums: boolean }) {
  const keepsCrash = step.except?.includes('crash') ?? false;
  return (
    <>
      <NumberField
        label="loud at"
        before
        unit="%"
        value={Math.round(step.loud * 100)}
        min={1}
        max={100}
        onValue={(percent) => onChange({ ...step, loud: percent / 100 })}
      />
      <NumberField
        label="range ×"
        before
        value={step.range ?? 1}
        min={0}
        max={4}
        step={0.1}
        onValue={(range) => onChange({ ...step, range })}
      />
      <NumberField
        label="ghosts up to"
        before
        value={step.ghosts ?? 0}
        min={0}
        max={126}
        onValue={(ghosts) => onChange({ ...step, ghosts })}
      />
      {isDrums && (
        <label className="flex items-center gap-1">
          <input
            type="checkbox"
            checked={keepsCrash}
            onChange={() => onChange({ ...step, except: keepsCrash ? [] : ['crash'] })}
          />
          crashes as played
        </label>
      )}
    </>
  );
}

function TransposeFields({ step, onChange }: FieldsProps<'transpose'>) {
  const tonics = Array.from({ length: 12 }, (_, tonic) => keyName({ tonic, mode: 'major' }).split(' ')[0]!);
  const value = step.to === undefined ? 'semitones' : step.to;
  return (
    <>
      <Choice
        label="to"
        before
        value={value}
        options={[...tonics.map((tonic) => [tonic, tonic] as const), ['semitones', 'by semitones']]}
        onValue={(to) =>
          onChange(
            to === 'semitones'
              ? { step: 'transpose', off: step.off ?? false, semitones: 0 }
              : { step: 'transpose', off: step.off ?? false, to },
          )
        }
      />
      {step.semitones !== undefined && (
        <NumberField
          label="semitones"
          value={step.semitones}
          min={-48}
          max={48}
          onValue={(semitones) => onChange({ ...step, semitones })}
        />
      )}
    </>
  );
}

function RegisterFields({ step, onChange }: FieldsProps<'register'>) {
  const pitches = Array.from({ length: 128 }, (_, pitch) => [String(pitch), pitchName(pitch)] as const);
  return (
    <>
      <Choice
        label="from"
        before
        value={String(step.low)}
        options={pitches.slice(0, step.high - 10)}
        onValue={(low) => onChange({ ...step, low: Number(low) })}
      />
      <Choice
        label="to"
        before
        value={String(step.high)}
        options={pitches.slice(step.low + 11)}
        onValue={(high) => onChange({ ...step, high: Number(high) })}
      />
    </>
  );
}

/** A number that is taken over while it is typed, as long as it lies within its limits. */
function NumberField({
  label,
  name = label,
  unit,
  before = false,
  value,
  min,
  max,
  step = 1,
  onValue,
}: {
  label: string;
  name?: string;
  unit?: string;
  before?: boolean;
  value: number;
  min: number;
  max: number;
  step?: number;
  onValue: (value: number) => void;
}) {
  return (
    <label className="flex items-center gap-1.5">
      {before && <span className="text-muted">{label}</span>}
      <input
        type="number"
        aria-label={name}
        className="h-6 w-15 rounded-[3px] border border-rule bg-card px-1.5"
        min={min}
        max={max}
        step={step}
        value={value}
        onChange={({ target }) => {
          const next = Number(target.value);
          if (target.value !== '' && next >= min && next <= max) onValue(next);
        }}
      />
      {unit ?? (!before && <span className="text-muted">{label}</span>)}
    </label>
  );
}

function Choice({
  label,
  before = false,
  value,
  options,
  onValue,
}: {
  label: string;
  before?: boolean;
  value: string;
  options: readonly (readonly [string, string])[];
  onValue: (value: string) => void;
}) {
  return (
    <label className="flex items-center gap-1.5">
      {before && <span className="text-muted">{label}</span>}
      <select
        className="h-6 rounded-[3px] border border-rule bg-card px-1"
        value={value}
        onChange={(event) => onValue(event.target.value)}
        aria-label={label}
      >
        {!options.some(([option]) => option === value) && <option value={value}>{value}</option>}
        {options.map(([option, text]) => (
          <option key={option} value={option}>
            {text}
          </option>
        ))}
      </select>
      {!before && <span className="text-muted">{label}</span>}
    </label>
  );
}
