import { METERS, meterName, parseMeter } from '../../core/music/meters.ts';
import { type WeaveSection } from '../../core/weave/weave.ts';
import { readOrWhy } from '../../core/through/sounding.ts';
import { Button } from '../../ui/Button.tsx';
import { KeyOptions } from '../../ui/KeyOptions.tsx';
import { Labeled } from '../../ui/Labeled.tsx';
import { NumberField } from '../../ui/NumberField.tsx';

/** A section: how long, how often, through which chords. */
export function SectionBox({
  section,
  beats,
  onEdit,
  onRemove,
  onListen,
  onLoop,
  onKeep,
}: {
  section: WeaveSection;
  beats: number;
  onEdit: (change: Partial<WeaveSection>, label: string) => void;
  onRemove: () => void;
  onListen: () => void;
  onLoop: () => void;
  onKeep: () => void;
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
              value={section.meter ? meterName(section.meter) : ''}
              onChange={({ target: { value } }) =>
                onEdit({ meter: value ? parseMeter(value) : null }, 'meter')
              }
            >
              <option value="">as before</option>
              {METERS.map((meter) => (
                <option key={meter}>{meter}</option>
              ))}
            </select>
          )}
        </Labeled>
      </div>
      <div className="flex flex-wrap gap-2">
        <Button small onClick={onListen}>
          Listen from here
        </Button>
        <Button small onClick={onLoop}>
          Listen to it alone
        </Button>
        <Button small onClick={onKeep}>
          Keep the section
        </Button>
        <Button small onClick={onRemove}>
          Take the section out
        </Button>
      </div>
    </section>
  );
}
