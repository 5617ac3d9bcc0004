import type { Take } from '../../core/capture/take.ts';
import type { Key } from '../../core/music/key.ts';
import { cutBars, type BarsParams } from '../../core/normalize/bars.ts';
import { clipFromPart } from '../../core/phrase/clip.ts';
import { applyMoves } from '../../core/split/moves.ts';
import { splitTake, type Split } from '../../core/split/split.ts';
import type { Listening } from '../../sound/player.ts';
import { request } from '../api/client.ts';
import { queryClient, takeNotesQuery, type TakeWire } from '../api/queries.ts';
import { takeBars } from './strand-columns.ts';

/** Bars of parts of a take, by their ids, as lanes to be heard. */
export function takeLanes(
  take: Take,
  split: Split,
  ids: readonly string[],
  cut: BarsParams,
  key: Key | null,
): Listening['lanes'] {
  return ids.map((id) => {
    const index = split.parts.findIndex((part) => part.id === id);
    return { id, clip: cutBars(clipFromPart(take, split, index, key), cut).clip };
  });
}

/** A take and its split as it now stands, fetched. */
export async function fetchSplit(id: string): Promise<{ row: TakeWire; take: Take; split: Split }> {
  const row = await queryClient.fetchQuery({
    queryKey: ['take', id],
    queryFn: () => request<TakeWire>(`/api/takes/${id}`),
    staleTime: 30_000,
  });
  const take = await queryClient.fetchQuery(takeNotesQuery(row));
  return { row, take, split: applyMoves(splitTake(take), take.notes, row.moves.slice(0, row.movesDone)) };
}

/** A whole take as it now stands, to be listened to. */
export async function fetchTakeListening(id: string): Promise<Listening> {
  const { row, take, split } = await fetchSplit(id);
  const sounding = split.parts.filter((_, part) => split.owner.includes(part)).map((part) => part.id);
  const key = row.chosenKey ?? row.keys[0] ?? null;
  return {
    id: `take ${id}`,
    title: row.name,
    subtitle: 'the whole take',
    lanes: takeLanes(take, split, sounding, { start: 1, count: takeBars(take) }, key),
  };
}
