import { Play } from 'lucide-react';
import { ProgramOptions } from '../../ui/ProgramOptions.tsx';
import { Button } from '../../ui/Button.tsx';
import type { BarRange } from './strand-columns.ts';

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
    <div className="grid gap-2 border-t border-rule pt-3">
      <div className="flex items-center gap-2">
        <label className="flex items-center gap-1.5">
          Bars
          <input
            type="number"
            className="field w-13 px-1.5"
            min={1}
            max={bars}
            value={range?.start ?? ''}
            placeholder="1"
            onChange={(event) =>
              set(Number(event.target.value), Number(event.target.value) + (range?.count ?? 4) - 1)
            }
          />
        </label>
        <label className="flex items-center gap-1.5">
          to
          <input
            type="number"
            className="field w-13 px-1.5"
            min={range?.start ?? 1}
            max={bars}
            value={range ? end : ''}
            placeholder={String(bars)}
            onChange={(event) => set(range?.start ?? 1, Number(event.target.value))}
          />
        </label>
      </div>
      <div className="flex items-center gap-3">
        <Button onClick={onListen}>
          <Play size={13} aria-hidden="true" /> Listen
        </Button>
        <label className="flex items-center gap-1.5 text-sm text-muted">
          <input
            type="checkbox"
            checked={withOthers}
            onChange={(event) => onWithOthers(event.target.checked)}
          />
          the others under it
        </label>
      </div>
      <label className="flex items-center gap-2 text-sm text-muted">
        on
        <select
          className="field h-7 min-w-0 flex-1 text-sm"
          aria-label="Sound on which the chosen parts are heard"
          value={sound ?? ''}
          onChange={({ target: { value } }) => onSound(value === '' ? null : Number(value))}
        >
          <option value="">their own sound</option>
          <ProgramOptions />
        </select>
      </label>
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
