import { X } from 'lucide-react';
import { drumName } from '../../core/midi/gm.ts';
import type { House } from '../../core/normalize/house.ts';
import { Button } from '../../ui/Button.tsx';
import type { SetHouse } from './set-house.ts';

/** Which keys of the kit are kept as which others: one drum map for the whole library, General MIDI's where nothing is said. */
export function DrumMap({ pairs, set }: { pairs: House['drumMap']; set: SetHouse }) {
  const change = (next: House['drumMap']) => set((old) => ({ ...old, drumMap: next }), 'drum map');
  const free = KEYS.find((key) => !pairs.some(([from]) => from === key))!;
  return (
    <section aria-label="Drum map" className="grid gap-1">
      <h2 className="text-lg">Drum map</h2>
      {pairs.length === 0 && (
        <p className="text-sm text-muted">Kits stand on the keys of General MIDI, all of them as played.</p>
      )}
      {pairs.map(([from, to], i) => (
        <div key={from} className="flex items-center gap-1.5 text-sm">
          <KeyChoice
            label="This key"
            value={from}
            without={pairs.map(([other]) => other).filter((other) => other !== from)}
            onValue={(key) => change(pairs.with(i, [key, to]))}
          />
          <span className="text-muted">kept as</span>
          <KeyChoice
            label="That key"
            value={to}
            without={[]}
            onValue={(key) => change(pairs.with(i, [from, key]))}
          />
          <button
            type="button"
            aria-label={`Remove ${keyWords(from)}`}
            className="flex size-6 items-center justify-center rounded-[3px] text-muted hover:bg-sunk hover:text-ink"
            onClick={() => change(pairs.filter((_, at) => at !== i))}
          >
            <X size={13} />
          </button>
        </div>
      ))}
      <div>
        <Button small onClick={() => change([...pairs, [free, 36]])}>
          Keep a key as another
        </Button>
      </div>
    </section>
  );
}

const KEYS = Array.from({ length: 53 }, (_, i) => 35 + i);

function keyWords(key: number): string {
  return `${key} ${drumName(key) ?? ''}`.trim();
}

function KeyChoice({
  label,
  value,
  without,
  onValue,
}: {
  label: string;
  value: number;
  without: readonly number[];
  onValue: (key: number) => void;
}) {
  return (
    <select
      aria-label={label}
      className="field h-7 w-36"
      value={value}
      onChange={({ target }) => onValue(Number(target.value))}
    >
      {KEYS.filter((key) => !without.includes(key)).map((key) => (
        <option key={key} value={key}>
          {keyWords(key)}
        </option>
      ))}
    </select>
  );
}
