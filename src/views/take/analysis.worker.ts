/** Analysis in a thread of its own: the page goes on drawing while it works. */
import { expose } from 'comlink';
import { analyzeTake, type Analysis } from '../../core/analyze/analysis.ts';
import { readTakes, type Take } from '../../core/capture/take.ts';
import { ChartError } from '../../core/music/chart.ts';
import { byHandOf } from '../../core/split/by-hand.ts';
import { replayMoves, type Move } from '../../core/split/moves.ts';
import { acceptAll, mendsFor, offersFor, type Proposal } from '../../core/split/proposals.ts';

/** A take as moves have left it. */
export interface MovedTake {
  /** Where the take's bytes are, and which of the file's takes it is. */
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

/** Takes by their address: their bytes never change. */
const read = new Map<string, Promise<Take[]>>();

/** More would hold memory for takes that nobody looks at any more. */
const MOST_READ = 8;

function takesAt(address: string): Promise<Take[]> {
  const known = read.get(address);
  if (known) return known;
  if (read.size >= MOST_READ) read.delete(read.keys().next().value!);
  const takes = fetchBytes(address).then(readTakes);
  read.set(address, takes);
  takes.catch(() => read.delete(address));
  return takes;
}

async function fetchBytes(address: string): Promise<Uint8Array> {
  const answer = await fetch(address);
  if (!answer.ok) throw new Error(`The take could not be read (${answer.status}).`);
  return new Uint8Array(await answer.arrayBuffer());
}

async function moved({ address, pattern, moves }: MovedTake) {
  return replayMoves((await takesAt(address))[pattern]!, moves);
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
