import { chartSections } from '../music/chart.ts';
import { upperMedian } from '../numbers.ts';
import type { Cells } from './grid.ts';

/** What is looked for: the fewest chart errors; or, where a section ends, the fills that are least like the others. */
export const SUGGESTIONS = ['errors', 'fills'] as const;
export type Suggestion = (typeof SUGGESTIONS)[number];

/** Why a bar is taken from where it is, as a code: `words.ts` says it. */
export type Why = 'only' | 'fewest errors' | 'starred' | 'feel' | 'fill' | 'goes on' | 'none';

export interface SuggestedBar {
  /** From 0; null where no pass has the bar. */
  pass: number | null;
  why: Why;
}

/** Whether somebody starred a bar of a pass. */
type Starred = (pass: number, bar: number) => boolean;

/** What things weigh: an error more than any star, a star more than any feel, a feel more than a joint. */
const ERROR = 100;
const STAR = 20;
const FILL = 8;
const FEEL = 1;
const JOINT = 0.4;

/** What is as far from the median as this is wholly away from it: milliseconds and velocity. */
const FAR_MS = 20;
const FAR_VELOCITY = 20;

/**
 * For every bar a pass: the one with the fewest chart errors, then one that was starred, then the one nearest to the median feel; of what
 * is nearly equal the one that goes on as before, so that there are no more joints than needed. Dynamic programming over the bars.
 */
export function suggest(
  cells: Cells,
  chart: string,
  { way, isStarred = () => false }: { way: Suggestion; isStarred?: Starred },
): SuggestedBar[] {
  const bars = cells[0]?.length ?? 0;
  const fills = way === 'fills' ? fillBars(chart, bars) : new Set<number>();
  const prices = Array.from({ length: bars }, (_, bar) => pricesOfBar(cells, bar, fills.has(bar), isStarred));
  const path = cheapestPath(prices, cells);
  return path.map((pass, bar) => ({
    pass,
    why: whyTaken({ cells, bar, pass, isFill: fills.has(bar), isStarred, before: path[bar - 1] ?? null }),
  }));
}

/** Bars (from 0) in which fills are played: the last of each section of the chart; of four where it names none. */
export function fillBars(chart: string, bars: number): Set<number> {
  const sections = chartSections(chart);
  const ends: number[] = [];
  if (sections.length > 1) {
    let at = 0;
    for (const section of sections) ends.push((at += section.bars.length) - 1);
  } else for (let bar = 3; bar < bars; bar += 4) ends.push(bar);
  return new Set(ends.filter((bar) => bar < bars));
}

/** What taking a bar from each pass costs; Infinity where it has none. */
function pricesOfBar(cells: Cells, bar: number, isFill: boolean, isStarred: Starred): number[] {
  const there = cells.flatMap((own) => own[bar] ?? []);
  const late = upperMedian(there.map(({ lateMs }) => lateMs));
  const loud = upperMedian(there.map(({ velocity }) => velocity));
  return cells.map((own, pass) => {
    const cell = own[bar];
    if (!cell) return Infinity;
    const away =
      Math.min(1, Math.abs(cell.lateMs - late) / FAR_MS) +
      Math.min(1, Math.abs(cell.velocity - loud) / FAR_VELOCITY) +
      (cell.isLoose ? 1 : 0);
    return (
      (cell.miss ? ERROR : 0) -
      (isStarred(pass, bar) ? STAR : 0) -
      (isFill ? FILL * (1 - cell.likeness) : 0) +
      (FEEL * away) / 3
    );
  });
}

/** The pass of each bar with the least price in all, joints included; of equals the earlier pass. */
function cheapestPath(prices: readonly (readonly number[])[], cells: Cells): (number | null)[] {
  const passes = cells.length;
  const back: (number | null)[][] = [];
  let costs: number[] = new Array<number>(passes).fill(0);
  let reachable = false;
  prices.forEach((own, bar) => {
    const from: (number | null)[] = [];
    const cheapest = costs.reduce((best, cost, k) => (cost < costs[best]! ? k : best), 0);
    const next = own.map((price, pass) => {
      const goesOn = follows(cells, pass, bar) ? costs[pass]! : Infinity;
      const jumps = costs[cheapest]! + (reachable ? JOINT : 0);
      from.push(goesOn <= jumps ? pass : cheapest);
      return price + Math.min(goesOn, jumps);
    });
    back.push(from);
    // A bar that nobody has breaks the path; what comes after it begins anew.
    reachable = next.some(Number.isFinite);
    costs = reachable ? next : costs.map(() => 0);
  });
  return trace(prices, back, costs);
}

function trace(
  prices: readonly (readonly number[])[],
  back: readonly (readonly (number | null)[])[],
  costs: readonly number[],
): (number | null)[] {
  const path: (number | null)[] = new Array<number | null>(prices.length).fill(null);
  let at: number | null = null;
  for (let bar = prices.length - 1; bar >= 0; bar--) {
    const own = prices[bar]!;
    if (!own.some(Number.isFinite)) {
      at = null;
      continue;
    }
    at ??= leastOf(bar === prices.length - 1 ? costs : own);
    path[bar] = at;
    at = back[bar]![at]!;
    if (bar > 0 && !Number.isFinite(prices[bar - 1]![at]!)) at = null;
  }
  return path;
}

function leastOf(values: readonly number[]): number {
  return values.reduce((best, value, k) => (value < values[best]! ? k : best), 0);
}

/** Whether a pass's bar followed the one before when it was played. */
function follows(cells: Cells, pass: number, bar: number): boolean {
  const [before, here] = [cells[pass]![bar - 1], cells[pass]![bar]];
  return Boolean(before && here && here.bar === before.bar + 1);
}

function whyTaken(told: {
  cells: Cells;
  bar: number;
  pass: number | null;
  isFill: boolean;
  isStarred: Starred;
  before: number | null;
}): Why {
  const { cells, bar, pass, isFill, isStarred, before } = told;
  if (pass === null) return 'none';
  const there = cells.flatMap((own, at) => (own[bar] ? [{ at, cell: own[bar] }] : []));
  if (there.length === 1) return 'only';
  const { cell } = there.find(({ at }) => at === pass)!;
  if (isStarred(pass, bar)) return 'starred';
  if (isFill && there.every((other) => other.cell.likeness >= cell.likeness)) return 'fill';
  if (!cell.miss && there.some((other) => other.cell.miss)) return 'fewest errors';
  return before === pass ? 'goes on' : 'feel';
}
