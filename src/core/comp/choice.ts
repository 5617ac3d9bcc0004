/** Which pass is taken where: for each row, for each bar of the chart, a pass (from 0) or nothing. */
export type Choice = readonly (readonly (number | null)[])[];

/** Nothing chosen yet. */
export function noChoice(rows: number, bars: number): Choice {
  return Array.from({ length: rows }, () => Array.from({ length: bars }, () => null));
}

/** A stretch of bars (from 0, the last included) of one row, or of all of them where none is named. */
export interface Stretch {
  row: number | null;
  from: number;
  to: number;
}

/** The choice with a stretch taken from a pass, or left empty. */
export function taken(choice: Choice, { row, from, to }: Stretch, pass: number | null): Choice {
  return choice.map((bars, at) =>
    row !== null && at !== row ? bars : bars.map((old, bar) => (bar >= from && bar <= to ? pass : old)),
  );
}

/** The pass that a bar is taken from: one where all rows agree that have any, else nothing. */
export function passOfBar(choice: Choice, bar: number): number | null {
  const chosen = new Set(choice.map((bars) => bars[bar]!).filter((pass) => pass !== null));
  return chosen.size === 1 ? [...chosen][0]! : null;
}

/** Bars of one row that are taken from one pass without a break: from 0, the last included. */
export interface Run {
  pass: number;
  from: number;
  to: number;
}

/**
 * The stretches of a row. Bars of one pass that did not follow each other when they were played are two: there is a joint between them.
 */
export function runsOf(
  bars: readonly (number | null)[],
  barAt: readonly (readonly (number | null)[])[],
): Run[] {
  const runs: Run[] = [];
  bars.forEach((pass, bar) => {
    if (pass === null || barAt[pass]![bar] === null) return;
    const last = runs.at(-1);
    const follows =
      last?.pass === pass && last.to === bar - 1 && barAt[pass]![bar]! === barAt[pass]![bar - 1]! + 1;
    if (follows) last.to = bar;
    else runs.push({ pass, from: bar, to: bar });
  });
  return runs;
}
