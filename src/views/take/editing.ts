import { useMutation, useQueryClient } from '@tanstack/react-query';
import { useMemo } from 'react';
import type { Take } from '../../core/capture/take.ts';
import { continueMoves, describeMove, type Move } from '../../core/split/moves.ts';
import { splitTake, type Split } from '../../core/split/split.ts';
import { sendJson } from '../api/client.ts';
import { takeOver, tellProblem, renew, type TakeWire } from '../api/queries.ts';

/** The take and its split as they stand, what can be taken back and done again, and how to change it. */
export function useSplitEditing(row: TakeWire, original: Take) {
  const client = useQueryClient();
  const first = useMemo(() => ({ take: original, split: splitTake(original) }), [original]);
  const steps = useMemo(() => replay(first, row.moves), [first, row.moves]);
  const { take, split } = row.movesDone === 0 ? first : steps[row.movesDone - 1]!;
  const history = useMemo(() => steps.map(({ words }) => words), [steps]);
  const queryKey = ['take', row.id];
  const change = useMutation({
    mutationKey: queryKey,
    // One after the other: each move stands on the one before.
    scope: { id: `take ${row.id}` },
    mutationFn: ({ path, body }: { path: string; body?: unknown; then: (row: TakeWire) => TakeWire }) =>
      sendJson<TakeWire>('POST', `/api/takes/${row.id}/${path}`, body),
    // Shown at once, and put right by the server's answer.
    onMutate: ({ then }) => client.setQueryData<TakeWire>(queryKey, (old) => old && then(old)),
    onSuccess: (answer) => takeOver(client, queryKey, answer),
    onError: (error) => {
      tellProblem(error);
      void client.invalidateQueries({ queryKey });
    },
    onSettled: () => void renew('takes'),
  });
  const done = row.moves[row.movesDone - 1];
  const undone = row.moves[row.movesDone];
  return {
    /** The take's notes as they were put right. */
    take,
    split,
    undoes: done && history[row.movesDone - 1],
    redoes: undone && history[row.movesDone],
    /** All moves in words, those that were taken back last; and how many are done. */
    history,
    done: row.movesDone,
    goTo: (at: number) =>
      change.mutate({
        path: 'history',
        body: { done: at },
        then: (old) => ({ ...old, movesDone: at }),
      }),
    move: (move: Move) =>
      change.mutate({
        path: 'moves',
        body: { move },
        then: (old) => ({
          ...old,
          ...(move.move === 'nameTake' ? { name: move.name } : {}),
          ...(move.move === 'chooseKey' ? { chosenKey: move.key } : {}),
          moves: [...old.moves.slice(0, old.movesDone), move],
          movesDone: old.movesDone + 1,
        }),
      }),
    undo: () =>
      done && change.mutate({ path: 'undo', then: (old) => ({ ...old, movesDone: old.movesDone - 1 }) }),
    redo: () =>
      undone && change.mutate({ path: 'redo', then: (old) => ({ ...old, movesDone: old.movesDone + 1 }) }),
  };
}

/** Each move in words, with the names that parts had before it, and the take and its split after it. */
function replay(
  first: { take: Take; split: Split },
  moves: readonly Move[],
): { words: string; take: Take; split: Split }[] {
  let state = first;
  return moves.map((move) => {
    const words = describeMove(move, state.split);
    state = continueMoves(state.take, state.split, [move]);
    return { words, ...state };
  });
}

export type SplitEditing = ReturnType<typeof useSplitEditing>;
