import { useQuery } from '@tanstack/react-query';
import { proxy, wrap, type Remote } from 'comlink';
import { useMemo, useState } from 'react';
import type { Choice } from '../../core/comp/choice.ts';
import type { Suggestion } from '../../core/comp/suggest.ts';
import type { CompDetail } from '../../server/library/takes/comps.ts';
import type { Listening } from '../../sound/player.ts';
import { plural } from '../../core/words.ts';
import type { CompSheet, CompWorker } from './comp.worker.ts';

let worker: Remote<CompWorker> | undefined;

function compWorker(): Remote<CompWorker> {
  worker ??= wrap<CompWorker>(new Worker(new URL('./comp.worker.ts', import.meta.url), { type: 'module' }));
  return worker;
}

/** The passes of a comp opened in a worker, and how many are so far. Takes that change are opened anew. */
export function useSheet({ id, takes }: Pick<CompDetail, 'id' | 'takes'>, chart: string) {
  const [opened, setOpened] = useState(0);
  const query = useQuery({
    queryKey: ['comp-sheet', id, chart, takes.map((take) => [take.id, take.revision])],
    staleTime: Infinity,
    gcTime: 0,
    retry: false,
    queryFn: () => compWorker().open(takes, chart, proxy(setOpened)),
  });
  return { sheet: query.data, problem: query.error, opened, at: query.dataUpdatedAt };
}

/** The cells of a row, or (-1) of all rows together; those before stand while others come. */
export function useCells(sheet: CompSheet | undefined, at: number, row: number) {
  const { data } = useQuery({
    queryKey: ['comp-cells', at, row],
    enabled: sheet !== undefined,
    staleTime: Infinity,
    gcTime: 60_000,
    queryFn: () => compWorker().cells(row),
    placeholderData: (old) => old,
  });
  return data;
}

/** What is chosen, in some bars, as it is heard; with its joints and the tally of the whole. */
export function useJoined(
  sheet: CompSheet | undefined,
  at: number,
  asked: { choice: Choice; bpm: number | null; from: number; to: number },
) {
  const { data } = useQuery({
    queryKey: ['comp-joined', at, asked],
    enabled: sheet !== undefined,
    staleTime: Infinity,
    gcTime: 10_000,
    queryFn: () => compWorker().joined(asked.choice, asked.bpm, asked),
    placeholderData: (old) => old,
  });
  return data;
}

/** The passes that are suggested, bar by bar. */
export function suggestion(row: number, way: Suggestion, stars: readonly (readonly boolean[])[]) {
  return compWorker().suggested(row, way, stars);
}

/** Joined bars as they are listened to: a lane a row. */
export function useHeard(
  joined: ReturnType<typeof useJoined>,
  { id, title, bars }: { id: string; title: string; bars: number },
): Listening | null {
  return useMemo(
    () =>
      joined && joined.clips.length > 0
        ? {
            ...{ id, title },
            subtitle: `${plural(bars, 'bar')}, ${plural(joined.clips.length, 'part')}`,
            lanes: joined.clips.map(({ row, clip }) => ({ id: `${id} ${row}`, clip })),
          }
        : null,
    [joined, id, title, bars],
  );
}
