import { harmonyOf } from '../src/core/analyze/analysis.ts';
import { takeFrom } from '../src/core/capture/take.ts';
import type { Choice } from '../src/core/comp/choice.ts';
import { cellsOf } from '../src/core/comp/grid.ts';
import { joinChosen, type Joined } from '../src/core/comp/join.ts';
import { alignPasses, passTake, type Aligned, type PassTake } from '../src/core/comp/passes.ts';
import { rowsOf, type Row } from '../src/core/comp/rows.ts';
import { suggest } from '../src/core/comp/suggest.ts';
import { barStart } from '../src/core/music/timeline.ts';
import { splitTake } from '../src/core/split/split.ts';
import { performanceFile } from '../src/core/standins/performance.ts';
import { standInById } from '../src/core/standins/stand-ins.ts';
import type { BenchResult } from './measure.ts';

const CHART = 'Dm | Bb | Gm | A7 | Dm | F | Gm A7 | Dm';

/** Passes whose hands stray by up to 24 ms: some of their downbeats come before the line. */
function passes(count: number, chart: string): PassTake[] {
  const band = standInById('band');
  return Array.from({ length: count }, (_, k) => {
    const settings = { ...band.defaults, chart, choruses: 1, seed: k + 1, looseness: 24 };
    const take = takeFrom(performanceFile(band.play(settings)));
    const split = splitTake(take);
    const id = `pass ${k + 1}`;
    return passTake({ id, name: id }, { take, split }, harmonyOf(take, split));
  });
}

/** Notes that are meant for a line (up to a thirty-second before it) of a row of a pass, before a tick of the result. */
function meantFor(aligned: Aligned, row: Row, pass: number, bar: number, from: number, to: number): number {
  const { take, barAt } = aligned.passes[pass]!;
  const { timeline } = take.timing;
  // All takes of the bench have one resolution, and no lead.
  const shift = barStart(timeline, barAt[bar]!) - bar * 4 * timeline.ppq;
  return row.parts[pass]!.notes.filter((i) => {
    const tick = take.notes.tick[i]! - shift;
    return tick >= from && tick < to;
  }).length;
}

/** Of what is meant for the lines with joints: how much is lost of the pass that comes, and doubled by the one that goes. */
function harm(
  aligned: Aligned,
  rows: readonly Row[],
  { joints, timeline }: Joined,
  cutAt: 'line' | 'silence',
) {
  let [lost, doubled, all] = [0, 0, 0];
  for (const { row, bar, tick, from, to } of joints) {
    if (from === null || to === null) continue;
    const line = bar * 4 * timeline.ppq;
    const early = line - timeline.ppq / 8;
    const cut = cutAt === 'line' ? line : tick;
    all += meantFor(aligned, rows[row]!, to, bar, early, line + timeline.ppq / 8);
    lost += meantFor(aligned, rows[row]!, to, bar, early, Math.max(early, cut));
    doubled += meantFor(aligned, rows[row]!, from, bar, early, Math.max(early, cut));
  }
  return { lost, doubled, all };
}

/**
 * A comp of passes by loose hands with a joint at every bar of every part: strokes that are meant for the line and lost, or doubled, of all that
 * are. The reference cuts on the line. Then the times of 50 passes of 20 minutes.
 */
export function bench(): BenchResult {
  const aligned = alignPasses(passes(10, CHART), CHART);
  const rows = rowsOf(aligned.passes);
  const choice: Choice = rows.map((_, row) => aligned.chart.map((_bar, bar) => (bar * 3 + row) % 10));
  const joined = joinChosen(aligned, rows, choice);
  const ours = harm(aligned, rows, joined, 'silence');
  const reference = harm(aligned, rows, joined, 'line');
  console.log(`${joined.joints.length} joints, ${ours.all} strokes meant for their lines`);
  console.log(`cut in silence: ${ours.lost} lost, ${ours.doubled} doubled; on the line: ${reference.lost} lost, ${reference.doubled} doubled`); // prettier-ignore
  const figures = { joints: joined.joints.length, ...named('silence', ours), ...named('line', reference), ...longest() }; // prettier-ignore
  return {
    bench: 'comp',
    ours: ours.lost + ours.doubled,
    reference: reference.lost + reference.doubled,
    ratio: (ours.lost + ours.doubled) / Math.max(1, reference.lost + reference.doubled),
    unit: 'strokes lost or doubled',
    figures,
  };
}

const named = (name: string, { lost, doubled }: { lost: number; doubled: number }) => ({
  [`${name}Lost`]: lost,
  [`${name}Doubled`]: doubled,
});

/** The most there can be: 50 passes of 480 bars. */
function longest() {
  const chart = Array.from({ length: 60 }, () => CHART).join(' | ');
  const took = <Value>(run: () => Value): [Value, number] => {
    const began = performance.now();
    return [run(), Math.round(performance.now() - began)];
  };
  const [takes, openMs] = took(() => passes(50, chart));
  const [aligned, alignMs] = took(() => alignPasses(takes, chart));
  const [rows, rowsMs] = took(() => rowsOf(aligned.passes));
  const [cells, cellsMs] = took(() => cellsOf(aligned, rows, null, chart));
  const [suggested, suggestMs] = took(() => suggest(cells, chart, { way: 'errors' }));
  const everyBar = rows.map(() => suggested.map((_, bar) => bar % 50));
  const [joined, joinMs] = took(() => joinChosen(aligned, rows, everyBar));
  console.log(`50 passes of 480 bars: opened ${openMs} ms, aligned ${alignMs + rowsMs}, cells ${cellsMs}, suggested ${suggestMs}, ${joined.joints.length} joints ${joinMs} ms`); // prettier-ignore
  return { openMs, alignMs: alignMs + rowsMs, cellsMs, suggestMs, joinMs };
}
