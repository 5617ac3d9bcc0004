import { useMemo, useState } from 'react';
import type { Take } from '../../core/capture/take.ts';
import { acceptAll, mendsFor, offersFor, type Proposal } from '../../core/split/proposals.ts';
import type { Split } from '../../core/split/split.ts';
import type { SplitEditing } from './editing.ts';
import type { Selection } from './selection.ts';

/** What could be done to the take, and doing or refusing it. */
export function useWorthALook(
  take: Take,
  split: Split,
  selection: Selection,
  editing: SplitEditing,
  usual: readonly Proposal[],
  ofTheMusic: readonly Proposal[],
) {
  const mends = useMemo(() => mendsFor(take, split), [take, split]);
  const offers = useMemo(() => offersFor(take, split), [take, split]);
  const [currentId, setCurrentId] = useState<string>();
  const others = [...ofTheMusic, ...offers];
  const all = [...usual, ...mends, ...others];
  const at = all.findIndex(({ id }) => id === currentId);
  const current = all[Math.max(0, at)];
  const lookAt = (proposal: Proposal) => {
    setCurrentId(proposal.id);
    if (proposal.parts.length > 0) selection.setParts(proposal.parts);
  };
  const acceptAllNow = () => {
    const move = acceptAll(take, split);
    if (move) editing.move(move);
  };
  const refuse = (proposal: Proposal) => editing.move({ move: 'refuse', proposal: proposal.id });
  return {
    usual,
    mends,
    offers: others,
    current: current?.id,
    onCurrent: lookAt,
    onAccept: editing.move,
    onRefuse: refuse,
    onAcceptAll: acceptAllNow,
    /** From one to the next, and from the last to the first. */
    next: () => {
      const next = all[(currentId === undefined ? 0 : at + 1) % Math.max(1, all.length)];
      if (next) lookAt(next);
    },
    acceptCurrent: () => current && editing.move(current.ways[0]!.move),
    refuseCurrent: () => current && refuse(current),
  };
}
