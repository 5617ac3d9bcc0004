import { useId } from 'react';
import { KeyOptions } from '../../../ui/KeyOptions.tsx';
import { useSources } from '../../api/queries.ts';
import type { Known } from './known.ts';

/** Where takes come from and whose they are. */
export function OriginFields({ known, onChange }: { known: Known; onChange: (known: Known) => void }) {
  const { data: sources } = useSources();
  const list = useId();
  const field = (name: keyof Known, label: string, more: { list?: string; placeholder?: string } = {}) => (
    <label className="grid gap-1">
      <span className="label">{label}</span>
      <input
        className="field w-full"
        maxLength={200}
        value={known[name]}
        onChange={(event) => onChange({ ...known, [name]: event.target.value })}
        {...more}
      />
    </label>
  );
  return (
    <>
      {field('source', 'Where they come from (a device, a program, a folder)', { list })}
      <datalist id={list}>
        {sources?.map((source) => (
          <option key={source} value={source} />
        ))}
      </datalist>
      <div className="grid grid-cols-2 gap-2">
        {field('contributor', 'Whose they are')}
        {field('rights', 'Rights', { placeholder: 'own work' })}
      </div>
    </>
  );
}

/** What the source was asked to play: it is held against what came. */
export function AskedFields({ known, onChange }: { known: Known; onChange: (known: Known) => void }) {
  const number = (name: 'bars' | 'bpm', label: string, min: number, max: number) => (
    <label className="grid gap-1">
      <span className="label">{label}</span>
      <input
        type="number"
        className="field w-full"
        min={min}
        max={max}
        value={known[name]}
        onChange={(event) => onChange({ ...known, [name]: event.target.value })}
      />
    </label>
  );
  return (
    <div className="grid gap-2">
      <label className="grid gap-1">
        <span className="label">Chart asked for</span>
        <input
          className="field"
          maxLength={4000}
          placeholder="Dm | Bb | Gm A7 | Dm"
          value={known.chart}
          onChange={(event) => onChange({ ...known, chart: event.target.value })}
        />
      </label>
      <div className="grid grid-cols-3 gap-2">
        {number('bars', 'Bars', 1, 10_000)}
        {number('bpm', 'BPM', 20, 400)}
        <label className="grid gap-1">
          <span className="label">Key</span>
          <select
            className="field w-full"
            value={known.key}
            onChange={(event) => onChange({ ...known, key: event.target.value })}
          >
            <KeyOptions none="not said" />
          </select>
        </label>
      </div>
    </div>
  );
}
