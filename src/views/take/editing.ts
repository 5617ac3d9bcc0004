import { useMutation, useQueryClient } from '@tanstack/react-query';
import { useMemo } from 'react';
import type { Take } from '../../core/capture/take.ts';
import { applyMoves, describeMove, type Move } from '../../core/split/moves.ts';
import { splitTake } from '../../core/split/split.ts';
import { sendJson } from '../api/client.ts';
import { takeOver, tellProblem, useRefresh, type TakeWire } from '../api/queries.ts';

/** The split as it stands, what can be taken back and done again, and how to change it. */
export function useSplitEditing(row: TakeWire, take: Take) {
  const client = useQueryClient();
  const refresh = useRefresh();
  const first = useMemo(() => splitTake(take), [take]);
  const split = useMemo(
    () => applyMoves(first, take.notes, row.moves.slice(0, row.movesDone)),
    [first, take, row.moves, row.movesDone],
  );
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
    onSettled: () => void refresh('takes'),
  });
  const done = row.moves[row.movesDone - 1];
  const undone = row.moves[row.movesDone];
  return {
    split,
    undoes: done && describeMove(done, split),
    redoes: undone && describeMove(undone, split),
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

export type SplitEditing = ReturnType<typeof useSplitEditing>;
