import { useEffect, useState } from 'react';
import type { BassWay } from '../../../core/harmonize/bass.ts';
import { TUNE_SETS, type TuneChanges, type TuneSet } from '../../../core/harmonize/for-tune.ts';
import { chordNumeral, chordSymbol, parseSymbol } from '../../../core/music/chord.ts';
import type { Key } from '../../../core/music/key.ts';
import { Button } from '../../../ui/Button.tsx';

/** What is chosen for a tune: all of it under one history. */
export interface TuneEdit {
  /** As it is written; empty for the tune's own. */
  key: string;
  /** What stands in each slot: which set, or a chord of another. */
  chosen: Readonly<Record<number, string>>;
  set: TuneSet;
  bass: BassWay | 'none';
  /** The groove whose kick the bass goes with; empty where none is chosen. */
  groove: string;
  /** Phrases that go under the tune, through its chords. */
  accompany: readonly string[];
}

/** The three sets as rows of bars: which is taken, and what stands in each bar. */
export function ThreeSets({
  found,
  edit,
  symbols,
  at,
  onSet,
  onSlot,
  onPut,
}: {
  found: TuneChanges;
  edit: TuneEdit;
  symbols: readonly string[];
  at: number;
  onSet: (set: TuneSet) => void;
  onSlot: (slot: number) => void;
  onPut: (slot: number, symbol: string) => void;
}) {
  return (
    <div className="overflow-x-auto">
      <table className="w-full table-fixed border-collapse text-center">
        <thead>
          <tr className="text-xs text-muted">
            <th className="w-24" />
            {found.sets.plain.map(({ bar, beat }) => (
              <th key={`${bar} ${beat}`} scope="col" className="font-normal">
                {beat === 1 ? bar : ''}
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          {TUNE_SETS.map((name) => (
            <tr key={name} className={edit.set === name ? 'font-bold' : 'text-muted'}>
              <th scope="row" className="pr-2 text-left font-normal">
                <Button
                  small
                  kind={edit.set === name ? 'primary' : 'plain'}
                  aria-pressed={edit.set === name}
                  onClick={() => onSet(name)}
                >
                  {name}
                </Button>
              </th>
              {found.sets[name].map((slot, k) => {
                const symbol = edit.set === name ? symbols[k]! : slot.symbol;
                const isHere = edit.set === name && at === k;
                return (
                  <td key={`${slot.bar} ${slot.beat}`} className="border border-rule p-0">
                    <button
                      type="button"
                      className={`h-10 w-full truncate ${isHere ? 'bg-select outline-2 -outline-offset-2 outline-ink' : 'hover:bg-sunk'}`}
                      title={edit.set === name ? slot.roman : `Take ${slot.symbol} of the ${name} set here`}
                      aria-label={`Bar ${slot.bar}, ${name}: ${symbol}`}
                      onClick={() => {
                        onSlot(k);
                        if (edit.set !== name) onPut(k, slot.symbol);
                      }}
                    >
                      {symbol}
                    </button>
                  </td>
                );
              })}
            </tr>
          ))}
        </tbody>
      </table>
    </div>
  );
}

/** What stands in a bar, what else would do, and any other chord by its symbol. */
export function SlotChoices({
  slot,
  symbol,
  keyIn,
  onPut,
}: {
  slot: TuneChanges['sets']['plain'][number];
  symbol: string;
  keyIn: Key;
  onPut: (symbol: string) => void;
}) {
  const [text, setText] = useState(symbol);
  useEffect(() => setText(symbol), [symbol]);
  const chord = parseSymbol(text);
  return (
    <form
      className="flex flex-wrap items-center gap-2 text-sm"
      onSubmit={(event) => {
        event.preventDefault();
        if (chord) onPut(chordSymbol(chord, keyIn));
      }}
    >
      <span className="text-muted">
        Bar {slot.bar}
        {slot.beat > 1 ? `, beat ${slot.beat}` : ''}
      </span>
      <input
        className="field h-7 w-24 font-bold"
        aria-label="Chord of this bar"
        aria-invalid={!chord}
        spellCheck={false}
        value={text}
        onChange={({ target }) => setText(target.value)}
      />
      <Button small type="submit" disabled={!chord || text === symbol}>
        Take it
      </Button>
      {chord ? (
        <span className="text-muted">{chordNumeral(chord, keyIn)}</span>
      ) : (
        <span className="text-madder">This is not a chord symbol that is understood.</span>
      )}
      <span className="ml-3 text-muted">also</span>
      {slot.next.map((other, k) => (
        <Button small key={other} title={`Key ${k + 1}`} onClick={() => onPut(other)}>
          {other}
        </Button>
      ))}
    </form>
  );
}
