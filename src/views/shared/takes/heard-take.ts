import type { Take } from '../../../core/capture/take.ts';
import { continueMoves } from '../../../core/split/moves.ts';
import type { Split } from '../../../core/split/split.ts';
import type { Listening } from '../../../sound/player.ts';
import { queryClient, capturedTakeQuery, takeRowQuery, type TakeWire } from '../../api/queries.ts';
import { wholeTake } from './take-lanes.ts';

/** A take and its split as it now stands, fetched. */
export async function fetchSplit(id: string): Promise<{ row: TakeWire; take: Take; split: Split }> {
  const row = await queryClient.fetchQuery({ ...takeRowQuery(id), staleTime: 30_000 });
  const first = await queryClient.fetchQuery(capturedTakeQuery(row));
  return { row, ...continueMoves(first.take, first.split, row.moves.slice(0, row.movesDone)) };
}

/** A whole take as it now stands, to be listened to. */
export async function fetchTakeListening(id: string): Promise<Listening> {
  const { row, take, split } = await fetchSplit(id);
  const key = row.chosenKey ?? row.keys[0] ?? null;
  return {
    id: `take ${id}`,
    title: row.name,
    subtitle: 'the whole take',
    lanes: wholeTake(take, split, key),
  };
}
