import { useQuery } from '@tanstack/react-query';
import { wrap, type Remote } from 'comlink';
import { useEffect, useMemo } from 'react';
import type { Move } from '../../core/split/moves.ts';
import { touchesOnly, type Touch } from '../../core/split/touches.ts';
import { sendJson } from '../api/client.ts';
import type { TakeWire } from '../api/queries.ts';
import type { AnalysisAnswer, AnalysisWorker, MovedTake } from './analysis.worker.ts';

let worker: Remote<AnalysisWorker> | undefined;

function analysisWorker(): Remote<AnalysisWorker> {
  worker ??= wrap<AnalysisWorker>(
    new Worker(new URL('./analysis.worker.ts', import.meta.url), { type: 'module' }),
  );
  return worker;
}

const NAMES: ReadonlySet<Touch> = new Set<Touch>(['name']);

/** A take for a worker, with the moves that it is to be looked into with. */
function movedTake({ id, pattern }: TakeWire, moves: readonly Move[]): MovedTake {
  return { id, pattern, moves };
}

/** What could be done to the parts of a take, worked out in a worker. While a new answer is under way the one before stands. */
export function useWorth(row: TakeWire) {
  const { sha256, pattern, moves, movesDone } = row;
  const done = useMemo(() => moves.slice(0, movesDone), [moves, movesDone]);
  return useQuery({
    queryKey: ['worth', sha256, pattern, done],
    staleTime: Infinity,
    queryFn: () => analysisWorker().worth(movedTake(row, done)),
    placeholderData: (old, before) => (before?.queryKey[1] === sha256 ? old : undefined),
  });
}

/** The move that does all that mends a take as it stands. */
export function allMended(row: TakeWire): Promise<Move | null> {
  return analysisWorker().allMended(movedTake(row, row.moves.slice(0, row.movesDone)));
}

/**
 * What a take says of itself as it now stands, worked out in a worker and kept by what it came from: the original's
 * bytes, the moves, the chart. While a new one is under way the one before stands.
 */
export function useAnalysis(row: TakeWire): {
  data: AnalysisAnswer | undefined;
  isBusy: boolean;
  problem: Error | null;
} {
  const { sha256, pattern, moves, movesDone, asked } = row;
  const done = useMemo(
    () => moves.slice(0, movesDone).filter((move) => !touchesOnly(move, NAMES)),
    [moves, movesDone],
  );
  const chart = asked.chart ?? '';
  const bars = asked.bars ?? null;
  const query = useQuery({
    queryKey: ['analysis', sha256, pattern, done, chart, bars],
    staleTime: Infinity,
    queryFn: () => analysisWorker().analyze({ ...movedTake(row, done), chart, asked: bars }),
    placeholderData: (old, before) => (before?.queryKey[1] === sha256 ? old : undefined),
  });
  useKeptReading(row, query.isSuccess && !query.isFetching);
  return { data: query.data, isBusy: query.isFetching, problem: query.error };
}

/** What is looked at for so long counts as told, in milliseconds. */
const TOLD_AFTER = 2500;

/** Lets the library keep what was found in a take once somebody has looked at it, so that it stays what it was told. */
function useKeptReading({ id, revision }: TakeWire, isShown: boolean): void {
  useEffect(() => {
    if (!isShown) return;
    // Where it cannot be kept nothing is lost: it is found again, and kept the next time.
    const keep = () => void sendJson('POST', `/api/takes/${id}/told`, {}).catch(() => undefined);
    const timer = setTimeout(keep, TOLD_AFTER);
    return () => clearTimeout(timer);
  }, [id, revision, isShown]);
}
