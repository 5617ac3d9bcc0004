import { group } from 'd3-array';
import type { ReactNode } from 'react';
import { Link } from 'react-router';
import type { PartFeel } from '../../../core/analyze/analysis.ts';
import { programName } from '../../../core/midi/gm.ts';
import { pitchName } from '../../../core/music/pitch.ts';
import { ROLES, UNPITCHED } from '../../../core/split/roles.ts';
import type { Part } from '../../../core/split/split.ts';
import { tallyOf } from '../../../core/split/tally.ts';
import { certaintyWords, plural } from '../../../core/words.ts';
import { Button } from '../../../ui/Button.tsx';
import { FileLink } from '../../../ui/ButtonLink.tsx';
import { ROLE_LOOK } from '../../../ui/drawing/roles.ts';
import { RoleMark } from '../../../ui/drawing/RoleMark.tsx';
import { pitchRange } from '../../../ui/drawing/strand.ts';
import { Facts, Ticket } from '../../../ui/Ticket.tsx';
import type { TakeWire } from '../../api/queries.ts';
import type { SplitEditing } from '../../shared/takes/editing.ts';
import { RenameField } from '../../../ui/fields/RenameField.tsx';
import { densityWords, feelWords } from './feel-words.ts';
import { History } from './History.tsx';
import type { TakeDoing } from '../doing/doing.ts';
import type { Selection } from '../selection.ts';
import type { Strand } from '../../shared/takes/strand-columns.ts';

/** What is selected, in words, with what can be done to it; and what was set aside or made. */
export function PartPanel({
  row,
  editing,
  selection,
  doing,
  onDialog,
  feel,
  loops,
}: {
  row: TakeWire;
  editing: SplitEditing;
  selection: Selection;
  doing: TakeDoing;
  onDialog: (dialog: 'apart' | 'give' | 'sound' | 'pitchMap') => void;
  /** Of the one part that is chosen; undefined while it is worked out. */
  feel: PartFeel | undefined;
  loops: ReactNode;
}) {
  const { selected, range, notes, partIds } = selection;
  const [strand] = selected;
  return (
    <div className="flex flex-1 flex-col gap-3">
      {notes.size > 0 && (
        <section aria-label="Chosen notes" className="grid gap-1.5">
          <h2>{plural(notes.size, 'note')} chosen</h2>
          <div className="flex flex-wrap gap-1.5">
            <Button small onClick={() => onDialog('give')} title="To another part, or one of their own (G)">
              Give to a part
            </Button>
            <Button small onClick={doing.setNotesAside} title="A">
              Set the notes aside
            </Button>
            <Button small onClick={doing.lockNotes} title="Key switches are locked: never transposed (L)">
              Lock or unlock
            </Button>
          </div>
        </section>
      )}
      {selected.length === 0 && (
        <p className="text-muted">
          Choose a part to see what it is. Drag over a strand to choose bars of it.
        </p>
      )}
      {strand && selected.length === 1 && <PartTicket strand={strand} editing={editing} feel={feel} />}
      {selected.length > 1 && (
        <Ticket title={`${selected.length} parts chosen`}>
          <ul className="mb-2">
            {selected.map(({ part }) => (
              <li key={part.id} className="flex justify-between gap-2">
                <span className="truncate">{part.name}</span> <RoleMark role={part.role} />
              </li>
            ))}
          </ul>
          <Button onClick={() => doing.merge()} title="The notes of all go into the first (J)">
            Merge into {selected[0]!.part.name}
          </Button>
        </Ticket>
      )}
      {strand && (
        <div className="flex flex-wrap gap-1.5" role="group" aria-label="What can be done with it">
          {selected.length === 1 && (
            <>
              <Button small onClick={() => onDialog('apart')} title="D">
                Take apart
              </Button>
              <Button small onClick={() => onDialog('sound')}>
                Sound
              </Button>
              {UNPITCHED.has(strand.part.role) && (
                <Button small onClick={() => onDialog('pitchMap')}>
                  Drum map
                </Button>
              )}
            </>
          )}
          <Button small onClick={() => doing.setAside(partIds)} title="A">
            Set aside
          </Button>
          {range && (
            <Button small onClick={() => doing.setBarsAside(range)} title="B">
              Set aside bars {range.start} to {range.start + range.count - 1}
            </Button>
          )}
          {selected.length === 1 && (
            <FileLink small href={`/api/takes/${row.id}/parts/${strand.part.id}`}>
              Export .mid
            </FileLink>
          )}
        </div>
      )}
      {loops}
      <SetAsideList editing={editing} />
      {row.phrases.length > 0 && (
        <section>
          <h2 className="mb-1">Made of this take</h2>
          <ul>
            {row.phrases.map((phrase) => (
              <li key={phrase.id} className="quiet-row flex items-baseline gap-2 py-1">
                <RoleMark role={phrase.role} bare />
                <Link to={`/normalize/${phrase.id}`} className="truncate">
                  {phrase.name}
                </Link>
                <span className="ml-auto flex-none text-xs text-muted">
                  {phrase.state === 'draft' ? 'draft, ' : ''}bars {phrase.startBar} to{' '}
                  {phrase.startBar + phrase.bars - 1}
                </span>
              </li>
            ))}
          </ul>
        </section>
      )}
      <History editing={editing} />
    </div>
  );
}

function PartTicket({
  strand: { part, notes, locked },
  editing,
  feel,
}: {
  strand: Strand;
  editing: SplitEditing;
  feel: PartFeel | undefined;
}) {
  const { low, high } = pitchRange(notes);
  return (
    <Ticket
      title={
        <RenameField
          key={part.id}
          label="Name of the part"
          value={part.name}
          onRename={(name) => editing.move({ move: 'rename', part: part.id, name })}
        />
      }
    >
      <Facts
        rows={[
          [
            'Role',
            <span key="role" className="flex items-center gap-2">
              <select
                aria-label="Role"
                className="rounded-[3px] border border-rule bg-card"
                value={part.role}
                onChange={({ target: { value } }) =>
                  editing.move({ move: 'role', part: part.id, role: ROLES.find((role) => role === value)! })
                }
              >
                {ROLES.map((role) => (
                  <option key={role} value={role}>
                    {ROLE_LOOK[role].title}
                  </option>
                ))}
              </select>
              <span className="text-muted">{part.found ? certaintyWords(part.certainty) : 'by hand'}</span>
            </span>,
          ],
          part.found
            ? [
                'Or',
                <button
                  key="or"
                  type="button"
                  className="underline decoration-rule underline-offset-3 hover:decoration-ink"
                  title="Put the role right"
                  onClick={() => editing.move({ move: 'role', part: part.id, role: part.runnerUp })}
                >
                  {part.runnerUp}
                </button>,
              ]
            : null,
          feel ? ['Feel', feelWords(feel)] : null,
          UNPITCHED.has(part.role)
            ? null
            : [
                'Harmony',
                <select
                  key="weight"
                  aria-label="How much the part counts for the chords"
                  className="rounded-[3px] border border-rule bg-card"
                  value={part.weight ?? ''}
                  onChange={({ target: { value } }) =>
                    editing.move({
                      move: 'weigh',
                      part: part.id,
                      weight: value === '' ? null : Number(value),
                    })
                  }
                >
                  <option value="">counts by its role</option>
                  <option value="1">counts in full</option>
                  <option value="0.5">counts half</option>
                  <option value="0">left out</option>
                </select>,
              ],
        ]}
      />
      <details className="mt-1.5">
        <summary className="cursor-pointer text-sm text-muted">Why, range, sound, where from</summary>
        <Facts
          rows={[
            ['Why', part.reasons.join('; ') || 'nothing tells; this is a guess'],
            ['From', streamWords(part.from)],
            [
              'Sound',
              `${UNPITCHED.has(part.role) ? 'drum kit' : `${part.program + 1} ${programName(part.program)}`}, channel ${part.channel + 1}`,
            ],
            locked.length > 0
              ? ['Locked', `${plural(locked.length, 'key switch', 'key switches')}, never transposed`]
              : null,
            part.pitchMap.length > 0
              ? ['Drum map', `${plural(part.pitchMap.length, 'pitch', 'pitches')} sound as others`]
              : null,
            [
              'Range',
              UNPITCHED.has(part.role)
                ? plural(notes.length, 'note')
                : `${pitchName(low)} to ${pitchName(high)}, ${plural(notes.length, 'note')}`,
            ],
            feel ? ['Density', densityWords(feel)] : null,
          ]}
        />
      </details>
    </Ticket>
  );
}

/** "tracks 3, 4, channel 2, program 34", streams that differ in their track alone in one. */
function streamWords(from: Part['from']): string {
  const sound = ({ channel, program }: Part['from'][number]) =>
    `channel ${channel + 1}${program === null ? '' : `, program ${program + 1}`}`;
  return [...group(from, sound)]
    .map(([name, streams]) => {
      const tracks = new Set(streams.map(({ track }) => track + 1));
      return `${tracks.size === 1 ? 'track' : 'tracks'} ${[...tracks].join(', ')}, ${name}`;
    })
    .join('; ');
}

function SetAsideList({ editing }: { editing: SplitEditing }) {
  const tally = tallyOf(editing.split);
  const entries = editing.split.setAside
    .map((entry, index) => ({ ...entry, index, notes: tally.setAside[index]! }))
    .filter(({ notes }) => notes > 0);
  if (entries.length === 0) return null;
  return (
    <section>
      <h2 className="mb-1">Set aside</h2>
      <ul>
        {entries.map(({ index, reason, part, notes }) => (
          <li key={index} className="quiet-row flex items-center justify-between gap-2 py-1.5">
            <div className="min-w-0">
              <div className="truncate">{editing.split.parts[part]!.name}</div>
              <div className="text-xs text-muted">
                {notes} notes, {reason}
              </div>
            </div>
            <Button small onClick={() => editing.move({ move: 'bringBack', entry: index })}>
              Bring back
            </Button>
          </li>
        ))}
      </ul>
    </section>
  );
}
