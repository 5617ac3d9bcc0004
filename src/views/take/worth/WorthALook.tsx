import { ChevronDown, ChevronRight } from 'lucide-react';
import { useState } from 'react';
import type { Proposal } from '../../../core/split/proposals.ts';
import { Button } from '../../../ui/Button.tsx';
import type { Move } from '../../../core/split/moves.ts';

/** What could be done, one line each, with the reason; nothing is done unasked. */
export function WorthALook({
  usual,
  mends,
  offers,
  current,
  onCurrent,
  onAccept,
  onRefuse,
  onAcceptAll,
}: {
  /** What the takes of its source usually need: at the top, since it may answer the others. */
  usual: readonly Proposal[];
  mends: readonly Proposal[];
  offers: readonly Proposal[];
  /** Id of the proposal that the keys work on. */
  current: string | undefined;
  onCurrent: (proposal: Proposal) => void;
  onAccept: (proposal: Proposal, move: Move) => void;
  onRefuse: (proposal: Proposal) => void;
  onAcceptAll: () => void;
}) {
  const [open, setOpen] = useState(true);
  const total = usual.length + mends.length + offers.length;
  // The lines below stand clear of what is above, also where there is nothing to look at.
  if (total === 0) return <div className="h-2" />;
  const Chevron = open ? ChevronDown : ChevronRight;
  const line = (proposal: Proposal) => (
    <Line
      key={proposal.id}
      proposal={proposal}
      isCurrent={proposal.id === current}
      onCurrent={() => onCurrent(proposal)}
      onAccept={(move) => onAccept(proposal, move)}
      onRefuse={() => onRefuse(proposal)}
    />
  );
  return (
    <section aria-label="Worth a look" className="my-2 border border-rule bg-card text-sm">
      <div className="flex items-center gap-3 px-2 py-1">
        <button
          type="button"
          aria-expanded={open}
          className="flex items-center gap-1 font-display font-semibold"
          onClick={() => setOpen(!open)}
        >
          <Chevron size={14} aria-hidden="true" /> Worth a look, {total}
        </button>
        <span className="text-xs text-muted">
          <kbd>P</kbd> next, <kbd>Y</kbd> accept, <kbd>X</kbd> refuse
        </span>
        {mends.length > 1 && (
          <Button small className="ml-auto" onClick={onAcceptAll}>
            Accept all {mends.length}
          </Button>
        )}
      </div>
      {open && (
        <ul className="max-h-29 overflow-y-auto short:max-h-15 border-t border-thread">
          {usual.map(line)}
          {mends.map(line)}
          {offers.map(line)}
        </ul>
      )}
    </section>
  );
}

function Line({
  proposal,
  isCurrent,
  onCurrent,
  onAccept,
  onRefuse,
}: {
  proposal: Proposal;
  isCurrent: boolean;
  onCurrent: () => void;
  onAccept: (move: Move) => void;
  onRefuse: () => void;
}) {
  const { text, why, certainty, ways } = proposal;
  return (
    <li
      aria-current={isCurrent}
      className={`flex items-center gap-2 border-l-3 py-0.5 pr-2 pl-2 ${isCurrent ? 'border-l-madder bg-select' : 'border-l-transparent hover:bg-sunk'}`}
      onClick={onCurrent}
    >
      <span className="min-w-0 flex-1 truncate" title={why}>
        {text} <span className="text-muted">{why}</span>
      </span>
      <span className="text-muted" title="How certain this is">
        {certainty.toFixed(2)}
      </span>
      {ways.map(({ title, move }) => (
        <Button
          key={title}
          small
          className="max-w-40"
          title={title}
          aria-label={`${title}: ${text}`}
          onClick={() => onAccept(move)}
        >
          <span className="truncate">{title}</span>
        </Button>
      ))}
      <Button small kind="quiet" aria-label={`Refuse: ${text}`} onClick={onRefuse}>
        Refuse
      </Button>
    </li>
  );
}
