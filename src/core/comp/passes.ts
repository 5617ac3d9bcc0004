import { checkChart } from '../analyze/chart-check.ts';
import type { Harmony } from '../analyze/analysis.ts';
import type { ChordFinding } from '../analyze/chords.ts';
import { findBeginning } from '../analyze/edges.ts';
import type { Take } from '../capture/take.ts';
import { parseChart } from '../music/chart.ts';
import { likeliestKey } from '../analyze/key.ts';
import type { Key } from '../music/key.ts';
import { barStart, meantBar, meterAt } from '../music/timeline.ts';
import { UNPITCHED } from '../split/roles.ts';
import { playingParts, type Split } from '../split/split.ts';
import { plural } from '../words.ts';

/** Passes over one chart that can be put together: fewer are none, more nobody hears through. */
export const FEWEST_PASSES = 2;
export const MOST_PASSES = 50;

/** A take as it stands, with the harmony that is heard in it. */
export interface PassTake {
  id: string;
  name: string;
  take: Take;
  split: Split;
  chords: readonly ChordFinding[];
  key: Key | null;
  /** Bars (of the take, from 1) that were marked while it played. */
  stars?: readonly { bar: number; bars: number }[];
}

/** A bar of a pass that sounded otherwise than the chart asks. */
export interface ChartMiss {
  asked: string;
  sounded: string;
}

/** A take with what is heard in it, as a comp lays it along its chart. */
export function passTake(
  named: Pick<PassTake, 'id' | 'name' | 'stars'>,
  { take, split }: { take: Take; split: Split },
  { chords, keys }: Pick<Harmony, 'chords' | 'keys'>,
): PassTake {
  return { ...named, take, split, chords, key: likeliestKey(keys) };
}

/** Once through the chart, as one take played it. */
export interface Pass extends PassTake {
  /** Which round of its take it is, from 1. */
  round: number;
  /** The take's bar (from 1) of each bar of the chart; null where it was not played. */
  barAt: (number | null)[];
  /** What sounded otherwise in each bar of the chart; null where nothing did, or nothing can be said. */
  misses: (ChartMiss | null)[];
  /** Whether it follows the chart; null where it has no pitches to tell by. */
  follows: boolean | null;
  /** Where it begins in its take, in ticks: bar one, or its pickup before it. */
  fromTick: number;
  /** Ticks of its pickup before bar one; 0 where it has none. */
  pickup: number;
}

/** Takes laid along a chart, bar by bar. */
export interface Aligned {
  /** The chart's bars as they are written, repeats written out. */
  chart: string[];
  meter: { numerator: number; denominator: number };
  passes: Pass[];
  /** Bars of takes that belong to no bar of the chart: added ones, and those before bar one. */
  beside: { take: string; bars: number[]; why: 'added' | 'before' }[];
  /** Takes that were left out, and why. */
  leftOut: { take: string; text: string }[];
  /** What should be known of those that were not. */
  remarks: { take: string; text: string }[];
}

/** A take that has fewer of its bars right does not follow the chart. */
const FOLLOWS = 1 / 3;

/**
 * Lays takes along the chart that all of them play: by what sounds, bars too many and too few told apart by dynamic
 * programming; by the number of the bar where nothing is pitched or the chart is not followed. A take that goes through
 * it several times is as many passes.
 * @throws ChartError where the chart cannot be read
 */
export function alignPasses(takes: readonly PassTake[], chart: string): Aligned {
  const meter = commonMeter(takes);
  const written = parseChart(chart, meter.numerator).map((bar) => bar.map(({ symbol }) => symbol).join(' '));
  const aligned: Aligned = {
    ...{ chart: written, meter, passes: [], beside: [], leftOut: [], remarks: [] },
  };
  for (const one of takes) {
    const reason = reasonToLeaveOut(one, meter);
    if (reason !== null) aligned.leftOut.push({ take: one.id, text: reason });
    else alignOne(one, chart, aligned);
  }
  return aligned;
}

function reasonToLeaveOut(
  { name, take, split }: PassTake,
  meter: { numerator: number; denominator: number },
): string | null {
  if (playingParts(split).length === 0) return `${name} has no notes that play.`;
  const other = take.timing.timeline.meters.find(
    ({ numerator, denominator }) => numerator !== meter.numerator || denominator !== meter.denominator,
  );
  if (!other) return null;
  return (
    `${name} has bars of ${other.numerator}/${other.denominator}, and the chart is played in ` +
    `${meter.numerator}/${meter.denominator}: put it in that meter in its take view, or leave it out.`
  );
}

/** The meter that most takes begin in; of equals the first's. */
function commonMeter(takes: readonly PassTake[]): { numerator: number; denominator: number } {
  const counts = new Map<string, { meter: { numerator: number; denominator: number }; takes: number }>();
  for (const { take } of takes) {
    const { numerator, denominator } = meterAt(take.timing.timeline, 0);
    const known = counts.get(`${numerator}/${denominator}`);
    if (known) known.takes++;
    else counts.set(`${numerator}/${denominator}`, { meter: { numerator, denominator }, takes: 1 });
  }
  const [most] = [...counts.values()].sort((a, b) => b.takes - a.takes);
  return most?.meter ?? { numerator: 4, denominator: 4 };
}

/** Adds the passes of one take, and what of it belongs to none. */
function alignOne(one: PassTake, chart: string, aligned: Aligned): void {
  const { take, split } = one;
  const beginning = findBeginning(take, split);
  const first = firstBar(take, beginning);
  const last = lastBar(take, split);
  const count = aligned.chart.length;
  const steps = stepsAlong(one, chart, first, last);
  const isPitched = playingParts(split).some(({ part }) => !UNPITCHED.has(part.role));
  const right = steps.filter(({ same }) => same).length;
  const asked = steps.filter(({ chartBar }) => chartBar !== null).length;
  const follows = isPitched ? right >= FOLLOWS * asked : null;
  const used = follows === false ? byNumber(first, last, count) : steps;
  if (beginning.lateTicks > 0)
    aligned.remarks.push({
      take: one.id,
      text: `${one.name} stands beside its bars: pull it to bar one in its take view first.`,
    });
  if (follows === false)
    aligned.remarks.push({
      take: one.id,
      text: `${one.name} does not follow the chart (${right} of ${plural(asked, 'bar')}): its bars are taken by their number.`,
    });
  const rounds = roundsOf(used, count);
  rounds.forEach((round, k) => {
    const barAt = round.map((step) => step?.bar ?? null);
    const pickup = k === 0 ? beginning.pickupTicks : 0;
    const begins = barStart(take.timing.timeline, barAt.find((bar) => bar !== null) ?? first);
    aligned.passes.push({
      ...one,
      ...{ name: rounds.length > 1 ? `${one.name}, round ${k + 1}` : one.name, round: k + 1, barAt, follows },
      misses: round.map((step) =>
        follows && step?.bar != null && !step.same ? { asked: step.asked, sounded: step.sounded } : null,
      ),
      fromTick: Math.max(0, begins - pickup),
      pickup,
    });
  });
  const added = used.flatMap(({ bar, chartBar }) => (chartBar === null && bar !== null ? [bar] : []));
  if (added.length > 0) aligned.beside.push({ take: one.id, bars: added, why: 'added' });
  if (first > 1)
    aligned.beside.push({ take: one.id, bars: Array.from({ length: first - 1 }, (_, k) => k + 1), why: 'before' }); // prettier-ignore
}

/** The bar in which the music begins: behind a count-in, and behind the bar in which a pickup stands. */
function firstBar(take: Take, beginning: ReturnType<typeof findBeginning>): number {
  const { timeline } = take.timing;
  const { leadingTicks, countInBars, pickupInto } = beginning;
  if (pickupInto > 0) return pickupInto;
  return meantBar(timeline, leadingTicks) + countInBars;
}

/** The last bar in which something that plays begins. */
function lastBar(take: Take, split: Split): number {
  const { timeline } = take.timing;
  const last = playingParts(split).reduce(
    (most, { notes }) => notes.reduce((late, i) => Math.max(late, take.notes.tick[i]!), most),
    0,
  );
  return meantBar(timeline, last);
}

interface Step {
  /** Of the take and of the chart, from 1. */
  bar: number | null;
  chartBar: number | null;
  same: boolean;
  asked: string;
  sounded: string;
}

/** The bars of a take beside those of the chart, as far as the chords tell. */
function stepsAlong({ take, chords, key }: PassTake, chart: string, first: number, last: number): Step[] {
  const shift = first - 1;
  const moved = chords
    .filter(({ endTick }) => endTick > barStart(take.timing.timeline, first))
    .map((one) => (one.bar < first ? { ...one, bar: 1, beat: 1 } : { ...one, bar: one.bar - shift }));
  const { numerator } = meterAt(take.timing.timeline, 0);
  const { aligned } = checkChart(chart, numerator, moved, Math.max(1, last - shift), key);
  return aligned.map(({ bar, ...step }) => ({ ...step, bar: bar === null ? null : bar + shift }));
}

/** Bars by their number, the chart as often as it fits whole, and once at least. */
function byNumber(first: number, last: number, count: number): Step[] {
  const bars = last - first + 1;
  const rounds = Math.max(1, Math.floor(bars / count));
  const plain = { same: false, asked: '', sounded: '' };
  return Array.from({ length: Math.max(bars, rounds * count) }, (_, k) => ({
    ...plain,
    bar: k < bars ? first + k : null,
    chartBar: k < rounds * count ? (k % count) + 1 : null,
  }));
}

/** Each round's steps by the bars of the chart. */
function roundsOf(steps: readonly Step[], count: number): (Step | null)[][] {
  const along = steps.filter(({ chartBar }) => chartBar !== null);
  const rounds = Math.max(1, Math.round(along.length / count));
  return Array.from({ length: rounds }, (_, round) =>
    Array.from({ length: count }, (_unused, bar) => along[round * count + bar] ?? null),
  ).filter((round) => round.some((step) => step?.bar != null));
}
