import { SelectField } from '../../../ui/fields/SelectField.tsx';
import { Link } from 'react-router';
import {
  densityOf,
  octaveOf,
  withDensity,
  withOctave,
  type WeaveCell,
  type WeavePart,
} from '../../../core/weave/weave.ts';
import { isPitched } from '../../../core/phrase/clip.ts';
import type { PhraseListItem } from '../../../server/library/phrases/search.ts';
import { Checkbox } from '../../../ui/fields/Checkbox.tsx';
import { Button } from '../../../ui/Button.tsx';
import { NumberField } from '../../../ui/fields/NumberField.tsx';
import type { PhraseWire } from '../../api/queries.ts';
import { CandidateList } from './CandidateList.tsx';

/** A cell: its phrase and what is done to it here; and what else could stand in it. */
export function CellBox({
  cell,
  phrase,
  role,
  candidates,
  fills,
  places,
  answer,
  asks,
  onAnswer,
  onEdit,
  onPhrase,
  onCopy,
  onKeep,
  onClear,
}: {
  cell: WeaveCell | undefined;
  phrase: PhraseWire | undefined;
  role: WeavePart['role'];
  candidates: readonly PhraseListItem[];
  fills: readonly PhraseListItem[];
  /** How many cells its phrase is used in. */
  places: number;
  /** Where changes hold, if that was said; and whether the first change asks for it. */
  answer: Hold | undefined;
  asks: boolean;
  onAnswer: (answer: Hold) => void;
  onEdit: (change: Partial<WeaveCell>, label: string) => void;
  onPhrase: (id: string) => void;
  onCopy: () => void;
  onKeep: () => void;
  onClear: () => void;
}) {
  const pitched = isPitched({ role });
  return (
    <section aria-label="The cell" className="grid gap-3">
      {cell && (
        <>
          <div className="flex items-baseline gap-2">
            <h2 className="min-w-0 flex-1 truncate text-base">
              {phrase ? <Link to={`/normalize/${phrase.id}`}>{phrase.name}</Link> : 'Its phrase is gone'}
            </h2>
            <Button small onClick={onClear}>
              Empty it
            </Button>
          </div>
          {places > 1 && <HoldChoice places={places} answer={answer} asks={asks} onAnswer={onAnswer} />}
          <div className="grid grid-cols-2 gap-3">
            <NumberField
              label="Calmer, busier"
              value={densityOf(cell)}
              min={-3}
              max={3}
              onChange={(level) => onEdit({ steps: withDensity(cell, level).steps }, 'density')}
            />
            {pitched && (
              <NumberField
                label="Octaves up"
                value={octaveOf(cell)}
                min={-3}
                max={3}
                onChange={(by) => onEdit({ steps: withOctave(cell, by).steps }, 'octave')}
              />
            )}
            <NumberField
              label="Rounds"
              value={cell.rounds}
              min={1}
              max={512}
              empty="all of it"
              onChange={(rounds) => onEdit({ rounds }, 'rounds')}
            />
            <NumberField
              label="Begins in bar"
              value={cell.offset + 1}
              min={1}
              max={512}
              onChange={(bar) => onEdit({ offset: bar - 1 }, 'beginning')}
            />
          </div>
          <div className="grid gap-0.5 text-sm">
            <Checkbox
              label="silent here"
              on={cell.muted}
              onChange={(muted) => onEdit({ muted }, 'silence')}
            />
            {pitched ? (
              <Checkbox
                label="its own chords, not the section's"
                on={cell.plain}
                onChange={(plain) => onEdit({ plain }, 'own chords')}
              />
            ) : (
              <Checkbox
                label="a crash where it begins"
                on={cell.crash}
                onChange={(crash) => onEdit({ crash }, 'crash')}
              />
            )}
          </div>
          {!pitched && fills.length > 0 && (
            <SelectField
              label="Fill at its end"
              value={cell.fill ?? ''}
              onChange={(value) => onEdit({ fill: value || null }, 'fill')}
            >
              <option value="">none</option>
              {fills.map((fill) => (
                <option key={fill.id} value={fill.id}>
                  {fill.name}
                </option>
              ))}
            </SelectField>
          )}
          <div className="flex gap-2">
            {places > 1 && (
              <Button
                small
                onClick={onCopy}
                title="A child of its phrase, in this cell only: what is edited in it stays here"
              >
                Its own copy
              </Button>
            )}
            <Button small onClick={onKeep}>
              Keep the cell
            </Button>
          </div>
        </>
      )}
      <CandidateList
        title={cell ? 'In its place' : 'What could stand here'}
        role={role}
        chosen={cell?.phrase}
        candidates={candidates}
        onPhrase={onPhrase}
      />
    </section>
  );
}

/** Whether changes hold in one cell, or in all that play the same phrase: asked once, with the first change. */
export type Hold = 'here' | 'everywhere';

function HoldChoice({
  places,
  answer,
  asks,
  onAnswer,
}: {
  places: number;
  answer: Hold | undefined;
  asks: boolean;
  onAnswer: (answer: Hold) => void;
}) {
  const choices = [
    ['here', 'here only'],
    ['everywhere', `in all ${places} places`],
  ] as const;
  return (
    <fieldset className={asks ? 'rounded-[3px] bg-select p-2' : ''}>
      <legend className="sr-only">Where changes hold</legend>
      <p className="text-sm text-muted">
        {asks ? `Changed here only; its phrase stands in ${places} places.` : 'Changes hold'}
      </p>
      <div className="flex gap-3 text-sm">
        {choices.map(([value, title]) => (
          <label key={value} className="flex min-h-6 items-center gap-1.5">
            <input
              type="radio"
              name="hold"
              checked={(answer ?? 'here') === value}
              onChange={() => onAnswer(value)}
            />
            {title}
          </label>
        ))}
      </div>
    </fieldset>
  );
}
