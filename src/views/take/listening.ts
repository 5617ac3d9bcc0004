import { useEffect, useMemo, useState } from 'react';
import type { Take } from '../../core/capture/take.ts';
import type { Key } from '../../core/music/key.ts';
import type { Split } from '../../core/split/split.ts';
import { offer, refresh, type Listening } from '../../sound/player.ts';
import type { TakeWire } from '../api/queries.ts';
import { takeLanes, type HeardPart } from '../shared/takes/take-lanes.ts';
import type { Selection } from './selection.ts';
import type { Strand } from '../shared/takes/strand-columns.ts';

/** What is listened to on a take's page: the chosen bars of the chosen parts, alone or over the others; else all. */
export function useTakeListening({
  row,
  take,
  split,
  strands,
  selection: { selected, range },
  bars,
  key,
}: {
  row: TakeWire;
  take: Take;
  split: Split;
  strands: readonly Strand[];
  selection: Selection;
  bars: number;
  key: Key | null;
}) {
  const [withOthers, setWithOthers] = useState(false);
  const [sound, setSound] = useState<number | null>(null);
  const inFront = (range || withOthers) && selected.length > 0 ? selected : strands;
  const front = new Set(inFront.map(({ part }) => part.id));
  const heard = (withOthers ? strands : inFront).map(({ part: { id } }): HeardPart => ({
    id,
    ...(sound !== null && front.has(id) ? { program: sound } : {}),
    ...(front.has(id) ? {} : { under: true }),
  }));
  const heardAs = JSON.stringify(heard);
  const one = front.size === 1 && strands.length > 1 ? inFront[0]!.part.name : undefined;
  const listening = useMemo((): Listening => {
    const cut = range ?? { start: 1, count: bars };
    return {
      id: `take ${row.id}`,
      title: one ?? row.name,
      subtitle: range
        ? `${row.name}, bars ${range.start} to ${range.start + range.count - 1}`
        : one
          ? `${row.name}, the whole take`
          : 'the whole take',
      lanes: takeLanes(take, split, JSON.parse(heardAs) as HeardPart[], cut, key),
    };
    // eslint-disable-next-line react-hooks/exhaustive-deps -- heardAs stands for what is heard
  }, [row.id, row.name, one, split, take, range?.start, range?.count, heardAs, bars, key?.tonic, key?.mode]);
  useEffect(() => {
    offer(listening);
    refresh(listening);
  }, [listening]);
  return { listening, withOthers, setWithOthers, sound, setSound };
}
