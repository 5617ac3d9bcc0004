import type { Take } from '../../../core/capture/take.ts';
import type { Key } from '../../../core/music/key.ts';
import { cutBars, type BarsParams } from '../../../core/normalize/bars.ts';
import { clipFromPart } from '../../../core/phrase/clip.ts';
import { continueMoves } from '../../../core/split/moves.ts';
import type { Split } from '../../../core/split/split.ts';
import type { Listening } from '../../../sound/player.ts';
import { queryClient, capturedTakeQuery, takeRowQuery, type TakeWire } from '../../api/queries.ts';
import { takeBars } from './strand-columns.ts';

/** A part that is heard: on which sound, and whether it lies under others. */
export interface HeardPart {
  id: string;
  /** GM program 0..127 instead of its own. */
  program?: number;
  under?: boolean;
}

/** How loud parts are that lie under the one that is listened to. */
const UNDER = 0.4;

/** Bars of parts of a take as lanes to be heard. */
export function takeLanes(
  take: Take,
  split: Split,
  heard: readonly HeardPart[],
  cut: BarsParams,
  key: Key | null,
): Listening['lanes'] {
  return heard.map(({ id, program, under }) => {
    const index = split.parts.findIndex((part) => part.id === id);
    const { clip } = cutBars(clipFromPart(take, split, index, key), cut);
    return {
      id,
      clip: program === undefined ? clip : { ...clip, program },
      ...(under ? { level: UNDER } : {}),
    };
  });
}

/** A take and its split as it now stands, fetched. */
export async function fetchSplit(id: string): Promise<{ row: TakeWire; take: Take; split: Split }> {
  const row = await queryClient.fetchQuery({ ...takeRowQuery(id), staleTime: 30_000 });
  const first = await queryClient.fetchQuery(capturedTakeQuery(row));
  return { row, ...continueMoves(first.take, first.split, row.moves.slice(0, row.movesDone)) };
}

/** A whole take as it now stands, to be listened to. */
export async function fetchTakeListening(id: string): Promise<Listening> {
  const { row, take, split } = await fetchSplit(id);
  const sounding = split.parts
    .filter((_, part) => split.owner.includes(part))
    .map(({ id: part }) => ({ id: part }));
  const key = row.chosenKey ?? row.keys[0] ?? null;
  return {
    id: `take ${id}`,
    title: row.name,
    subtitle: 'the whole take',
    lanes: takeLanes(take, split, sounding, { start: 1, count: takeBars(take) }, key),
  };
}
