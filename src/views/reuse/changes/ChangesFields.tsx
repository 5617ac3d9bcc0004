import { keyLabel } from '../../../core/music/key.ts';
import { tonicChord, writtenChanges } from '../../../core/reuse/child.ts';
import type { Changes } from '../../../core/through/sounding.ts';
import { Button } from '../../../ui/Button.tsx';
import { KeyOptions } from '../../../ui/fields/KeyOptions.tsx';
import { useKeptChanges, type PhraseWire } from '../../api/queries.ts';
import { useCurrentProject } from '../../shared/project.ts';
import { isRead, type ThroughEdit } from '../through/through-edit.ts';

/** The chords they were played over, and those they go through: written, the project's, or some that were kept. */
export function ChangesFields({
  edit,
  set,
  read,
  lead,
}: {
  edit: ThroughEdit;
  set: (change: (now: ThroughEdit) => ThroughEdit, label: string) => void;
  read: { from: Changes | string; to: Changes | string };
  lead: PhraseWire;
}) {
  const project = useCurrentProject();
  const { data: kept = [] } = useKeptChanges();
  const tonic = tonicChord(lead.takeKey);
  return (
    <div className="grid grid-cols-[auto_1fr_auto] items-center gap-x-2 gap-y-1.5 text-sm">
      <label className="text-muted" htmlFor="played-over">
        Played over
      </label>
      {edit.from === null ? (
        <span id="played-over" className="text-muted">
          each its own chords
        </span>
      ) : typeof edit.from !== 'string' ? (
        <span id="played-over" className="truncate">
          {edit.from.map(({ symbol }) => symbol || 'N.C.').join('  ')}
        </span>
      ) : (
        <ChartInput
          id="played-over"
          value={edit.from}
          placeholder="no chords are known: write them"
          isRead={isRead(read.from)}
          onChange={(value) => set((old) => ({ ...old, from: value }), 'chords before')}
        />
      )}
      <Button
        small
        className="justify-self-start"
        title="As if one chord sounded throughout"
        onClick={() => set((old) => ({ ...old, from: tonic }), 'one chord throughout')}
      >
        One chord: {tonic}
      </Button>
      <label className="text-muted" htmlFor="goes-through">
        Through
      </label>
      <ChartInput
        id="goes-through"
        isBold
        value={edit.to}
        placeholder="Eb | Cm Ab | Bb7 | Eb"
        isRead={isRead(read.to)}
        onChange={(value) => set((old) => ({ ...old, to: value }), 'chords')}
      />
      <div className="flex gap-1.5">
        {project?.chords && (
          <Button
            small
            onClick={() => set((old) => ({ ...old, to: project.chords }), "the project's chords")}
          >
            {project.name}'s
          </Button>
        )}
        {kept.length > 0 && (
          <select
            className="h-6 w-36 rounded-[3px] border border-rule bg-card px-1 text-xs"
            aria-label="Kept changes"
            value=""
            onChange={({ target: { value } }) => {
              const one = kept.find(({ id }) => id === value);
              const chart = one && writtenChanges(one.chords, one.meterNumerator);
              if (typeof chart === 'string')
                set(
                  (old) => ({
                    ...old,
                    to: chart,
                    key: keyLabel({ tonic: one!.keyTonic, mode: one!.keyMode }),
                  }),
                  'kept changes',
                );
            }}
          >
            <option value="">Kept changes ...</option>
            {kept.map(({ id, name }) => (
              <option key={id} value={id}>
                {name}
              </option>
            ))}
          </select>
        )}
        <select
          className="h-6 w-28 rounded-[3px] border border-rule bg-card px-1 text-xs"
          aria-label="Key of the chords"
          value={edit.key}
          onChange={({ target: { value } }) => set((old) => ({ ...old, key: value }), 'key')}
        >
          <KeyOptions none="key as found" />
        </select>
      </div>
      {[read.from, read.to].filter((one) => typeof one === 'string').length > 0 && (
        <p className="col-span-3 text-madder" role="alert">
          {!isRead(read.from) ? `Played over: ${read.from}` : `Through: ${read.to as string}`}
        </p>
      )}
    </div>
  );
}

/** A chart as it is typed. */
function ChartInput({
  id,
  value,
  placeholder,
  isRead: reads,
  isBold = false,
  onChange,
}: {
  id: string;
  value: string;
  placeholder: string;
  isRead: boolean;
  isBold?: boolean;
  onChange: (value: string) => void;
}) {
  return (
    <input
      id={id}
      className={`field h-7 ${isBold ? 'font-bold' : ''}`}
      spellCheck={false}
      value={value}
      placeholder={placeholder}
      aria-invalid={!reads}
      onChange={({ target }) => onChange(target.value)}
    />
  );
}
