import type { Move } from '../../../core/split/moves.ts';
import type { Proposal } from '../../../core/split/proposals.ts';
import { plural } from '../../../core/words.ts';
import { useTakeHabits, type TakeWire } from '../../api/queries.ts';

/** What the takes of this one's source usually need, as one proposal; none where it has all of it, or it was refused. */
export function useHabitProposal(row: TakeWire, refused: readonly string[]): Proposal[] {
  const { data } = useTakeHabits(row.id, row.movesDone);
  if (!data?.move || data.source === null || refused.includes(ID)) return [];
  const move = data.move as Extract<Move, { move: 'together' }>;
  return [
    {
      id: ID,
      kind: 'habits',
      parts: [],
      text: `As usual for ${data.source}: ${plural(move.moves.length, 'change')}?`,
      why: data.habits.join('; '),
      certainty: 0.9,
      ways: [{ title: 'As usual', move }],
    },
  ];
}

const ID = 'habits';
