import { useQuery } from '@tanstack/react-query';
import { wrap, type Remote } from 'comlink';
import { useMemo } from 'react';
import type { Move } from '../../core/split/moves.ts';
import type { TakeWire } from '../api/queries.ts';
import type { AnalysisAnswer, AnalysisWorker } from './analysis.worker.ts';

let worker: Remote<AnalysisWorker> | undefined;

function analysisWorker(): Remote<AnalysisWorker> {
  worker ??= wrap<AnalysisWorker>(
    new Worker(new URL('./analysis.worker.ts', import.meta.url), { type: 'module' }),
  );
  return worker;
}

/** Moves that change no note, no role and nothing that was said of the music. */
const NAMES_ONLY: ReadonlySet<Move['move']> = new Set<Move['move']>(['rename', 'nameTake']);

/**
 * What a take says of itself as it now stands, worked out in a worker and kept by what it came from: the original's
 * bytes, the moves, the chart. While a new one is under way the one before stands.
 */
export function useAnalysis(row: TakeWire): {
  data: AnalysisAnswer | undefined;
  isBusy: boolean;
  problem: Error | null;
} {
  const { id, sha256, pattern, moves, movesDone, asked } = row;
  const done = useMemo(
    () => moves.slice(0, movesDone).filter(({ move }) => !NAMES_ONLY.has(move)),
    [moves, movesDone],
  );
  const chart = asked.chart ?? '';
  const bars = asked.bars ?? null;
  const query = useQuery({
    queryKey: ['analysis', sha256, pattern, done, chart, bars],
    staleTime: Infinity,
    queryFn: () =>
      analysisWorker().analyze({
        address: new URL(`/api/takes/${id}/file`, window.location.href).href,
        pattern,
        moves: done,
        chart,
        asked: bars,
      }),
    placeholderData: (old, before) => (before?.queryKey[1] === sha256 ? old : undefined),
  });
  return { data: query.data, isBusy: query.isFetching, problem: query.error };
}
