/** Analysis in a thread of its own: the page goes on drawing while it works. */
import { expose } from 'comlink';
import { analyzeTake, type Analysis } from '../../core/analyze/analysis.ts';
import { readTakes, type Take } from '../../core/capture/take.ts';
import { ChartError } from '../../core/music/chart.ts';
import { byHandOf } from '../../core/split/by-hand.ts';
import { splitOf, type Base } from '../../core/split/base.ts';
import { replayMoves, type Move } from '../../core/split/moves.ts';
import type { Split } from '../../core/split/split.ts';
import { acceptAll, mendsFor, offersFor, type Proposal } from '../../core/split/proposals.ts';

/** A take as moves have left it. */
export interface MovedTake {
  /** Where the take's bytes and its first split are, and which of the file's takes it is. */
  address: string;
  pattern: number;
  moves: readonly Move[];
}

export interface AnalysisRequest extends MovedTake {
  /** A chart as it was typed; empty where there is none. */
  chart: string;
  /** Bars that were asked for. */
  asked: number | null;
}

export interface AnalysisAnswer {
  analysis: Analysis;
  /** Why the chart could not be read; null where it could, or there is none. */
  chartProblem: { message: string; unclear: ChartError['unclear'] } | null;
}

/** Takes as they came in, by their address: bytes and first split never change. */
const read = new Map<string, Promise<{ takes: Take[]; first: Split }>>();

/** More would hold memory for takes that nobody looks at any more. */
const MOST_READ = 8;

function capturedAt(address: string): Promise<{ takes: Take[]; first: Split }> {
  const known = read.get(address);
  if (known) return known;
  if (read.size >= MOST_READ) read.delete(read.keys().next().value!);
  const captured = fetchCaptured(address);
  read.set(address, captured);
  captured.catch(() => read.delete(address));
  return captured;
}

async function fetchCaptured(address: string): Promise<{ takes: Take[]; first: Split }> {
  const [file, base] = await Promise.all(['file', 'base'].map((what) => fetch(`${address}/${what}`)));
  for (const { ok, status } of [file!, base!])
    if (!ok) throw new Error(`The take could not be read (${status}).`);
  return {
    takes: readTakes(new Uint8Array(await file!.arrayBuffer())),
    first: splitOf((await base!.json()) as Base),
  };
}

async function moved({ address, pattern, moves }: MovedTake) {
  const { takes, first } = await capturedAt(address);
  return replayMoves(takes[pattern]!, moves, first);
}

/** What could be done to the parts of a take. */
async function worth(asked: MovedTake): Promise<{ mends: Proposal[]; offers: Proposal[] }> {
  const { take, split } = await moved(asked);
  return { mends: mendsFor(take, split), offers: offersFor(take, split) };
}

/** The move that does all that mends a take; null where there is nothing. */
async function allMended(asked: MovedTake): Promise<Move | null> {
  const { take, split } = await moved(asked);
  return acceptAll(take, split);
}

async function analyze({ chart, asked, ...request }: AnalysisRequest): Promise<AnalysisAnswer> {
  const { moves } = request;
  const { take, split } = await moved(request);
  const known = { byHand: byHandOf(moves), ...(asked === null ? {} : { asked }) };
  if (chart.trim() === '') return { analysis: analyzeTake(take, split, known), chartProblem: null };
  try {
    return { analysis: analyzeTake(take, split, { ...known, chart }), chartProblem: null };
  } catch (error) {
    if (!(error instanceof ChartError)) throw error;
    const { message, unclear } = error;
    return { analysis: analyzeTake(take, split, known), chartProblem: { message, unclear } };
  }
}

const api = { worth, allMended, analyze };
export type AnalysisWorker = typeof api;

expose(api);
