import { barLikeness, barOf, barsOf, type Bar } from '../analyze/bars-alike.ts';
import { checkChart } from '../analyze/chart-check.ts';
import { ChartError } from '../music/chart.ts';
import type { ChordFinding } from '../analyze/chords.ts';
import type { Take } from '../capture/take.ts';
import type { Key } from '../music/key.ts';
import { barsUntil, meterAt } from '../music/timeline.ts';
import { playingParts, type Split } from '../split/split.ts';

/** What a run plays, as runs are compared. */
export interface RunHeard {
  position: number;
  bars: Bar[];
  /** Share of the chart's bars that sounded otherwise, 0..1; null where none was asked, or nothing tells. */
  missed: number | null;
}

/** The same as it is kept: of each bar its notes, as steps times 128 and pitches. */
export interface KeptHeard {
  bars: number[][];
  missed: number | null;
}

export function keptHeard({ bars, missed }: Pick<RunHeard, 'bars' | 'missed'>): KeptHeard {
  return { bars: bars.map(({ notes }) => [...notes]), missed };
}

/** A run as it was kept; a silent one where nothing was. */
export function heardAgain(position: number, kept: KeptHeard | null): RunHeard {
  return { position, bars: (kept?.bars ?? []).map(barOf), missed: kept?.missed ?? null };
}

/** What is said of a run among the others. */
export type RunVerdict = 'distinct' | 'same' | 'silent' | 'off the chart';

export interface RunFinding {
  position: number;
  verdict: RunVerdict;
  /** The earlier run that it is the same as; null for all others. */
  sameAs: number | null;
  /** How like the nearest other distinct run it is, 0..1; of the same again, like that one. 0 where there is none. */
  likeness: number;
  missed: number | null;
}

/** What shares more than this with an earlier run is that run again. */
const SAME = 0.97;

/** A run that misses the chart in more of its bars is off it. */
const OFF = 0.5;

/** What a take plays, for the sheet. */
export function runHeard(
  position: number,
  {
    take,
    split,
    chords,
    key,
  }: { take: Take; split: Split; chords: readonly ChordFinding[]; key: Key | null },
  chart: string | null,
): RunHeard {
  const notes = playingParts(split).flatMap((part) => part.notes);
  return { position, bars: barsOf(take, notes), missed: missedShare(take, chords, key, chart) };
}

function missedShare(
  take: Take,
  chords: readonly ChordFinding[],
  key: Key | null,
  chart: string | null,
): number | null {
  if (chart === null || chords.length === 0) return null;
  const { timeline, ticks } = take.timing;
  const { numerator } = meterAt(timeline, 0);
  try {
    const { aligned } = checkChart(chart, numerator, chords, Math.max(1, barsUntil(timeline, ticks)), key);
    const asked = aligned.filter(({ chartBar }) => chartBar !== null);
    return asked.length === 0 ? null : asked.filter(({ same }) => !same).length / asked.length;
  } catch (error) {
    // A chart that is read in four beats may not be in three.
    if (error instanceof ChartError) return null;
    throw error;
  }
}

/** How alike two runs are, bar by bar, 0..1: bars that one has more are unlike. */
function runLikeness(one: readonly Bar[], other: readonly Bar[]): number {
  const length = Math.max(one.length, other.length);
  if (length === 0) return 1;
  let sum = 0;
  for (let k = 0; k < length; k++) {
    const [a, b] = [one[k], other[k]];
    if (a && b) sum += a.notes.length + b.notes.length === 0 ? 1 : barLikeness(a, b);
  }
  return sum / length;
}

/** Tells runs that are distinct from those that are silent, off the chart, or an earlier one again. */
export function sheetOf(runs: readonly RunHeard[]): RunFinding[] {
  const distinct: RunHeard[] = [];
  const told = runs.map((run): { run: RunHeard; verdict: RunVerdict; same: RunHeard | null } => {
    if (run.bars.every(({ notes }) => notes.length === 0)) return { run, verdict: 'silent', same: null };
    if (run.missed !== null && run.missed > OFF) return { run, verdict: 'off the chart', same: null };
    const same = distinct.find((other) => runLikeness(run.bars, other.bars) > SAME) ?? null;
    if (!same) distinct.push(run);
    return { run, verdict: same ? 'same' : 'distinct', same };
  });
  return told.map(({ run, verdict, same }) => ({
    ...{ position: run.position, missed: run.missed, verdict, sameAs: same?.position ?? null },
    likeness: verdict === 'silent' ? 0 : nearest(run, same ? [same] : distinct),
  }));
}

/** How like the nearest of some other runs a run is. */
function nearest(run: RunHeard, others: readonly RunHeard[]): number {
  return others.reduce(
    (most, other) => (other === run ? most : Math.max(most, runLikeness(run.bars, other.bars))),
    0,
  );
}

/** "36 runs, 19 distinct, 2 silent, 1 off the chart". */
export function sheetWords(findings: readonly Pick<RunFinding, 'verdict'>[]): string {
  const count = (verdict: RunVerdict) => findings.filter((one) => one.verdict === verdict).length;
  const runs = `${findings.length} ${findings.length === 1 ? 'run' : 'runs'}`;
  return [
    runs,
    `${count('distinct')} distinct`,
    ...(['same', 'silent', 'off the chart'] as const).flatMap((verdict) =>
      count(verdict) > 0 ? [`${count(verdict)} ${verdict === 'same' ? 'the same as another' : verdict}`] : [],
    ),
  ].join(', ');
}
