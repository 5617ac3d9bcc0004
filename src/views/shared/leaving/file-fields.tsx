import {
  PPQS_OUT,
  type FittingOut,
  type OutAs,
  type OutOptions,
  type PackLayout,
} from '../../../core/exchange/out-options.ts';
import type { KeyChoice } from '../../../core/reuse/in-project.ts';
import { SelectField } from '../../../ui/fields/SelectField.tsx';

/** What is said of files in the same words for what leaves and for who gets it. */
export const AS_WORDS: Readonly<Record<OutAs, string>> = {
  one: 'one file of all',
  each: 'a file a part',
  both: 'both',
};

export const KEY_WORDS: Readonly<Record<KeyChoice, string>> = {
  captured: 'as captured',
  project: 'in the project',
  kept: 'as kept in the library',
};

export const FITTING_WORDS: Readonly<Record<FittingOut, string>> = {
  plain: 'to nothing: as played',
  own: 'to its own sound',
  card: 'to what they have',
};

export const LAYOUT_WORDS: Readonly<Record<PackLayout, string>> = {
  folders: 'in folders by meter and role',
  sections: 'in folders by section',
  headings: 'in folders by heading',
  flat: 'side by side',
};

/** A track each, or all on one. */
export function FormatField({
  value,
  onChange,
}: {
  value: OutOptions['format'];
  onChange: (format: OutOptions['format']) => void;
}) {
  return (
    <SelectField label="MIDI format" value={value} onChange={(format) => onChange(format === '0' ? 0 : 1)}>
      <option value={1}>1, a track each</option>
      <option value={0}>0, all on one track</option>
    </SelectField>
  );
}

/** Ticks a quarter note; `open` says what null means. */
export function TicksField({
  value,
  open,
  onChange,
}: {
  value: number | null;
  open: string;
  onChange: (ppq: number | null) => void;
}) {
  return (
    <SelectField
      label="Ticks a quarter note"
      value={value ?? ''}
      onChange={(ppq) => onChange(ppq ? Number(ppq) : null)}
    >
      <option value="">{open}</option>
      {PPQS_OUT.map((ppq) => (
        <option key={ppq} value={ppq}>
          {ppq}
        </option>
      ))}
    </SelectField>
  );
}
