import { Play, Square } from 'lucide-react';
import { Link } from 'react-router';
import type { Fate, MergeWay } from '../../core/exchange/merge.ts';
import type { MergeRow } from '../../server/library/handoff/merging.ts';
import { RoleMark } from '../../ui/drawing/RoleMark.tsx';
import { Swatch } from '../../ui/drawing/Swatch.tsx';
import { theirsId } from './hear.ts';
import { FATE_WORDS, WAY_WORDS } from './words.ts';

const COLUMNS =
  'grid grid-cols-[172px_minmax(130px,1fr)_132px_minmax(150px,1.3fr)_118px_196px] items-center gap-x-3';

/** What asks for a decision stands out; what is as it was steps back. */
const WEIGHT: Readonly<Record<Fate, string>> = {
  same: 'text-muted',
  'theirs changed': 'font-bold',
  'ours changed': '',
  'both changed': 'font-bold text-madder',
  new: 'font-bold',
  'not sent back': 'text-muted',
};

/** The phrases of a pack: ours hollow, theirs solid, what is otherwise, both to be heard, and what is done with each. */
export function MergeList({
  rows,
  chosen,
  sounding,
  wayOf,
  onChoose,
  onWay,
  onHearTheirs,
  onHearOurs,
}: {
  rows: readonly MergeRow[];
  chosen: string | undefined;
  /** Id of what sounds. */
  sounding: string | undefined;
  wayOf: (row: MergeRow) => MergeWay;
  onChoose: (id: string) => void;
  onWay: (id: string, way: MergeWay) => void;
  onHearTheirs: (row: MergeRow) => void;
  onHearOurs: (id: string) => void;
}) {
  return (
    <div className="min-h-0 flex-1 overflow-auto">
      <div
        className={`${COLUMNS} sticky top-0 z-10 border-b border-l-3 border-rule border-l-transparent bg-paper pb-1 pl-2 text-sm text-muted`}
      >
        <span>Ours hollow, theirs solid</span>
        <span>Phrase</span>
        <span>It is</span>
        <span>What is otherwise</span>
        <span>Hear</span>
        <span>It is to be</span>
      </div>
      <ul>
        {rows.map((row) => (
          <li
            key={row.id}
            aria-current={row.id === chosen}
            onClick={() => onChoose(row.id)}
            className={`${COLUMNS} min-h-11 border-b border-l-3 border-b-thread py-1 pl-2 ${row.id === chosen ? 'border-l-madder bg-card' : 'border-l-transparent hover:bg-card'}`}
          >
            <Pictures row={row} />
            <span className="min-w-0">
              <span className="block truncate font-bold">
                {row.ours ? <Link to={`/normalize/${row.ours.id}`}>{row.ours.name}</Link> : row.name}
              </span>
              <span className="text-sm text-muted">
                <RoleMark role={row.role} />
              </span>
            </span>
            <span className={`text-sm ${WEIGHT[row.fate]}`}>{FATE_WORDS[row.fate]}</span>
            <span className="min-w-0 text-sm">
              {row.text}
              {row.tags.length > 0 && (
                <span className="block text-muted">and tagged {row.tags.join(', ')}</span>
              )}
            </span>
            <span className="flex gap-1">
              {row.theirs && (
                <Hear
                  label={`Hear ${row.name} as it came`}
                  text="theirs"
                  on={sounding === theirsId(row)}
                  onClick={() => onHearTheirs(row)}
                />
              )}
              {row.ours && (
                <Hear
                  label={`Hear our ${row.ours.name}`}
                  text="ours"
                  on={sounding === `phrase ${row.ours.id}`}
                  onClick={() => onHearOurs(row.ours!.id)}
                />
              )}
            </span>
            {row.ways.length > 1 ? (
              <select
                className="field h-8 w-full text-sm"
                aria-label={`What is done with ${row.name}`}
                value={wayOf(row)}
                onChange={({ target }) => onWay(row.id, target.value as MergeWay)}
              >
                {row.ways.map((way) => (
                  <option key={way} value={way}>
                    {row.fate === 'new' ? NEW_WORDS[way] : WAY_WORDS[way]}
                  </option>
                ))}
              </select>
            ) : (
              <span className="text-sm text-muted">left as it is</span>
            )}
          </li>
        ))}
      </ul>
    </div>
  );
}

const NEW_WORDS: Partial<Record<MergeWay, string>> = { both: 'taken', ours: 'left' };

function Pictures({ row: { ours, theirs, fate, role, bars } }: { row: MergeRow }) {
  const size = { role, bars, width: 168, height: 34 };
  // What is the same is drawn once.
  const under = fate === 'same' ? undefined : ours?.swatch;
  if (theirs !== null) return <Swatch notes={theirs} under={under} {...size} />;
  return ours ? <Swatch notes="" under={ours.swatch} {...size} /> : <span />;
}

function Hear({
  label,
  text,
  on,
  onClick,
}: {
  label: string;
  text: string;
  on: boolean;
  onClick: () => void;
}) {
  const Icon = on ? Square : Play;
  return (
    <button
      type="button"
      title={label}
      aria-label={`${label}: ${text}`}
      className="inline-flex h-6 items-center gap-1 rounded-[3px] border border-rule bg-card px-1.5 text-xs hover:border-ink"
      onClick={onClick}
    >
      <Icon size={10} aria-hidden="true" fill={on ? 'currentColor' : 'none'} /> {text}
    </button>
  );
}
