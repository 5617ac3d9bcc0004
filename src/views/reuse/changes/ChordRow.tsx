import { chordSymbol } from '../../../core/music/chord.ts';
import type { Key } from '../../../core/music/key.ts';
import { goneRound, type Changes } from '../../../core/through/sounding.ts';

/** Changes over their bars, each chord where it begins; gone round where there are more bars than they have. */
export function ChordRow({
  changes,
  bars,
  beatsPerBar,
  kind,
  label,
  flatsOf,
}: {
  changes: Changes;
  bars: number;
  beatsPerBar: number;
  kind: 'before' | 'after';
  label: string;
  /** The key by which they are spelled. */
  flatsOf: Key | null;
}) {
  const placed = goneRound(changes, { beatsPerBar, bars });
  return (
    <div className="flex items-center gap-2">
      <span className="w-14 flex-none text-right text-xs text-muted">{label}</span>
      <ol className="relative h-6 min-w-0 flex-1" aria-label={`Chords ${label}`}>
        {placed.map(({ beat, chord, symbol }) => (
          <li
            key={beat}
            className={`absolute top-0.5 truncate border-l border-thread-strong pl-1 ${kind === 'before' ? 'text-sm text-muted' : 'font-bold'}`}
            style={{ left: `${(100 * beat) / (bars * beatsPerBar)}%` }}
          >
            {chord ? (kind === 'before' ? chordSymbol(chord, flatsOf) : symbol) : 'N.C.'}
          </li>
        ))}
      </ol>
    </div>
  );
}
