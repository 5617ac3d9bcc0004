import { useEffect, useState } from 'react';
import type { RecipeStep } from '../../../core/normalize/recipe.ts';
import { PHRASE_TOKENS, unknownTokens } from '../../../core/phrase/naming.ts';
import { ChannelFields, EditFields } from './LeavingFields.tsx';
import { VelocityFields } from './LevelFields.tsx';
import { RegisterFields, SwitchesFields, TransposeFields } from './PitchFields.tsx';
import { DensityFields, EndingFields, LayerFields, ThroughFields } from './ReuseFields.tsx';
import { Choice, StepNumber } from './step-inputs.tsx';
import { BarsFields, EARLY, FeelFields, HumanizeFields, QuantizeFields } from './TimeFields.tsx';

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
    case 'repeat':
      return (
        <StepNumber
          label="bars, gone round as often as it takes"
          name="bars"
          value={step.bars}
          min={1}
          max={512}
          onValue={(bars) => onChange({ ...step, bars })}
        />
      );
    case 'through':
      return <ThroughFields step={step} onChange={onChange} />;
    case 'density':
      return <DensityFields step={step} onChange={onChange} />;
    case 'octave':
      return (
        <StepNumber
          label="octaves up, down below 0"
          name="octaves"
          value={step.by}
          min={-5}
          max={5}
          onValue={(by) => onChange({ ...step, by })}
        />
      );
    case 'layer':
      return <LayerFields step={step} onChange={onChange} />;
    case 'ending':
      return <EndingFields step={step} onChange={onChange} />;
    case 'edit':
      return <EditFields step={step} onChange={onChange} />;
    case 'channel':
      return <ChannelFields step={step} onChange={onChange} isDrums={isDrums} />;
    case 'name':
      return <PatternField pattern={step.pattern} onChange={(pattern) => onChange({ ...step, pattern })} />;
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

/** The pattern of a name. What it does not know is told and not taken over; an empty one names nothing. */
function PatternField({ pattern, onChange }: { pattern: string; onChange: (pattern: string) => void }) {
  const [typed, setTyped] = useState(pattern);
  useEffect(() => setTyped(pattern), [pattern]);
  const unknown = unknownTokens(typed, PHRASE_TOKENS);
  const problem =
    typed.trim() === ''
      ? 'An empty pattern names nothing: the phrase keeps its name.'
      : unknown.length > 0
        ? `There is no ${unknown.map((token) => `{${token}}`).join(', ')}.`
        : null;
  return (
    <span className="grid w-full gap-0.5">
      <input
        aria-label="pattern"
        aria-invalid={problem !== null}
        className="field h-6 w-full text-sm"
        title={PHRASE_TOKENS.map((token) => `{${token}}`).join(' ')}
        maxLength={200}
        value={typed}
        onChange={({ target }) => setTyped(target.value)}
        onBlur={() => problem === null && typed !== pattern && onChange(typed)}
      />
      {problem && (
        <span role="alert" className="text-sm text-madder">
          {problem}
        </span>
      )}
    </span>
  );
}
