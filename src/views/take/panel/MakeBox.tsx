import { Play } from 'lucide-react';
import { ProgramOptions } from '../../../ui/fields/ProgramOptions.tsx';
import { Button } from '../../../ui/Button.tsx';
import { NumberInput } from '../../../ui/fields/NumberInput.tsx';
import type { BarRange } from '../../shared/takes/strand-columns.ts';

/** The chosen bars: by number, to listen to, and to make a phrase or a sheaf of. */
export function MakeBox({
  range,
  onRange,
  bars,
  parts,
  withOthers,
  onWithOthers,
  sound,
  onSound,
  onListen,
  onMake,
  busy,
}: {
  range: BarRange | null;
  onRange: (range: BarRange | null) => void;
  /** Bars of the take. */
  bars: number;
  /** Number of parts chosen. */
  parts: number;
  withOthers: boolean;
  onWithOthers: (on: boolean) => void;
  /** GM program 0..127 on which the chosen parts are heard; null for their own. */
  sound: number | null;
  onSound: (sound: number | null) => void;
  onListen: () => void;
  onMake: () => void;
  busy: boolean;
}) {
  const set = (from: number, to: number) => {
    const start = Math.min(Math.max(1, from || 1), bars);
    onRange({ start, count: Math.min(Math.max(start, to || start), bars) - start + 1 });
  };
  const end = range ? range.start + range.count - 1 : 0;
  return (
    <div className="sticky bottom-0 -mx-4 grid gap-2 border-t border-rule bg-paper px-4 pt-3 pb-4">
      <div className="flex items-center gap-1.5">
        <label className="flex items-center gap-1">
          Bars
          <NumberInput
            className="field w-11 px-1"
            min={1}
            max={bars}
            value={range?.start ?? null}
            empty="1"
            onValue={(start) =>
              start === null ? onRange(null) : set(start, start + (range?.count ?? 4) - 1)
            }
          />
        </label>
        <label className="flex items-center gap-1">
          to
          <NumberInput
            className="field w-11 px-1"
            min={range?.start ?? 1}
            max={bars}
            value={range ? end : null}
            empty={String(bars)}
            onValue={(to) => (to === null ? onRange(null) : set(range?.start ?? 1, to))}
          />
        </label>
        <Button className="ml-auto px-1.5" onClick={onListen}>
          <Play size={13} aria-hidden="true" /> Listen
        </Button>
      </div>
      <div className="flex items-center gap-2 text-sm text-muted">
        <label
          className="flex flex-none items-center gap-1.5"
          title="The chosen parts over the others, softer (U)"
        >
          <input
            type="checkbox"
            checked={withOthers}
            onChange={(event) => onWithOthers(event.target.checked)}
          />
          over the others
        </label>
        <select
          className="field h-7 min-w-0 flex-1 text-sm"
          aria-label="Sound on which the chosen parts are heard"
          value={sound ?? ''}
          onChange={({ target: { value } }) => onSound(value === '' ? null : Number(value))}
        >
          <option value="">their own sound</option>
          <ProgramOptions />
        </select>
      </div>
      <Button
        kind="primary"
        className="h-9"
        title={range ? undefined : 'Drag over a strand, or use the arrow keys'}
        disabled={!range || parts === 0 || busy}
        onClick={onMake}
      >
        {!range || parts === 0
          ? 'Choose bars to make a phrase'
          : parts > 1
            ? `Make a sheaf of ${parts} parts`
            : 'Make a phrase of it'}
      </Button>
    </div>
  );
}
