import { GM_PROGRAMS, KIT_PIECES } from '../../core/midi/gm.ts';
import { keyName } from '../../core/music/key.ts';
import { pitchName } from '../../core/music/pitch.ts';
import { GRIDS } from '../../core/normalize/grid.ts';
import type { RecipeStep } from '../../core/normalize/recipe.ts';
import { PHRASE_TOKENS } from '../../core/phrase/naming.ts';
import { Toggle } from '../../ui/Button.tsx';
import { useFeels } from '../api/queries.ts';

type FieldsProps<Name extends RecipeStep['step']> = {
  step: Extract<RecipeStep, { step: Name }>;
  onChange: (step: RecipeStep) => void;
};

/** The parameters of a step, in their units. */
export function StepFields({
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
    case 'pickup':
      return (
        <Choice
          label="what comes before bar 1"
          before
          value={step.mode}
          options={[
            ['keep', 'in a bar of its own'],
            ['wrap', "at the loop's end"],
            ['drop', 'left out'],
          ]}
          onValue={(mode) => onChange({ ...step, mode: mode as typeof step.mode })}
        />
      );
    case 'switches':
      return <SwitchesFields step={step} onChange={onChange} />;
    case 'drums':
      return <span className="text-muted">{step.pairs.length} keys of the kit go to others</span>;
    case 'feel':
      return <FeelFields step={step} onChange={onChange} />;
    case 'edit':
      return <EditFields step={step} onChange={onChange} />;
    case 'channel':
      return <ChannelFields step={step} onChange={onChange} isDrums={isDrums} />;
    case 'name':
      return (
        <input
          aria-label="pattern"
          className="field h-6 w-full text-sm"
          title={PHRASE_TOKENS.map((token) => `{${token}}`).join(' ')}
          maxLength={200}
          defaultValue={step.pattern}
          onBlur={({ target }) =>
            target.value !== step.pattern && onChange({ ...step, pattern: target.value })
          }
        />
      );
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
        <StepNumber
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
        <StepNumber
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
        <>
          <StepNumber
            label="ms, negative is earlier"
            value={step.ms}
            min={-1000}
            max={1000}
            onValue={(ms) => onChange({ ...step, ms })}
          />
          <Choice
            label="before bar 1"
            before
            value={step.early ?? 'hold'}
            options={EARLY}
            onValue={(early) => onChange({ ...step, early: early as NonNullable<typeof step.early> })}
          />
        </>
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

/** What becomes of a note that is shifted before bar one. */
export const EARLY = [
  ['hold', 'held at bar 1'],
  ['wrap', "at the loop's end"],
  ['pickup', 'a pickup'],
] as const;

function SwitchesFields({ step, onChange }: FieldsProps<'switches'>) {
  return (
    <>
      <Choice
        label="key switches"
        before
        value={step.mode}
        options={[
          ['lock', 'stay where they are'],
          ['drop', 'left out'],
        ]}
        onValue={(mode) => onChange({ ...step, mode: mode as typeof step.mode })}
      />
      <label className="flex items-center gap-1.5">
        <span className="text-muted">also keys</span>
        <input
          aria-label="also keys"
          className="field h-6 w-28 text-sm"
          placeholder="24 25 26"
          title="MIDI numbers, as captured"
          defaultValue={(step.pitches ?? []).join(' ')}
          onBlur={({ target }) => {
            const pitches = (target.value.match(/\d+/g) ?? []).map(Number).filter((pitch) => pitch <= 127);
            onChange({ ...step, pitches: [...new Set(pitches)] });
          }}
        />
      </label>
    </>
  );
}

function FeelFields({ step, onChange }: FieldsProps<'feel'>) {
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

function EditFields({ step, onChange }: FieldsProps<'edit'>) {
  const changed = step.change?.filter(({ remove }) => !remove).length ?? 0;
  const deleted = (step.change?.length ?? 0) - changed;
  const added = step.add?.length ?? 0;
  return (
    <>
      <span className="text-muted">
        {changed} changed, {deleted} deleted, {added} added
      </span>
      {deleted > 0 && (
        <button
          type="button"
          className="underline decoration-rule underline-offset-3"
          onClick={() => onChange({ ...step, change: step.change?.filter(({ remove }) => !remove) })}
        >
          bring back the deleted
        </button>
      )}
    </>
  );
}

function ChannelFields({ step, onChange, isDrums }: FieldsProps<'channel'> & { isDrums: boolean }) {
  return (
    <>
      <StepNumber
        label="channel"
        before
        value={step.channel ?? 1}
        min={1}
        max={16}
        onValue={(channel) => onChange({ ...step, channel })}
      />
      {!isDrums && (
        <Choice
          label="program"
          before
          value={String(step.program ?? '')}
          options={[
            ['', 'as it came'],
            ...GM_PROGRAMS.map((name, i) => [String(i + 1), `${i + 1} ${name}`] as const),
          ]}
          onValue={(value) => {
            const { program: _, ...rest } = step;
            onChange(value === '' ? rest : { ...rest, program: Number(value) });
          }}
        />
      )}
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

function HumanizeFields({ step, onChange }: FieldsProps<'humanize'>) {
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
      <StepNumber
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
  return (
    <>
      <StepNumber
        label="loud at"
        before
        unit="%"
        value={Math.round(step.loud * 100)}
        min={1}
        max={100}
        onValue={(percent) => onChange({ ...step, loud: percent / 100 })}
      />
      <StepNumber
        label="range ×"
        before
        value={step.range ?? 1}
        min={0}
        max={4}
        step={0.1}
        onValue={(range) => onChange({ ...step, range })}
      />
      <StepNumber
        label="ghosts up to"
        before
        value={step.ghosts ?? 0}
        min={0}
        max={126}
        onValue={(ghosts) => onChange({ ...step, ghosts })}
      />
      {isDrums && <SparedPieces step={step} onChange={onChange} />}
    </>
  );
}

/** Pieces of the kit that stay as they were played. */
function SparedPieces({ step, onChange }: FieldsProps<'velocity'>) {
  const spared = new Set(step.except ?? []);
  return (
    <fieldset className="flex flex-wrap items-center gap-1">
      <legend className="float-left mr-1 text-muted">as played:</legend>
      {KIT_PIECES.map((piece) => (
        <Toggle
          key={piece}
          on={spared.has(piece)}
          onClick={() =>
            onChange({
              ...step,
              except: KIT_PIECES.filter((one) => spared.has(one) !== (one === piece)),
            })
          }
        >
          {piece}
        </Toggle>
      ))}
    </fieldset>
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
        <StepNumber
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
export function StepNumber({
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

export function Choice({
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
