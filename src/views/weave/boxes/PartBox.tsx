import { SelectField } from '../../../ui/fields/SelectField.tsx';
import type { PhraseListItem } from '../../../server/library/phrases/search.ts';
import type { WeavePart } from '../../../core/weave/weave.ts';
import { isPitched } from '../../../core/phrase/clip.ts';
import { Button } from '../../../ui/Button.tsx';
import { NumberField } from '../../../ui/fields/NumberField.tsx';
import { ProgramOptions } from '../../../ui/fields/ProgramOptions.tsx';
import { CandidateList } from './CandidateList.tsx';
import { NameField } from './NameField.tsx';

/** A part: what it is called, how it sounds. */
export function PartBox({
  part,
  onEdit,
  candidates,
  playing,
  onPhrase,
  onKeep,
  onRemove,
  onListen,
}: {
  part: WeavePart;
  onEdit: (change: Partial<WeavePart>, label: string) => void;
  candidates: readonly PhraseListItem[];
  /** The phrase it plays, where it plays one throughout. */
  playing: string | undefined;
  onPhrase: (id: string) => void;
  onKeep: () => void;
  onRemove: () => void;
  onListen: () => void;
}) {
  return (
    <section aria-label="The part" className="grid gap-3">
      <NameField label="Part" value={part.name} onChange={(name) => onEdit({ name }, 'name')} />
      {isPitched({ role: part.role }) && (
        <SelectField
          label="Its sound"
          value={part.program ?? ''}
          onChange={(value) => onEdit({ program: value === '' ? null : Number(value) }, 'sound')}
        >
          <option value="">its phrases' own</option>
          <ProgramOptions />
        </SelectField>
      )}
      <div className="grid grid-cols-2 gap-3">
        <NumberField
          label="Level, %"
          value={Math.round(100 * part.level)}
          min={0}
          max={200}
          onChange={(level) => onEdit({ level: level / 100 }, 'level')}
        />
        <NumberField
          label="Pan: 0 left, 127 right"
          value={part.pan}
          min={0}
          max={127}
          empty="as it is"
          onChange={(pan) => onEdit({ pan }, 'pan')}
        />
      </div>
      <div className="flex flex-wrap gap-2">
        <Button small onClick={onListen}>
          Listen to it alone
        </Button>
        <Button small onClick={onKeep}>
          Keep the part
        </Button>
        <Button small onClick={onRemove}>
          Take the part out
        </Button>
      </div>
      <CandidateList
        title="All along in its place"
        role={part.role}
        chosen={playing}
        candidates={candidates}
        onPhrase={onPhrase}
      />
    </section>
  );
}
