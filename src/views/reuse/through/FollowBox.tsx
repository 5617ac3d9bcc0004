import { SelectField } from '../../../ui/fields/SelectField.tsx';
import { isPitched, type Clip } from '../../../core/phrase/clip.ts';
import { WAYS } from '../../../core/through/pieces.ts';
import { WAY_TITLES } from '../../../core/through/words.ts';
import { octaveWithRoom } from '../../../core/vary/room.ts';
import { Checkbox } from '../../../ui/fields/Checkbox.tsx';
import { Button } from '../../../ui/Button.tsx';
import { NumberField } from '../../../ui/fields/NumberField.tsx';
import { RoleMark } from '../../../ui/drawing/RoleMark.tsx';
import type { PartEdit, Taken } from './through-edit.ts';

/** How the chosen part follows the chords, what each step did, and the account of it. */
export function FollowBox({
  taken,
  others,
  edit,
  onEdit,
}: {
  taken: Taken;
  /** What sounds beside it: the other parts, and what is pinned. */
  others: readonly Clip[];
  edit: PartEdit;
  onEdit: (change: Partial<PartEdit>, label: string) => void;
}) {
  const { phrase, result } = taken;
  const pitched = isPitched(phrase.clip);
  return (
    <section aria-label="How it follows" className="grid gap-3">
      <div>
        <h2 className="text-lg leading-snug">{phrase.name}</h2>
        <RoleMark role={phrase.role} />
      </div>
      {pitched && (
        <SelectField
          label="It goes"
          value={edit.way ?? ''}
          onChange={(value) => onEdit({ way: WAYS.find((one) => one === value) }, 'way')}
        >
          <option value="">as its role does</option>
          {WAYS.map((way) => (
            <option key={way} value={way}>
              {WAY_TITLES[way]}
            </option>
          ))}
        </SelectField>
      )}
      <div className="grid grid-cols-2 gap-3">
        <NumberField
          label="Calmer, busier"
          value={edit.density}
          min={-3}
          max={3}
          onChange={(density) => onEdit({ density }, 'density')}
        />
        {pitched && (
          <NumberField
            label="Octaves up"
            value={edit.octave}
            min={-3}
            max={3}
            onChange={(octave) => onEdit({ octave }, 'octave')}
          />
        )}
      </div>
      {pitched && others.some(isPitched) && (
        <Button
          small
          className="justify-self-start"
          title="The octave that overlaps least with what sounds beside it"
          onClick={() => onEdit({ octave: withRoom(edit.octave, result.clip, others) }, 'octave')}
        >
          Where there is room
        </Button>
      )}
      {pitched && (
        <div className="grid gap-1 text-sm">
          <Checkbox
            label="strike every change"
            on={edit.strike}
            onChange={(strike) => onEdit({ strike }, 'every change struck')}
          />
          <Checkbox
            label="triads may become sevenths"
            on={edit.richer}
            onChange={(richer) => onEdit({ richer }, 'richer chords')}
          />
        </div>
      )}
      <ul className="grid gap-1 border-t border-rule pt-2 text-sm text-muted">
        {result.reports.map(({ step, summary }) => (
          <li key={step}>{summary}</li>
        ))}
        {(taken.through.unheard?.length ?? 0) > 0 && (
          <li>unheard: {taken.through.unheard!.map(({ symbol }) => symbol).join(', ')}</li>
        )}
      </ul>
      {edit.mend.length > 0 && (
        <p className="text-sm">
          {edit.mend.length === 1 ? 'One note' : `${edit.mend.length} notes`} put right.{' '}
          <button
            type="button"
            className="underline decoration-rule"
            onClick={() => onEdit({ mend: [] }, 'nothing put right')}
          >
            As they fell
          </button>
        </p>
      )}
    </section>
  );
}

/** The octave that has most room, counted from where it lies now, within what can be asked for. */
function withRoom(now: number, clip: Clip, others: readonly Clip[]): number {
  return Math.min(3, Math.max(-3, now + octaveWithRoom(clip, others)));
}
