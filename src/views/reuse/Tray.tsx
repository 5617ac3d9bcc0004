import { RICHNESS, trayOf, TRAY_GROUPS, type TrayChord } from '../../core/harmonize/tray.ts';
import { layLine, lineChord, type LineChord } from '../../core/harmonize/line.ts';
import type { Key } from '../../core/music/key.ts';
import { useMemo } from 'react';
import { PUT_TITLES, PUTS, type Put } from './changes/changes-edit.ts';

const GROUP_TITLES = { rest: 'At rest', way: 'On the way', pull: 'Pulling' } as const;

/** The chords of a key by what they do next; borrowed ones are hatched. Each tells how the library goes there, and how far the voices move. */
export function Tray({
  keyIn,
  before,
  moves,
  put,
  onPut,
  onChord,
}: {
  keyIn: Key;
  /** What sounds before: the chosen chord. */
  before: LineChord | undefined;
  /** How often the library goes from one numeral to the next. */
  moves: ReadonlyMap<string, number>;
  put: Put;
  onPut: (put: Put) => void;
  onChord: (chord: TrayChord) => void;
}) {
  const tray = useMemo(() => trayOf(keyIn), [keyIn]);
  const numeral = tray.find(({ symbol }) => symbol === before?.symbol)?.numeral;
  const distance = useMemo(() => {
    if (!before || before.symbol === '') return new Map<string, number>();
    return new Map(
      tray.map(({ symbol }) => [symbol, layLine([before, lineChord(symbol, before.beats)])[1]!.move ?? 0]),
    );
  }, [tray, before]);
  const most = Math.max(1, ...tray.map((one) => moves.get(`${numeral} ${one.numeral}`) ?? 0));
  return (
    <section aria-label="Chords of the key" className="min-h-0 flex-1 overflow-auto">
      <div className="mb-1 flex items-baseline gap-3 text-sm">
        <h2 className="text-base">Chords of the key</h2>
        <span className="text-muted">a chord goes</span>
        <div role="group" aria-label="Where a chord goes" className="flex gap-3">
          {PUTS.map((one) => (
            <label key={one} className="flex min-h-6 items-center gap-1">
              <input type="radio" name="put" checked={put === one} onChange={() => onPut(one)} />
              {PUT_TITLES[one]}
            </label>
          ))}
        </div>
        <span className="ml-auto text-xs text-muted">
          hatched: borrowed; the line below: how often the library goes there
        </span>
      </div>
      <div className="grid grid-cols-3 gap-x-5">
        {TRAY_GROUPS.map((group) => (
          <div key={group}>
            <h3 className="border-b border-rule text-sm text-muted">{GROUP_TITLES[group]}</h3>
            {[...RICHNESS, 'borrowed' as const].map((row) => {
              const chords = tray.filter(
                (one) =>
                  one.group === group &&
                  (row === 'borrowed'
                    ? one.borrowed !== null
                    : one.borrowed === null && one.richness === row),
              );
              return (
                chords.length > 0 && (
                  <div key={row} className="mt-1.5 flex flex-wrap gap-1" aria-label={row} role="group">
                    {chords.map((one) => (
                      <Chip
                        key={one.symbol}
                        chord={one}
                        distance={distance.get(one.symbol)}
                        share={(moves.get(`${numeral} ${one.numeral}`) ?? 0) / most}
                        count={moves.get(`${numeral} ${one.numeral}`) ?? 0}
                        onClick={() => onChord(one)}
                      />
                    ))}
                  </div>
                )
              );
            })}
          </div>
        ))}
      </div>
    </section>
  );
}

function Chip({
  chord: { symbol, numeral, borrowed },
  distance,
  share,
  count,
  onClick,
}: {
  chord: TrayChord;
  distance: number | undefined;
  share: number;
  count: number;
  onClick: () => void;
}) {
  const told = [
    numeral,
    borrowed && `borrowed: ${borrowed}`,
    distance !== undefined && `its voices move ${distance}`,
    count > 0 && `the library goes there ${count} times`,
  ].filter(Boolean);
  return (
    <button
      type="button"
      title={told.join('; ')}
      className={`relative min-w-13 rounded-[3px] border border-rule px-1.5 pt-0.5 pb-1.5 text-left hover:border-ink ${borrowed ? 'hatched' : 'bg-card'}`}
      onClick={onClick}
    >
      <span className="block leading-tight font-bold">{symbol}</span>
      <span className="flex justify-between gap-1.5 text-xs leading-tight text-muted tabular-nums">
        <span>{numeral}</span>
        {distance !== undefined && <span>{distance}</span>}
      </span>
      {share > 0 && (
        <span
          aria-hidden="true"
          className="absolute bottom-0.5 left-1.5 h-0.5 bg-madder"
          style={{ width: `calc(${Math.round(100 * share)}% - 12px)`, minWidth: 2 }}
        />
      )}
    </button>
  );
}
