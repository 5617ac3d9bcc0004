import { KIT_PIECES } from '../../../core/midi/gm.ts';
import { Toggle } from '../../../ui/Button.tsx';
import { StepNumber, type FieldsProps } from './step-inputs.tsx';

export function VelocityFields({ step, onChange, isDrums }: FieldsProps<'velocity'> & { isDrums: boolean }) {
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
