import { SelectField } from '../../../ui/fields/SelectField.tsx';
import { METERS, meterName, parseMeter } from '../../../core/music/meters.ts';
import type { WeaveSection } from '../../../core/weave/weave.ts';
import { readOrWhy } from '../../../core/through/sounding.ts';
import { Button } from '../../../ui/Button.tsx';
import { KeyOptions } from '../../../ui/fields/KeyOptions.tsx';
import { Labeled } from '../../../ui/fields/Labeled.tsx';
import { NumberField } from '../../../ui/fields/NumberField.tsx';
import { NameField } from './NameField.tsx';

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
      <NameField label="Section" value={section.name} onChange={(name) => onEdit({ name }, 'name')} />
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
        <SelectField
          label="Key from here"
          value={section.key}
          onChange={(value) => onEdit({ key: value }, 'key')}
        >
          <KeyOptions none="as before" />
        </SelectField>
        <SelectField
          label="Meter from here"
          value={section.meter ? meterName(section.meter) : ''}
          onChange={(value) => onEdit({ meter: value ? parseMeter(value) : null }, 'meter')}
        >
          <option value="">as before</option>
          {METERS.map((meter) => (
            <option key={meter}>{meter}</option>
          ))}
        </SelectField>
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
