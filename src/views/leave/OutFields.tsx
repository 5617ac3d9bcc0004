import { type ControllersOut, type KitOut, type OutOptions } from '../../core/exchange/out-options.ts';
import {
  AS_WORDS,
  FITTING_WORDS,
  FormatField,
  KEY_WORDS,
  TicksField,
} from '../shared/leaving/file-fields.tsx';
import { Checkbox } from '../../ui/fields/Checkbox.tsx';
import { ChoiceField, SelectField } from '../../ui/fields/SelectField.tsx';

const KIT: Readonly<Record<KitOut, string>> = {
  whole: 'whole',
  tracks: 'a track a piece',
  files: 'a file a piece',
};

const CONTROLLERS: Readonly<Record<ControllersOut, string>> = {
  all: 'all of them',
  'pedal and bend': 'pedal and bend',
  none: 'none',
};

/** How something leaves. What cannot be chosen for it says so by being shut. */
export function OutFields({
  out,
  hasProject,
  hasOwnKey,
  hasRecipient,
  isRead,
  onChange,
}: {
  out: OutOptions;
  hasProject: boolean;
  /** It stands in a key of its own, and leaves in it: a weave does. */
  hasOwnKey: boolean;
  hasRecipient: boolean;
  /** It leaves as a sheet, for which its key alone is to be chosen. */
  isRead: boolean;
  onChange: (out: OutOptions) => void;
}) {
  const set = (change: Partial<OutOptions>) => onChange({ ...out, ...change });
  const key = (
    <ChoiceField
      label="Key"
      words={KEY_WORDS}
      value={hasOwnKey ? 'captured' : out.key}
      shut={hasOwnKey ? ['project', 'kept'] : hasProject ? [] : ['project']}
      onChange={(chosen) => set({ key: chosen })}
    />
  );
  if (isRead) return key;
  return (
    <div className="grid grid-cols-2 gap-x-3 gap-y-1.5">
      <ChoiceField label="As" words={AS_WORDS} value={out.as} onChange={(as) => set({ as })} />
      <ChoiceField label="A kit" words={KIT} value={out.kit} onChange={(kit) => set({ kit })} />
      {key}
      <ChoiceField
        label="Tempo"
        words={{ curve: 'its curve', one: 'one, that of bar one' }}
        value={out.tempo}
        onChange={(tempo) => set({ tempo })}
      />
      <ChoiceField
        label="Fitted"
        words={FITTING_WORDS}
        value={out.fitting === 'card' && !hasRecipient ? 'own' : out.fitting}
        shut={hasRecipient ? [] : ['card']}
        onChange={(fitting) => set({ fitting })}
      />
      <ChoiceField
        label="Sounds"
        words={{ suggested: 'suggested', plain: 'plain: none chosen' }}
        value={out.sounds}
        onChange={(sounds) => set({ sounds })}
      />
      <ChoiceField
        label="Controllers"
        words={CONTROLLERS}
        value={out.controllers}
        onChange={(controllers) => set({ controllers })}
      />
      <SelectField label="Count-in" value={out.countIn} onChange={(bars) => set({ countIn: Number(bars) })}>
        <option value={0}>none</option>
        <option value={1}>one empty bar</option>
        <option value={2}>two empty bars</option>
      </SelectField>
      <TicksField value={out.ppq} open="480, or its recipe's" onChange={(ppq) => set({ ppq })} />
      <FormatField value={out.format} onChange={(format) => set({ format })} />
      <div className="col-span-2">
        <Checkbox
          label="sections and chords as texts"
          title="Markers, which most programs show above the bars"
          on={out.markers}
          onChange={(markers) => set({ markers })}
        />
      </div>
    </div>
  );
}
