import { useState } from 'react';
import type { Take } from '../../../core/capture/take.ts';
import { continueMoves, type Move } from '../../../core/split/moves.ts';
import type { Proposal } from '../../../core/split/proposals.ts';
import { playingParts, type Split } from '../../../core/split/split.ts';
import { tellProblem, type TakeWire } from '../../api/queries.ts';
import { allMended, useWorth } from '../analysis.ts';
import type { SplitEditing } from '../../shared/takes/editing.ts';
import type { Selection } from '../selection.ts';

/** What could be done to the take, and doing or refusing it. */
export function useWorthALook(
  row: TakeWire,
  { take, split, move }: SplitEditing,
  selection: Selection,
  usual: readonly Proposal[],
  ofTheMusic: readonly Proposal[],
) {
  const { data: found, isPlaceholderData } = useWorth(row);
  const [currentId, setCurrentId] = useState<string>();
  // What was answered a moment ago is not asked again while the next answers are looked for.
  const [answered, setAnswered] = useState<{ id: string; movesDone: number }[]>([]);
  const justAnswered = new Set(
    isPlaceholderData ? answered.filter((one) => one.movesDone < row.movesDone).map(({ id }) => id) : [],
  );
  const stands = (proposal: Proposal) => !justAnswered.has(proposal.id) && stillAsked(proposal, split);
  const mends = found?.mends.filter(stands) ?? [];
  const others = [...ofTheMusic, ...(found?.offers ?? [])].filter(stands);
  const all = [...usual, ...mends, ...others];
  const at = all.findIndex(({ id }) => id === currentId);
  const current = all[Math.max(0, at)];
  const lookAt = (proposal: Proposal) => {
    setCurrentId(proposal.id);
    if (proposal.parts.length > 0) selection.setParts(proposal.parts);
  };
  const accept = (proposal: Proposal, how: Move) => {
    const problem = problemOf(take, split, how);
    if (problem) return tellProblem(problem);
    setAnswered((before) => [...before.slice(-20), { id: proposal.id, movesDone: row.movesDone }]);
    move(how);
  };
  const refuse = (proposal: Proposal) => move({ move: 'refuse', proposal: proposal.id });
  return {
    usual,
    mends,
    offers: others,
    current: current?.id,
    onCurrent: lookAt,
    onAccept: accept,
    onRefuse: refuse,
    onAcceptAll: () => void allMended(row).then((all) => all && move(all), tellProblem),
    /** From one to the next, and from the last to the first. */
    next: () => {
      const next = all[(currentId === undefined ? 0 : at + 1) % Math.max(1, all.length)];
      if (next) lookAt(next);
    },
    acceptCurrent: () => current && accept(current, current.ways[0]!.move),
    refuseCurrent: () => current && refuse(current),
  };
}

/** Whether a proposal was not refused since, and its parts still play. */
function stillAsked({ id, parts }: Proposal, split: Split): boolean {
  if (split.refused.includes(id)) return false;
  const playing = new Set(playingParts(split).map(({ part }) => part.id));
  return parts.every((part) => playing.has(part));
}

/** Why a move cannot be done any more: a proposal may be older than the last move. */
function problemOf(take: Take, split: Split, move: Move): Error | null {
  try {
    continueMoves(take, split, [move]);
    return null;
  } catch (error) {
    return error as Error;
  }
}
