import { TriangleAlert } from 'lucide-react';
import { Link } from 'react-router';
import { guessWords } from '../../core/capture/name-guess.ts';
import { keyLabel } from '../../core/music/key.ts';
import { RoleMark } from '../../ui/drawing/RoleMark.tsx';
import type { Column } from '../../ui/table/columns.ts';
import { clockTime } from '../../ui/time.ts';
import type { TakeRowWire } from '../api/queries.ts';
import { isClean } from '../shared/takes/keep.ts';
import { KeepButton } from '../shared/takes/KeepButton.tsx';
import { TAKE_ORDERS } from './take-query.ts';

/** What is told of takes; the server orders by those that have a value (`server/library/takes/take-list`). */
export const TAKE_COLUMNS: readonly Column<TakeRowWire>[] = [
  {
    ...{ id: 'name', title: 'Take', stays: true, className: 'w-[34%] max-w-0 min-w-48 pr-3 pl-2' },
    value: ({ name }) => name,
    cell: (take) => (
      <>
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
      </>
    ),
  },
  {
    ...{ id: 'parts', title: 'Parts', mostFirst: TAKE_ORDERS.parts.mostFirst },
    value: ({ parts }) => parts.length,
    cell: ({ parts }) => (
      <span className="flex gap-1" title={parts.map((part) => `${part.name} (${part.role})`).join(', ')}>
        {parts.slice(0, 8).map((part, i) => (
          <RoleMark key={i} role={part.role} bare />
        ))}
        <span className="text-muted">{parts.length}</span>
      </span>
    ),
  },
  {
    ...{ id: 'notes', title: 'Notes', isFigure: true, mostFirst: TAKE_ORDERS.notes.mostFirst },
    value: ({ facts }) => facts.notes,
    cell: ({ facts }) => facts.notes.toLocaleString('en'),
  },
  {
    ...{ id: 'bars', title: 'Bars', isFigure: true, mostFirst: TAKE_ORDERS.bars.mostFirst },
    value: ({ facts }) => facts.bars,
    cell: ({ facts }) => facts.bars,
  },
  {
    ...{ id: 'length', title: 'Length', isFigure: true, mostFirst: TAKE_ORDERS.length.mostFirst },
    value: ({ facts }) => facts.seconds,
    cell: ({ facts }) => clockTime(facts.seconds),
  },
  {
    ...{ id: 'tempo', title: 'BPM', isFigure: true },
    value: ({ facts }) => facts.tempos[0]?.bpm ?? null,
    cell: ({ facts: { tempos } }) =>
      tempos[0] ? (
        Math.round(tempos[0].bpm * 10) / 10
      ) : (
        <span title="It gives no tempo; 120 is assumed">120?</span>
      ),
  },
  {
    ...{ id: 'meter', title: 'Meter' },
    cell: ({ facts: { meters } }) =>
      meters[0] ? (
        `${meters[0].numerator}/${meters[0].denominator}`
      ) : (
        <span title="It gives no meter; 4/4 is assumed">4/4?</span>
      ),
  },
  {
    ...{ id: 'key', title: 'Key' },
    cell: ({ chosenKey, keys: [found] }) => {
      const key = chosenKey ?? found;
      return key ? keyLabel(key) : '';
    },
  },
  {
    ...{ id: 'came', title: 'Came as', className: 'px-2 text-sm whitespace-nowrap text-muted' },
    cell: (take) => cameAs(take),
  },
  {
    ...{
      id: 'phrases',
      title: 'Phrases',
      isFigure: true,
      mostFirst: TAKE_ORDERS.phrases.mostFirst,
      className: 'pl-2',
    },
    value: ({ phrases }) => phrases,
    cell: (take) => (isClean(take) ? <KeepButton take={take} /> : take.phrases || ''),
  },
];

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
