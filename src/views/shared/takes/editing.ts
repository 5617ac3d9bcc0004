import { useCallback, useMemo } from 'react';
import { toast } from 'sonner';
import type { Take } from '../../../core/capture/take.ts';
import { continueMoves, describeMove, takeFactsOf, type Move } from '../../../core/split/moves.ts';
import type { Split } from '../../../core/split/split.ts';
import {
  didDeed,
  doAgain,
  forgetDeeds,
  lastDone,
  nextUndone,
  takeBack,
  useKeptHistory,
} from '../../../ui/history/deeds.ts';
import type { CapturedTake } from '../../api/captured.ts';
import { ApiProblem, sendJson } from '../../api/client.ts';
import { queryClient, renew, takeOver, tellProblem, type TakeWire } from '../../api/queries.ts';

/** A change of a take's moves: what is asked of the server, and what it makes of the take that is shown. */
interface MoveChange {
  path: 'moves' | 'undo' | 'redo' | 'history';
  body?: Record<string, unknown>;
  then: (row: TakeWire) => TakeWire;
}

const UNDO: MoveChange = {
  path: 'undo',
  then: (row) => ({ ...row, movesDone: Math.max(0, row.movesDone - 1) }),
};

const REDO: MoveChange = {
  path: 'redo',
  then: (row) => ({ ...row, movesDone: Math.min(row.moves.length, row.movesDone + 1) }),
};

const keyOf = (id: string) => ['take', id];

const takeSource = (id: string) => `take ${id}`;

/** Takes whose last change is somebody else's, as far as this window has heard: Ctrl Z is for one's own. */
const lastByOthers = new Set<string>();

/** Somebody else has changed a take: what was done to it here before is taken back in its history, where it is seen under what. */
export function changedByOthers(id: string): void {
  lastByOthers.add(id);
  forgetDeeds(takeSource(id));
}

/**
 * Shows a change of a take's moves at once and writes it; put right by the server's answer. Works from any view. Where another
 * window was faster nothing is done: its state is shown, and the change can be made on it. Changes are sent at once,
 * that none is lost with the page; their revisions tell the server in which order they stand.
 */
async function changeTake(id: string, change: MoveChange): Promise<void> {
  lastByOthers.delete(id);
  const key = keyOf(id);
  const seen = queryClient.getQueryData<TakeWire>(key);
  const revision = seen?.revision;
  queryClient.setQueryData<TakeWire>(
    key,
    (old) => old && { ...change.then(old), revision: old.revision + 1 },
  );
  const write = queryClient
    .getMutationCache()
    .build(queryClient, {
      mutationKey: key,
      mutationFn: () =>
        sendJson<TakeWire>('POST', `/api/takes/${id}/${change.path}`, {
          ...change.body,
          ...(revision === undefined ? {} : { revision }),
        }),
      onSuccess: (answer: TakeWire) => takeOver(queryClient, key, answer),
    })
    .execute(undefined);
  try {
    await write;
  } catch (error) {
    forgetDeeds(takeSource(id));
    await queryClient.invalidateQueries({ queryKey: key });
    if (error instanceof ApiProblem && error.status === 409)
      toast.error(error.message, {
        description: 'What stands there now is shown.',
        action: { label: 'Do it all the same', onClick: () => void changeTake(id, change) },
      });
    else tellProblem(error);
  } finally {
    await renew('takes', 'take-habits');
  }
}

/** The take and its split as they stand, what can be taken back and done again, and how to change it. */
export function useSplitEditing(row: TakeWire, first: CapturedTake) {
  const { id } = row;
  const steps = useMemo(() => replay(first, row.moves), [first, row.moves]);
  const { take, split } = row.movesDone === 0 ? first : steps[row.movesDone - 1]!.after;
  const history = useMemo(() => steps.map(({ words }) => words), [steps]);
  const undoes = row.movesDone > 0 ? history[row.movesDone - 1] : undefined;
  const redoes = history[row.movesDone];
  const did = (what: string, undo: MoveChange, redo: MoveChange) =>
    didDeed({
      what: `${what} (${row.name})`,
      source: takeSource(id),
      undo: () => changeTake(id, undo),
      redo: () => changeTake(id, redo),
    });
  const goToChange = (at: number): MoveChange => ({
    path: 'history',
    body: { done: at },
    then: (old) => ({ ...old, movesDone: at }),
  });
  const editing = {
    /** The take's notes as they were put right. */
    take,
    split,
    undoes,
    redoes,
    /** All moves in words, those that were taken back last; and how many are done. */
    history,
    done: row.movesDone,
    /** Histories that going on elsewhere has dropped. */
    dropped: row.dropped,
    goTo: (at: number) => {
      const change = goToChange(at);
      did(at < row.movesDone ? 'going back' : 'going on again', goToChange(row.movesDone), change);
      void changeTake(id, change);
    },
    restore: (number: number) => {
      const change = (to: number): MoveChange => ({
        path: 'history',
        body: { restore: to },
        then: (old) => {
          const moves = old.dropped[to]?.moves ?? old.moves;
          return { ...old, moves, movesDone: moves.length };
        },
      });
      // What is left for it is the last of those that are kept beside.
      did('another history', change(row.dropped.length - 1), change(row.dropped.length - 1));
      void changeTake(id, change(number));
    },
    move: (move: Move) => {
      const change: MoveChange = {
        path: 'moves',
        body: { move },
        then: (old) => ({
          ...old,
          ...factsAfter(move),
          moves: [...old.moves.slice(0, old.movesDone), move],
          movesDone: old.movesDone + 1,
        }),
      };
      did(describeMove(move, split), UNDO, REDO);
      void changeTake(id, change);
    },
    undo: () => {
      const deed = lastDone(takeSource(id));
      if (deed) takeBack(deed);
      else if (undoes && lastByOthers.has(id))
        toast(`The last change of this take is somebody else's: ${undoes}.`, {
          action: { label: 'Take it back all the same', onClick: () => void changeTake(id, UNDO) },
        });
      else if (undoes) void changeTake(id, UNDO);
    },
    redo: () => {
      const deed = nextUndone(takeSource(id));
      if (deed) doAgain(deed);
      else if (redoes) void changeTake(id, REDO);
    },
  };
  const { undo, redo } = editing;
  useKeptHistory(useCallback(() => ({ undoes, redoes, undo, redo }), [undoes, redoes, undo, redo]));
  return editing;
}

/** What a move says of the take as a whole. */
function factsAfter(move: Move): Partial<TakeWire> {
  const { name, key } = takeFactsOf([move]);
  return { ...(name ? { name } : {}), ...(key ? { chosenKey: key } : {}) };
}

interface TakeState {
  take: Take;
  split: Split;
}

interface Step {
  /** The move in words, with the names that parts had before it. */
  words: string;
  after: TakeState;
}

/** Steps by the state they begin at, and the move: what was worked out once is not worked out again by the next move. */
const steps = new WeakMap<TakeState, WeakMap<Move, Step>>();

function stepFrom(before: TakeState, move: Move): Step {
  const known = steps.get(before) ?? new WeakMap<Move, Step>();
  steps.set(before, known);
  let step = known.get(move);
  if (!step) {
    step = {
      words: describeMove(move, before.split),
      after: continueMoves(before.take, before.split, [move]),
    };
    known.set(move, step);
  }
  return step;
}

function replay(first: TakeState, moves: readonly Move[]): Step[] {
  let state = first;
  return moves.map((move) => {
    const step = stepFrom(state, move);
    state = step.after;
    return step;
  });
}

export type SplitEditing = ReturnType<typeof useSplitEditing>;
