import { X } from 'lucide-react';
import { drumName } from '../../core/midi/gm.ts';
import type { PitchPair } from '../../core/split/split.ts';
import { Button } from '../../ui/Button.tsx';

/** The keys of a kit that pads and grooves are on: General MIDI's and some around them. */
const KEYS = Array.from({ length: 104 }, (_, i) => 12 + i);

/** Keys of a kit that stand for others: the pieces of one map on the keys of another. */
export function KeyPairs({
  pairs,
  between,
  add,
  onChange,
}: {
  pairs: readonly PitchPair[];
  /** What stands between the two, such as "kept as". */
  between: string;
  /** What adds one, such as "Keep a key as another". */
  add: string;
  onChange: (pairs: PitchPair[]) => void;
}) {
  const free = KEYS.find((key) => key >= 35 && !pairs.some(([from]) => from === key))!;
  return (
    <>
      {pairs.map(([from, to], i) => (
        <div key={from} className="flex items-center gap-1.5 text-sm">
          <KeyChoice
            label="This key"
            value={from}
            without={pairs.map(([other]) => other).filter((other) => other !== from)}
            onValue={(key) => onChange(pairs.with(i, [key, to]))}
          />
          <span className="text-muted">{between}</span>
          <KeyChoice
            label="That key"
            value={to}
            without={[]}
            onValue={(key) => onChange(pairs.with(i, [from, key]))}
          />
          <button
            type="button"
            aria-label={`Remove ${keyWords(from)}`}
            className="flex size-6 items-center justify-center rounded-[3px] text-muted hover:bg-sunk hover:text-ink"
            onClick={() => onChange(pairs.filter((_, at) => at !== i))}
          >
            <X size={13} />
          </button>
        </div>
      ))}
      <div>
        <Button small onClick={() => onChange([...pairs, [free, 36]])}>
          {add}
        </Button>
      </div>
    </>
  );
}

/** A key of the kit by its number and, where General MIDI has one, its name. */
export function keyWords(key: number): string {
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
