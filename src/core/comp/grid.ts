import { group } from 'd3-array';
import { barLikeness, barOf, type Bar } from '../analyze/bars-alike.ts';
import { mean, upperMedian } from '../numbers.ts';
import { distancesFromGrid, findFeel } from '../analyze/feel.ts';
import type { Take } from '../capture/take.ts';
import { parseChart } from '../music/chart.ts';
import { barStart, meantBar } from '../music/timeline.ts';
import { UNPITCHED } from '../split/roles.ts';
import type { Aligned, ChartMiss, Pass } from './passes.ts';
import { pitchOf, type Row } from './rows.ts';

/** What one part (or all of them) plays in one bar of one pass. */
export interface Cell {
  /** The take's bar, from 1. */
  bar: number;
  /** Its notes, as indices into the take's. */
  notes: number[];
  /** What sounds otherwise than the chart asks; null where nothing does. */
  miss: ChartMiss | null;
  /** How far its onsets lie from the grid of their parts at the mean, in milliseconds; null where nothing can be said. */
  looseMs: number | null;
  isLoose: boolean;
  /** How late its onsets are at the mean, in milliseconds, and how hard they are struck (velocity). */
  lateMs: number;
  velocity: number;
  /** How like the same bar of other passes it is at the mean, 0..1; unlike all of them where none comes near. */
  likeness: number;
  isUnlike: boolean;
  /** Whether it was marked while it was played. */
  wasMarked: boolean;
  /** Its notes on the steps of its bar, as bars are compared. */
  plays: Bar;
}

/** Cells of one row: by pass, by bar of the chart; null where a pass has no such bar or part. */
export type Cells = (Cell | null)[][];

/** Twice as far from the grid as most, and far enough to be heard, in milliseconds. */
const LOOSE_FACTOR = 2;
const LOOSE_MS = 12;

/** Nothing comes near where no other bar shares more, while most others have one that does. */
const UNLIKE = 0.4;
const MOST_ALIKE = 0.6;

/** A part has missed the chart where so much of what it sounds in a bar that did is in no chord that was asked. */
const WRONG_SHARE = 0.12;

/** Sixteenths: what bars are compared on, in quarter notes. */
const STEP = 1 / 4;

/** The cells of one row, or of all parts together where none is named. */
export function cellsOf(aligned: Aligned, rows: readonly Row[], row: Row | null, chart: string): Cells {
  const { passes, meter } = aligned;
  const asked = parseChart(chart, meter.numerator).map(
    (chords) => new Set(chords.flatMap(({ tones, bass }) => [...tones, bass])),
  );
  const meant = row ? [row] : rows;
  const cells = passes.map((pass, at) => cellsOfPass(pass, at, meant, row ? asked : null));
  markLoose(cells);
  for (let bar = 0; bar < aligned.chart.length; bar++) markUnlike(cells, bar);
  return cells;
}

function cellsOfPass(
  pass: Pass,
  at: number,
  rows: readonly Row[],
  asked: readonly ReadonlySet<number>[] | null,
): (Cell | null)[] {
  const { take } = pass;
  const playing = rows.flatMap((row) => row.parts[at] ?? []);
  const parts = playing.map(({ part, notes }) => ({
    isPitched: !UNPITCHED.has(part.role),
    byBar: notesByBar(take, notes),
    feel: findFeel(take, notes),
    pitch: (i: number) => pitchOf({ part }, take.notes.pitch[i]!),
  }));
  const stars = pass.stars ?? [];
  return pass.barAt.map((bar, k) => {
    if (bar === null || parts.length === 0) return null;
    const notes = parts.flatMap(({ byBar }) => byBar.get(bar) ?? []);
    const distances = parts.flatMap(({ byBar, feel }) => distancesFromGrid(take, byBar.get(bar) ?? [], feel));
    const pitched = parts.flatMap(({ isPitched, byBar }) => (isPitched ? (byBar.get(bar) ?? []) : []));
    const miss = pass.misses[k] ?? null;
    return {
      ...{ bar, notes, isLoose: false, likeness: 1, isUnlike: false },
      // All parts together miss what the pass misses; of one part its own notes say whether it does.
      miss: miss && (!asked || isWrong(take, pitched, asked[k]!)) ? miss : null,
      looseMs: distances.length === 0 ? null : mean(distances.map(Math.abs)),
      lateMs: mean(distances),
      velocity: mean(notes.map((i) => take.notes.velocity[i]!)),
      wasMarked: stars.some((star) => bar >= star.bar && bar < star.bar + star.bars),
      plays: barOf(
        parts.flatMap(({ byBar, pitch }) =>
          (byBar.get(bar) ?? []).map((i) => 128 * stepOf(take, bar, i) + pitch(i)),
        ),
      ),
    };
  });
}

/** Notes by the bars they are meant for: a little ahead of a bar line is meant for the bar that comes. */
function notesByBar(take: Take, notes: readonly number[]): Map<number, number[]> {
  const { timeline } = take.timing;
  return group(notes, (i) => meantBar(timeline, take.notes.tick[i]!));
}

function isWrong(take: Take, notes: readonly number[], asked: ReadonlySet<number>): boolean {
  const { pitch, duration } = take.notes;
  let [wrong, all] = [0, 0];
  for (const i of notes) {
    all += duration[i]!;
    if (!asked.has(pitch[i]! % 12)) wrong += duration[i]!;
  }
  return all > 0 && wrong >= WRONG_SHARE * all;
}

function markLoose(cells: Cells): void {
  const all = cells.flat().flatMap((cell) => cell?.looseMs ?? []);
  const usual = upperMedian(all);
  for (const cell of cells.flat())
    if (cell?.looseMs != null) cell.isLoose = cell.looseMs > Math.max(LOOSE_MS, LOOSE_FACTOR * usual);
}

/** Holds one bar of all passes against each other. */
function markUnlike(cells: Cells, bar: number): void {
  const there = cells.flatMap((own) => own[bar] ?? []);
  if (there.length < 2) return;
  const alike = there.map(({ plays }, i) =>
    there.map((other, j) => (i === j ? 1 : barLikeness(plays, other.plays))),
  );
  const nearest = alike.map((row, i) => Math.max(...row.filter((_, j) => j !== i)));
  there.forEach((cell, i) => {
    cell.likeness = mean(alike[i]!.filter((_, j) => j !== i));
    const others = nearest.filter((_, j) => j !== i);
    cell.isUnlike = there.length > 2 && nearest[i]! < UNLIKE && upperMedian(others) > MOST_ALIKE;
  });
}

/** The sixteenth of its bar that a note is nearest to, from 0. */
function stepOf({ timing: { timeline }, notes }: Take, bar: number, note: number): number {
  return Math.max(0, Math.round((notes.tick[note]! - barStart(timeline, bar)) / (timeline.ppq * STEP)));
}
