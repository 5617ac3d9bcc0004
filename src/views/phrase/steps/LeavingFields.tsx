import { GM_PROGRAMS } from '../../../core/midi/gm.ts';
import { Choice, StepNumber, type FieldsProps } from './step-inputs.tsx';

export function EditFields({ step, onChange }: FieldsProps<'edit'>) {
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

export function ChannelFields({ step, onChange, isDrums }: FieldsProps<'channel'> & { isDrums: boolean }) {
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
