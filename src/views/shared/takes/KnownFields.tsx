import { useId } from 'react';
import { FormSelect, FormText } from '../../../ui/form/form-fields.tsx';
import { KeyOptions } from '../../../ui/fields/KeyOptions.tsx';
import { useSources } from '../../api/queries.ts';

/** Fields of a form over `knownSchema`. */

/** Where takes come from and whose they are. */
export function OriginFields() {
  const { data: sources } = useSources();
  const list = useId();
  return (
    <>
      <FormText
        name="source"
        label="Where they come from (a device, a program, a folder)"
        maxLength={200}
        list={list}
      />
      <datalist id={list}>
        {sources?.map((source) => (
          <option key={source} value={source} />
        ))}
      </datalist>
      <div className="grid grid-cols-2 gap-2">
        <FormText name="contributor" label="Whose they are" maxLength={200} />
        <FormText name="rights" label="Rights" maxLength={200} placeholder="own work" />
      </div>
    </>
  );
}

/** What the source was asked to play: it is held against what came. */
export function AskedFields() {
  return (
    <div className="grid gap-2">
      <FormText name="chart" label="Chart asked for" maxLength={4000} placeholder="Dm | Bb | Gm A7 | Dm" />
      <div className="grid grid-cols-3 gap-2">
        <FormText name="bars" label="Bars" type="number" min={1} max={10_000} />
        <FormText name="bpm" label="BPM" type="number" min={20} max={400} step="any" />
        <FormSelect name="key" label="Key">
          <KeyOptions none="not said" />
        </FormSelect>
      </div>
    </div>
  );
}
