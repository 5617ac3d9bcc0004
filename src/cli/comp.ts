import { writeFileSync } from 'node:fs';
import { basename } from 'node:path';
import { harmonyOf } from '../core/analyze/analysis.ts';
import { noChoice, taken } from '../core/comp/choice.ts';
import { compToMidi, tallyOf } from '../core/comp/comp.ts';
import { cellsOf } from '../core/comp/grid.ts';
import { joinChosen } from '../core/comp/join.ts';
import { alignPasses, FEWEST_PASSES, MOST_PASSES, passTake, type PassTake } from '../core/comp/passes.ts';
import { rowsOf } from '../core/comp/rows.ts';
import { suggest, SUGGESTIONS, type Suggestion } from '../core/comp/suggest.ts';
import { jointWords, whyWords } from '../core/comp/words.ts';
import { writeMidiFile } from '../core/midi/write.ts';
import { ChartError } from '../core/music/chart.ts';
import { splitOfFile } from './opened-file.ts';
import { Refusal, table, type Output } from './output.ts';

export interface CompOptions {
  chart: string;
  suggest: string;
  out: string;
}

/** `comp FILE... --chart CHART [--suggest errors|fills] --out FILE.mid`: the best bars of several passes as one. Returns the exit code. */
export function compCommand(files: readonly string[], options: CompOptions, out: Output): number {
  const { chart, out: file } = options;
  if (!(SUGGESTIONS as readonly string[]).includes(options.suggest))
    throw new Refusal(`--suggest ${options.suggest}: there are ${SUGGESTIONS.join(', ')}.`);
  const way = options.suggest as Suggestion;
  const { takes, refused } = takesOf(files, out.problem);
  const aligned = alignedOrRefused(takes, chart);
  for (const { text } of [...aligned.leftOut, ...aligned.remarks]) out.problem(text);
  if (aligned.passes.length < FEWEST_PASSES)
    throw new Refusal(
      `A comp needs two passes that play the chart; there is ${aligned.passes.length || 'none'}.`,
    );
  const rows = rowsOf(aligned.passes);
  const cells = cellsOf(aligned, rows, null, chart);
  const isStarred = (pass: number, bar: number) => cells[pass]![bar]?.wasMarked ?? false;
  const suggested = suggest(cells, chart, { way, isStarred });
  const choice = suggested.reduce(
    (done, { pass }, bar) => taken(done, { row: null, from: bar, to: bar }, pass),
    noChoice(rows.length, aligned.chart.length),
  );
  const joined = joinChosen(aligned, rows, choice);
  const key = takes[0]?.key ?? null;
  const name = basename(file).replace(/\.midi?$/i, '');
  writeFileSync(file, writeMidiFile(compToMidi(name, { aligned, rows, choice, joined, key })));
  const tally = tallyOf(aligned, rows, choice, joined);
  const bars = suggested.map(({ pass, why }, bar) => ({
    bar: bar + 1,
    from: pass === null ? null : aligned.passes[pass]!.id,
    ...(pass !== null && aligned.passes[pass]!.round > 1 ? { round: aligned.passes[pass]!.round } : {}),
    why: whyWords(why),
  }));
  const answer = {
    ...{ out: file, passes: aligned.passes.length, bars, used: tally.bars.used, notUsed: tally.bars.notUsed },
    tally,
    joints: joined.joints.map((joint) => ({
      ...{ bar: joint.bar + 1, part: rows[joint.row]!.name, tick: joint.tick, marks: joint.marks },
      text: jointWords(joint),
    })),
    leftOut: aligned.leftOut.map(({ take, text }) => ({ file: take, reason: text })),
  };
  if (out.json) out.answer(JSON.stringify(answer));
  else {
    const rowsOut = bars.map(({ bar, from, why }) => [String(bar), from ?? '-', why]);
    out.answer(table([['bar', 'from', 'why'], ...rowsOut]));
    out.answer(`${tally.bars.used} of ${tally.bars.in} bars used. Written: ${file}`);
  }
  return refused || aligned.leftOut.length > 0 ? 1 : 0;
}

/** Files as takes with their harmony; what cannot be read is named, and the others go on. */
function takesOf(
  files: readonly string[],
  problem: (text: string) => void,
): { takes: PassTake[]; refused: boolean } {
  if (files.length > MOST_PASSES) throw new Refusal(`A comp has ${MOST_PASSES} takes at the most.`);
  let refused = false;
  const takes = files.flatMap((file) => {
    try {
      const read = splitOfFile(file, problem);
      return [passTake({ id: file, name: basename(file) }, read, harmonyOf(read.take, read.split))];
    } catch (error) {
      if (!(error instanceof Refusal)) throw error;
      refused = true;
      problem(error.message);
      return [];
    }
  });
  return { takes, refused };
}

function alignedOrRefused(takes: readonly PassTake[], chart: string) {
  try {
    return alignPasses(takes, chart);
  } catch (error) {
    if (error instanceof ChartError) throw new Refusal(`--chart: ${error.message}`);
    throw error;
  }
}
