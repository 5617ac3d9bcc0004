import { mergedFields, type Merged } from '../merge/three-way.ts';
import { ChartError, parseChart } from '../music/chart.ts';
import { noChoice, type Choice } from './choice.ts';
import { FEWEST_PASSES, MOST_PASSES, type Pass } from './passes.ts';
import type { Row } from './rows.ts';

/**
 * A comp as it is kept: what was decided, by names that last. What the passes play is found again from the takes as they stand, so that a
 * take whose bars were put right is put right here too.
 */
export interface Comp {
  title: string;
  /** The chart that all takes play. */
  chart: string;
  /** BPM of the result; null for that of the first bar's pass. */
  bpm: number | null;
  /** Ids of takes, in the order they stand in. */
  takes: string[];
  /** By row, by bar (from 1, as text): the pass it is taken from. */
  taken: Record<string, Record<string, string>>;
  /** By pass, bars (from 1, as text) that were starred (true), or whose mark from the recording was taken off (false). */
  stars: Record<string, Record<string, boolean>>;
}

/** A chart as people type it is at most so long. */
export const LONGEST_CHART = 8000;

/** Why a comp cannot be kept; null where it can. */
export function problemOfComp({ takes, chart }: Comp): string | null {
  if (chart.trim() === '') return 'A comp needs the chart that all of its takes play.';
  if (takes.length < FEWEST_PASSES) return 'A comp needs two takes at least.';
  if (takes.length > MOST_PASSES) return `A comp has ${MOST_PASSES} takes at the most.`;
  if (new Set(takes).size < takes.length) return 'A take can be in a comp once.';
  return chartProblem(chart, MOST_BEATS);
}

/** Of a bar; how many chords a bar may have is told where the meter is known. */
const MOST_BEATS = 64;

/** Why a chart cannot be read in bars of so many beats; null where it can. */
export function chartProblem(chart: string, beats: number): string | null {
  try {
    parseChart(chart, beats);
    return null;
  } catch (error) {
    if (error instanceof ChartError) return error.message;
    throw error;
  }
}

/** The name of a pass that lasts: of its take, and which round of it. */
export function passName({ id, round }: Pick<Pass, 'id' | 'round'>): string {
  return `${id} ${round}`;
}

/** The name of a row that lasts. */
export function rowName({ role, name }: Pick<Row, 'role' | 'name'>): string {
  return `${role}: ${name}`;
}

/** Which pass is taken where, by the names of passes and rows; what names one that is no longer there is nothing. */
export function choiceOf(
  { taken }: Pick<Comp, 'taken'>,
  { passes, rows, bars }: { passes: readonly string[]; rows: readonly string[]; bars: number },
): Choice {
  const at = new Map(passes.map((pass, k) => [pass, k]));
  return noChoice(rows.length, bars).map((own, row) =>
    own.map((_, bar) => at.get(taken[rows[row]!]?.[String(bar + 1)] ?? '') ?? null),
  );
}

/** The comp with other passes taken in some bars (from 0, the last included) of some rows, named; null takes nothing there. */
export function withTaken(
  comp: Comp,
  { rows, from, to }: { rows: readonly string[]; from: number; to: number },
  passOfBar: (bar: number) => string | null,
): Comp {
  const taken = { ...comp.taken };
  const bars = Array.from({ length: to - from + 1 }, (_, k) => from + k);
  for (const row of rows) {
    const meant = bars.map((bar) => [String(bar + 1), passOfBar(bar)] as const);
    taken[row] = Object.fromEntries(
      Object.entries({ ...taken[row], ...Object.fromEntries(meant) }).filter(
        (entry): entry is [string, string] => entry[1] !== null,
      ),
    );
  }
  return { ...comp, taken };
}

/** The comp with a bar (from 0) of a pass starred, or not. */
export function withStar(comp: Comp, pass: string, bar: number, isStarred: boolean): Comp {
  return {
    ...comp,
    stars: { ...comp.stars, [pass]: { ...comp.stars[pass], [String(bar + 1)]: isStarred } },
  };
}

/** Whether a bar (from 0) of a pass is starred: as somebody said, else as it was marked while it was played. */
export function isStarred(
  { stars }: Pick<Comp, 'stars'>,
  pass: string,
  bar: number,
  wasMarked: boolean,
): boolean {
  return stars[pass]?.[String(bar + 1)] ?? wasMarked;
}

/** What two people did to one comp: bars and stars are put together one by one. */
export function mergedComp(base: Comp, mine: Comp, theirs: Comp): Merged<Comp> {
  const all = [base, mine, theirs];
  const names = (field: 'taken' | 'stars') => new Set(all.flatMap((comp) => Object.keys(comp[field])));
  // A row that only one of them has begun is an empty one to the others.
  const whole = (comp: Comp): Comp => ({
    ...comp,
    taken: withEvery(comp.taken, names('taken')),
    stars: withEvery(comp.stars, names('stars')),
  });
  return mergedFields(whole(base), whole(mine), whole(theirs));
}

function withEvery<Bars extends object>(
  fields: Record<string, Bars>,
  names: ReadonlySet<string>,
): Record<string, Bars> {
  return Object.fromEntries([...names].map((name) => [name, fields[name] ?? ({} as Bars)]));
}
