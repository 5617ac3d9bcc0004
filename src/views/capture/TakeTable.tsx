import { TriangleAlert } from 'lucide-react';
import { Link, useNavigate } from 'react-router';
import { guessWords } from '../../core/capture/name-guess.ts';
import { keyLabel } from '../../core/music/key.ts';
import { RoleMark } from '../../ui/RoleMark.tsx';
import { clockTime } from '../../ui/time.ts';
import { useVirtualRows } from '../../ui/virtual-rows.ts';
import type { TakeRowWire } from '../api/queries.ts';
import { isClean } from '../shared/takes/keep.ts';
import { KeepButton } from '../shared/takes/KeepButton.tsx';

const ROW = 45;
const COLUMNS = 11;

/** All takes; only the rows in sight are drawn, however many there are. */
export function TakeTable({
  takes,
  total,
  current,
  chosen,
  onCurrent,
  onChoose,
  onChooseAll,
  onEnd,
}: {
  takes: readonly TakeRowWire[];
  total: number;
  current: string | undefined;
  chosen: ReadonlySet<string>;
  onCurrent: (id: string) => void;
  onChoose: (id: string, others: boolean) => void;
  onChooseAll: () => void;
  /** The end of what is loaded comes into sight. */
  onEnd: () => void;
}) {
  const { scroller, items, height } = useVirtualRows(takes, {
    height: ROW,
    overscan: 10,
    current,
    headHeight: 32,
    onEnd,
    place: 'takes',
  });
  const before = items[0]?.start ?? 0;
  const after = height - (items.at(-1)?.end ?? 0);
  const all = chosen.size > 0 && takes.every(({ id }) => chosen.has(id));
  return (
    <div ref={scroller} className="-mx-2 min-h-0 flex-1 overflow-auto px-2">
      <table className="w-full border-collapse" aria-rowcount={total}>
        <thead className="sticky top-0 z-10 bg-paper text-left text-sm text-muted">
          <tr className="border-b border-rule">
            <th className="w-9 py-1.5 pl-[7px]">
              <input
                type="checkbox"
                className="block size-5 accent-[var(--indigo)]"
                aria-label="Choose all that are loaded"
                checked={all}
                onChange={onChooseAll}
              />
            </th>
            <th className="pr-3 font-normal">Take</th>
            <th className="px-2 font-normal">Parts</th>
            <th className="px-2 text-right font-normal">Notes</th>
            <th className="px-2 text-right font-normal">Bars</th>
            <th className="px-2 text-right font-normal">Length</th>
            <th className="px-2 text-right font-normal">BPM</th>
            <th className="px-2 font-normal">Meter</th>
            <th className="px-2 font-normal">Key</th>
            <th className="px-2 font-normal">Came as</th>
            <th className="pl-2 text-right font-normal">Phrases</th>
          </tr>
        </thead>
        <tbody>
          <Space height={before} />
          {items.map(({ index: at }) => {
            const take = takes[at]!;
            return (
              <TakeLine
                key={take.id}
                take={take}
                isCurrent={take.id === current}
                isChosen={chosen.has(take.id)}
                onCurrent={onCurrent}
                onChoose={onChoose}
              />
            );
          })}
          <Space height={after} />
        </tbody>
      </table>
    </div>
  );
}

function Space({ height }: { height: number }) {
  return height > 0 ? (
    <tr aria-hidden="true">
      <td colSpan={COLUMNS} style={{ height }} />
    </tr>
  ) : null;
}

function TakeLine({
  take,
  isCurrent,
  isChosen,
  onCurrent,
  onChoose,
}: {
  take: TakeRowWire;
  isCurrent: boolean;
  isChosen: boolean;
  onCurrent: (id: string) => void;
  onChoose: (id: string, others: boolean) => void;
}) {
  const navigate = useNavigate();
  const { facts } = take;
  const key = take.chosenKey ?? take.keys[0];
  const meter = facts.meters[0];
  return (
    <tr
      className={`quiet-row cursor-pointer ${isCurrent ? 'bg-select' : 'hover:bg-card'}`}
      style={{ height: ROW }}
      aria-selected={isChosen}
      onClick={() => onCurrent(take.id)}
      onDoubleClick={() => void navigate(`/split/${take.id}`)}
    >
      <td className={`border-l-3 pr-3 pl-1 ${isCurrent ? 'border-l-madder' : 'border-l-transparent'}`}>
        <input
          type="checkbox"
          className="block size-5 accent-[var(--indigo)]"
          aria-label={`Choose ${take.name}`}
          checked={isChosen}
          onChange={() => {}}
          onClick={(event) => {
            event.stopPropagation();
            onChoose(take.id, event.shiftKey);
          }}
        />
      </td>
      <td className="max-w-0 min-w-48 pr-3" style={{ width: '34%' }}>
        <div className="flex items-center gap-1.5">
          <Link
            to={`/split/${take.id}`}
            className="truncate font-bold"
            onClick={(event) => event.stopPropagation()}
          >
            {take.name}
          </Link>
          <Warnings take={take} />
        </div>
        <div className="truncate text-xs text-muted">{origin(take)}</div>
      </td>
      <td className="px-2">
        <span
          className="flex gap-1"
          title={take.parts.map((part) => `${part.name} (${part.role})`).join(', ')}
        >
          {take.parts.slice(0, 8).map((part, i) => (
            <RoleMark key={i} role={part.role} bare />
          ))}
          <span className="text-muted">{take.parts.length}</span>
        </span>
      </td>
      <td className="px-2 text-right">{facts.notes.toLocaleString('en')}</td>
      <td className="px-2 text-right">{facts.bars}</td>
      <td className="px-2 text-right">{clockTime(facts.seconds)}</td>
      <td className="px-2 text-right">
        {facts.tempos[0] ? (
          Math.round(facts.tempos[0].bpm * 10) / 10
        ) : (
          <span title="It gives no tempo; 120 is assumed">120?</span>
        )}
      </td>
      <td className="px-2">
        {meter ? (
          `${meter.numerator}/${meter.denominator}`
        ) : (
          <span title="It gives no meter; 4/4 is assumed">4/4?</span>
        )}
      </td>
      <td className="px-2">{key ? keyLabel(key) : ''}</td>
      <td className="px-2 text-sm whitespace-nowrap text-muted">{cameAs(take)}</td>
      <td className="pl-2 text-right">{isClean(take) ? <KeepButton take={take} /> : take.phrases || ''}</td>
    </tr>
  );
}

/** Where a take comes from, and what its name says of it. */
function origin(take: TakeRowWire): string {
  const known = [take.source, take.contributor].filter(Boolean).join(', ') || take.fileName;
  const guess = guessWords(take.guesses);
  return guess ? `${known}; its name says ${guess}` : known;
}

function cameAs({ capture, facts }: TakeRowWire): string {
  if (!capture) return `format ${facts.format}, ${facts.tracks} tr.`;
  return { click: 'live, to the click', followed: 'live, to its clock', none: 'live, no click' }[
    capture.clock
  ];
}

function Warnings({ take }: { take: TakeRowWire }) {
  const told = [
    ...(take.account?.findings ?? []).map(({ text }) => text),
    ...take.facts.repairs.map(({ message }) => `Repaired: ${message}`),
  ];
  if (told.length === 0) return null;
  return (
    <span className="flex flex-none items-center gap-0.5 text-xs text-madder" title={told.join('\n')}>
      <TriangleAlert size={12} aria-hidden="true" />
      {told.length}
      <span className="sr-only">{told.join(' ')}</span>
    </span>
  );
}
