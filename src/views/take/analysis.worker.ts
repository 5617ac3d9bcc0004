/** Analysis in a thread of its own: the page goes on drawing while it works. */
import { expose } from 'comlink';
import { analyzeTake, type Analysis } from '../../core/analyze/analysis.ts';
import { readingHeardAnew } from '../../core/analyze/reading-anew.ts';
import { completed, readingOf, toldAfter, type KeptReading, type Told } from '../../core/analyze/reading.ts';
import type { Take } from '../../core/capture/take.ts';
import { ChartError } from '../../core/music/chart.ts';
import { byHandOf } from '../../core/split/by-hand.ts';
import { continueMoves, type Move } from '../../core/split/moves.ts';
import { rolesHeardAnew, splitOfToday } from '../../core/split/heard-anew.ts';
import { acceptAll, mendsFor, offersFor, type Proposal } from '../../core/split/proposals.ts';
import type { Split } from '../../core/split/split.ts';
import { fetchCaptured, type CapturedTake } from '../api/captured.ts';
import { request as fetchJson } from '../api/client.ts';

/** A take as moves have left it. */
export interface MovedTake {
  id: string;
  /** Which of the file's takes it is. */
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

/** A take as it came in, with the first split that would be found today: found once, not with every move. */
interface KnownTake extends CapturedTake {
  today: Split;
  /** What it was told by older methods. */
  kept: KeptReading[];
}

/** Takes as they came in, by their ids. */
const captured = new Map<string, Promise<KnownTake>>();

/** More would hold memory for takes that nobody looks at any more. */
const MOST_CAPTURED = 8;

function knownTake({ id, pattern }: MovedTake): Promise<KnownTake> {
  const known = captured.get(id);
  if (known) return known;
  if (captured.size >= MOST_CAPTURED) captured.delete(captured.keys().next().value!);
  const fetched = Promise.all([
    fetchCaptured(id, pattern),
    fetchJson<KeptReading[]>(`/api/takes/${id}/told`),
  ]).then(([first, kept]) => ({
    ...first,
    kept,
    today: splitOfToday(first.take, first.split, first.method),
  }));
  captured.set(id, fetched);
  fetched.catch(() => captured.delete(id));
  return fetched;
}

async function moved(asked: MovedTake) {
  const first = await knownTake(asked);
  return { first, ...continueMoves(first.take, first.split, asked.moves) };
}

/** What could be done to the parts of a take. */
async function worth(asked: MovedTake): Promise<{ mends: Proposal[]; offers: Proposal[] }> {
  const { first, take, split } = await moved(asked);
  return {
    mends: mendsFor(take, split),
    offers: [
      ...rolesHeardAnew(first.split, first.today, split),
      ...musicHeardAnew(take, split, toldAfter(first.kept, asked.moves)),
      ...offersFor(take, split),
    ],
  };
}

/** What was told belongs to one state of what is heard: names and what people say change nothing in it. */
const offersByTold = new WeakMap<Told, Proposal[]>();

/** What was told of the music against what is found in it today. */
function musicHeardAnew(take: Take, split: Split, told: Told | undefined): Proposal[] {
  if (!told) return [];
  let offers = offersByTold.get(told);
  if (!offers) {
    const found = analyzeTake(take, split);
    const today = readingOf(found);
    offers = readingHeardAnew(completed(told, today, found.bars), today, found.bars);
    offersByTold.set(told, offers);
  }
  return offers.filter(({ id }) => !split.refused.includes(id));
}

/** The move that does all that mends a take; null where there is nothing. */
async function allMended(asked: MovedTake): Promise<Move | null> {
  const { take, split } = await moved(asked);
  return acceptAll(take, split);
}

async function analyze({ chart, asked, ...request }: AnalysisRequest): Promise<AnalysisAnswer> {
  const { moves } = request;
  const { first, take, split } = await moved(request);
  const told = toldAfter(first.kept, moves);
  const known = { byHand: byHandOf(moves), told, ...(asked === null ? {} : { asked }) };
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
