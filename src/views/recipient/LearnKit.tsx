import { useEffect, useRef, useState } from 'react';
import type { PitchPair } from '../../core/split/split.ts';
import { askForMidi, listenToStrikes } from '../../devices/hearing.ts';
import { Button } from '../../ui/Button.tsx';
import { keyWords } from '../shared/KeyPairs.tsx';
import type { SetCard } from './set-card.ts';

/** The pieces that are asked for, in this order (General MIDI 1): what most kits have. */
const ASKED = [36, 38, 37, 42, 44, 46, 45, 48, 50, 51, 53, 49, 39, 54] as const;

/** Pads of the simulated kit: it has its pieces on keys of its own. */
const PADS = [24, 26, 28, 29, 31, 33, 35, 36, 38, 40, 41, 43] as const;

/** The keys of somebody's kit, learned by striking its pads: on a device, or on simulated pads. */
export function LearnKit({ pairs, set }: { pairs: readonly PitchPair[]; set: SetCard }) {
  const [at, setAt] = useState<number | null>(null);
  const strike = useRef<(key: number) => void>(() => {});
  strike.current = (key) => {
    if (at === null) return;
    const piece = ASKED[at]!;
    set((old) => ({ ...old, drumMap: learned(old.drumMap, piece, key) }), `the key of ${keyWords(piece)}`);
    next();
  };
  const next = () => setAt((now) => (now === null || now + 1 >= ASKED.length ? null : now + 1));
  const isLearning = at !== null;
  useEffect(() => {
    if (!isLearning) return;
    void askForMidi();
    return listenToStrikes((key) => strike.current(key));
  }, [isLearning]);
  if (at === null)
    return (
      <div>
        <Button small onClick={() => setAt(0)}>
          {pairs.length > 0 ? 'Learn it again by striking its pads' : 'Learn it by striking its pads'}
        </Button>
      </div>
    );
  return (
    <div className="grid gap-2 border-l-3 border-l-madder bg-card p-3">
      <p aria-live="polite">
        Strike the <b>{keyWords(ASKED[at]!).replace(/^\d+ /, '')}</b>{' '}
        <span className="text-sm text-muted">
          {at + 1} of {ASKED.length}
        </span>
      </p>
      <div className="grid w-fit grid-cols-6 gap-1" aria-label="Simulated pads">
        {PADS.map((key) => (
          <button
            key={key}
            type="button"
            className="h-8 w-12 rounded-[3px] border border-rule bg-paper text-sm hover:border-ink"
            title={`A simulated pad on key ${key}`}
            onClick={() => strike.current(key)}
          >
            {key}
          </button>
        ))}
      </div>
      <div className="flex gap-2">
        <Button small onClick={next}>
          They have none
        </Button>
        <Button small kind="quiet" onClick={() => setAt(null)}>
          Enough
        </Button>
      </div>
    </div>
  );
}

/** A map in which a piece is on a key; what is on its own key need not be said. */
function learned(pairs: readonly PitchPair[], piece: number, key: number): PitchPair[] {
  const others = pairs.filter(([from]) => from !== piece);
  return key === piece ? others : [...others, [piece, key] as const].sort(([a], [b]) => a - b);
}
