import {
  densityOf,
  withCellStep,
  type WeaveCell,
  type WeavePart,
  type WeaveSection,
} from '../../core/weave/weave.ts';
import type { WeaveProposal } from '../../core/weave/proposals.ts';
import type { WeaveRemark } from '../../core/weave/lay.ts';
import { readOrWhy } from '../../core/through/sounding.ts';
import { isPitched } from '../../core/phrase/clip.ts';
import type { PhraseListItem } from '../../server/library/search.ts';
import { Button } from '../../ui/Button.tsx';
import { KeyOptions } from '../../ui/KeyOptions.tsx';
import { Labeled } from '../../ui/Labeled.tsx';
import { NumberField } from '../../ui/NumberField.tsx';
import { ProgramOptions } from '../../ui/ProgramOptions.tsx';
import { RoleMark } from '../../ui/RoleMark.tsx';
import type { PhraseWire } from '../api/queries.ts';

/** A section: how long, how often, through which chords. */
export function SectionBox({
  section,
  beats,
  onEdit,
  onRemove,
  onListen,
}: {
  section: WeaveSection;
  beats: number;
  onEdit: (change: Partial<WeaveSection>, label: string) => void;
  onRemove: () => void;
  onListen: () => void;
}) {
  const problem = section.changes.trim() ? readOrWhy(section.changes, beats) : null;
  return (
    <section aria-label="The section" className="grid gap-3">
      <Labeled label="Section">
        {(id) => (
          <input
            id={id}
            className="field w-full font-display font-bold"
            value={section.name}
            maxLength={80}
            onChange={({ target }) => onEdit({ name: target.value }, 'name')}
          />
        )}
      </Labeled>
      <div className="grid grid-cols-3 gap-3">
        <NumberField
          label="Bars"
          value={section.bars}
          min={1}
          max={512}
          onChange={(bars) => onEdit({ bars }, 'bars')}
        />
        <NumberField
          label="Times"
          value={section.times}
          min={1}
          max={64}
          onChange={(times) => onEdit({ times }, 'times')}
        />
        <NumberField
          label="Energy"
          value={section.energy}
          min={1}
          max={5}
          onChange={(energy) => onEdit({ energy }, 'energy')}
        />
      </div>
      <Labeled label="Chords">
        {(id) => (
          <textarea
            id={id}
            className="field h-16 w-full py-1"
            spellCheck={false}
            placeholder="their own; or Dm | Gm A7 | Dm"
            value={section.changes}
            aria-invalid={typeof problem === 'string'}
            onChange={({ target }) => onEdit({ changes: target.value }, 'chords')}
          />
        )}
      </Labeled>
      {typeof problem === 'string' && (
        <p className="text-sm text-madder" role="alert">
          {problem}
        </p>
      )}
      <div className="grid grid-cols-2 gap-3">
        <NumberField
          label="Tempo from here"
          value={section.bpm}
          min={20}
          max={400}
          empty="as before"
          onChange={(bpm) => onEdit({ bpm }, 'tempo')}
        />
        <Labeled label="Key from here">
          {(id) => (
            <select
              id={id}
              className="field w-full"
              value={section.key}
              onChange={({ target }) => onEdit({ key: target.value }, 'key')}
            >
              <KeyOptions none="as before" />
            </select>
          )}
        </Labeled>
        <Labeled label="Meter from here">
          {(id) => (
            <select
              id={id}
              className="field w-full"
              value={section.meter ? `${section.meter.numerator}/${section.meter.denominator}` : ''}
              onChange={({ target: { value } }) => {
                const [numerator, denominator] = value.split('/').map(Number) as [number, number];
                onEdit({ meter: value === '' ? null : { numerator, denominator } }, 'meter');
              }}
            >
              <option value="">as before</option>
              {['4/4', '3/4', '2/4', '6/8', '12/8', '5/4', '7/8'].map((meter) => (
                <option key={meter}>{meter}</option>
              ))}
            </select>
          )}
        </Labeled>
      </div>
      <div className="flex gap-2">
        <Button small onClick={onListen}>
          Listen from here
        </Button>
        <Button small onClick={onRemove}>
          Take the section out
        </Button>
      </div>
    </section>
  );
}

/** A part: what it is called, how it sounds. */
export function PartBox({
  part,
  onEdit,
  onRemove,
  onListen,
}: {
  part: WeavePart;
  onEdit: (change: Partial<WeavePart>, label: string) => void;
  onRemove: () => void;
  onListen: () => void;
}) {
  return (
    <section aria-label="The part" className="grid gap-3">
      <Labeled label="Part">
        {(id) => (
          <input
            id={id}
            className="field w-full font-display font-bold"
            value={part.name}
            maxLength={80}
            onChange={({ target }) => onEdit({ name: target.value }, 'name')}
          />
        )}
      </Labeled>
      {isPitched({ role: part.role }) && (
        <Labeled label="Its sound">
          {(id) => (
            <select
              id={id}
              className="field w-full"
              value={part.program ?? ''}
              onChange={({ target: { value } }) =>
                onEdit({ program: value === '' ? null : Number(value) }, 'sound')
              }
            >
              <option value="">its phrases' own</option>
              <ProgramOptions />
            </select>
          )}
        </Labeled>
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
      <div className="flex gap-2">
        <Button small onClick={onListen}>
          Listen to it alone
        </Button>
        <Button small onClick={onRemove}>
          Take the part out
        </Button>
      </div>
    </section>
  );
}

/** A cell: its phrase and what is done to it here; and what else could stand in it. */
export function CellBox({
  cell,
  phrase,
  role,
  candidates,
  fills,
  onEdit,
  onPhrase,
  onClear,
}: {
  cell: WeaveCell | undefined;
  phrase: PhraseWire | undefined;
  role: WeavePart['role'];
  candidates: readonly PhraseListItem[];
  fills: readonly PhraseListItem[];
  onEdit: (change: Partial<WeaveCell>, label: string) => void;
  onPhrase: (id: string) => void;
  onClear: () => void;
}) {
  const octave = cell?.steps.find(({ step }) => step === 'octave') as { by: number } | undefined;
  const pitched = isPitched({ role });
  return (
    <section aria-label="The cell" className="grid gap-3">
      {cell && (
        <>
          <div className="flex items-baseline gap-2">
            <h2 className="min-w-0 flex-1 truncate text-base">{phrase?.name ?? 'Its phrase is gone'}</h2>
            <Button small onClick={onClear}>
              Empty it
            </Button>
          </div>
          <div className="grid grid-cols-2 gap-3">
            <NumberField
              label="Calmer, busier"
              value={densityOf(cell)}
              min={-3}
              max={3}
              onChange={(level) =>
                onEdit(
                  {
                    steps: withCellStep(
                      cell,
                      'density',
                      level === 0 ? null : { step: 'density', level, seed: 1 },
                    ).steps,
                  },
                  'density',
                )
              }
            />
            {pitched && (
              <NumberField
                label="Octaves up"
                value={octave?.by ?? 0}
                min={-3}
                max={3}
                onChange={(by) =>
                  onEdit(
                    { steps: withCellStep(cell, 'octave', by === 0 ? null : { step: 'octave', by }).steps },
                    'octave',
                  )
                }
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
            <Tick label="silent here" on={cell.muted} onChange={(muted) => onEdit({ muted }, 'silence')} />
            {pitched ? (
              <Tick
                label="its own chords, not the section's"
                on={cell.plain}
                onChange={(plain) => onEdit({ plain }, 'own chords')}
              />
            ) : (
              <Tick
                label="a crash where it begins"
                on={cell.crash}
                onChange={(crash) => onEdit({ crash }, 'crash')}
              />
            )}
          </div>
          {!pitched && fills.length > 0 && (
            <Labeled label="Fill at its end">
              {(id) => (
                <select
                  id={id}
                  className="field w-full"
                  value={cell.fill ?? ''}
                  onChange={({ target: { value } }) => onEdit({ fill: value || null }, 'fill')}
                >
                  <option value="">none</option>
                  {fills.map((fill) => (
                    <option key={fill.id} value={fill.id}>
                      {fill.name}
                    </option>
                  ))}
                </select>
              )}
            </Labeled>
          )}
        </>
      )}
      <div>
        <h3 className="label mb-1">{cell ? 'In its place' : 'What could stand here'}</h3>
        {candidates.length === 0 && <p className="text-sm text-muted">No {role} phrases are kept yet.</p>}
        <ul aria-label="What could stand here" className="max-h-72 overflow-auto">
          {candidates.map(({ id, name, bars, role: own }) => (
            <li key={id} className="border-t border-thread">
              <button
                type="button"
                aria-pressed={cell?.phrase === id}
                className={`flex w-full items-center gap-2 px-1.5 py-1 text-left text-sm ${cell?.phrase === id ? 'bg-select' : 'hover:bg-sunk'}`}
                onClick={() => onPhrase(id)}
              >
                <RoleMark role={own} bare />
                <span className="min-w-0 flex-1 truncate">{name}</span>
                <span className="text-xs text-muted tabular-nums">{bars}</span>
              </button>
            </li>
          ))}
        </ul>
      </div>
    </section>
  );
}

function Tick({ label, on, onChange }: { label: string; on: boolean; onChange: (on: boolean) => void }) {
  return (
    <label className="flex min-h-6 items-center gap-2">
      <input type="checkbox" checked={on} onChange={({ target }) => onChange(target.checked)} />
      {label}
    </label>
  );
}

/** What could be done, each with its reason: accepted or refused one by one, or accepted together; and what is told of the cells. */
export function ProposalList({
  proposals,
  remarks,
  onAccept,
  onRefuse,
  onPlace,
}: {
  proposals: readonly WeaveProposal[];
  remarks: readonly (WeaveRemark & { where: string })[];
  onAccept: (chosen: readonly WeaveProposal[]) => void;
  onRefuse: (one: WeaveProposal) => void;
  onPlace: (section: string, part: string | null) => void;
}) {
  return (
    <section aria-label="Proposals" className="grid gap-1">
      <div className="flex items-baseline gap-2">
        <h2 className="text-base">Proposals</h2>
        {proposals.length > 1 && (
          <Button small className="ml-auto" onClick={() => onAccept(proposals)}>
            Accept all {proposals.length}
          </Button>
        )}
      </div>
      {proposals.length === 0 && <p className="text-sm text-muted">None.</p>}
      <ul>
        {proposals.map((one) => (
          <li key={one.id} className="border-t border-thread py-1 text-sm">
            <button
              type="button"
              className="block min-h-6 w-full text-left hover:underline"
              onClick={() => onPlace(one.section, one.part)}
            >
              {one.text}
            </button>
            <span className="mt-0.5 flex gap-1.5">
              <Button small onClick={() => onAccept([one])}>
                Accept
              </Button>
              <Button small onClick={() => onRefuse(one)}>
                Refuse
              </Button>
            </span>
          </li>
        ))}
      </ul>
      {remarks.length > 0 && (
        <>
          <h2 className="mt-2 text-base">Told</h2>
          <ul className="text-sm text-muted">
            {remarks.map(({ section, part, where, text }) => (
              <li key={`${section} ${part} ${text}`}>
                <button
                  type="button"
                  className="min-h-6 w-full text-left hover:underline"
                  onClick={() => onPlace(section, part)}
                >
                  {where}: {text}
                </button>
              </li>
            ))}
          </ul>
        </>
      )}
    </section>
  );
}
