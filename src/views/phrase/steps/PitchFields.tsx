import { TONICS } from '../../../core/music/key.ts';
import { pitchName } from '../../../core/music/pitch.ts';
import { Choice, StepNumber, type FieldsProps } from './step-inputs.tsx';

export function SwitchesFields({ step, onChange }: FieldsProps<'switches'>) {
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

export function TransposeFields({ step, onChange }: FieldsProps<'transpose'>) {
  const value = step.to === undefined ? 'semitones' : step.to;
  return (
    <>
      <Choice
        label="to"
        before
        value={value}
        options={[...TONICS.map((tonic) => [tonic, tonic] as const), ['semitones', 'by semitones']]}
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

export function RegisterFields({ step, onChange }: FieldsProps<'register'>) {
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
