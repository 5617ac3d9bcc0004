import { mkdirSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { array, lazy, mixed, number, object, string } from 'yup';
import { harmonyOf } from '../core/analyze/analysis.ts';
import { takeFrom } from '../core/capture/take.ts';
import { writeMidiFile } from '../core/midi/write.ts';
import { ChartError } from '../core/music/chart.ts';
import { safeFileName } from '../core/phrase/naming.ts';
import { mended } from '../core/split/proposals.ts';
import { splitTake } from '../core/split/split.ts';
import { performanceFile, type Performance } from '../core/standins/performance.ts';
import { STAND_INS } from '../core/standins/stand-ins.ts';
import { playRun } from '../core/sweep/play.ts';
import {
  problemOfPlan,
  runName,
  runsOf,
  type SweepPlan,
  type SweepSettings,
  type SweepValue,
} from '../core/sweep/plan.ts';
import { runHeard, sheetOf, sheetWords, type RunHeard } from '../core/sweep/sheet.ts';
import { CERTAIN } from './opened-file.ts';
import { readJson } from './json-file.ts';
import { Refusal, table, type Output } from './output.ts';

export interface SweepOptions {
  out?: string;
}

const value = () => mixed<SweepValue>((given): given is SweepValue => ['string', 'number', 'boolean'].includes(typeof given)); // prettier-ignore

const planSchema = object({
  name: string().trim().max(200).default('Sweep'),
  source: string()
    .oneOf(
      STAND_INS.map(({ id }) => id),
      `"source" is one of ${STAND_INS.map(({ id }) => id).join(', ')}: a device is gone through in the page`,
    ) // prettier-ignore
    .required('"source" is missing'),
  chart: string().default(''),
  bpm: number().min(20).max(400).default(100),
  bars: number().integer().min(1).max(64).default(8),
  settings: lazy((given: unknown) => object(fieldsIn(given, value))),
  vary: lazy((given: unknown) => object(fieldsIn(given, () => array(value().required()).required())).required('"vary" is missing')), // prettier-ignore
});

/** A schema for each field that is there. */
function fieldsIn<Schema>(given: unknown, schema: () => Schema): Record<string, Schema> {
  const names = typeof given === 'object' && given !== null ? Object.keys(given) : [];
  return Object.fromEntries(names.map((name) => [name, schema()]));
}

/** `sweep PLAN.json [--out DIR]`: one stand-in asked the same in many ways, and which of the answers differ. Returns the exit code. */
export function sweepCommand(planFile: string, { out: folder }: SweepOptions, out: Output): number {
  const began = performance.now();
  const plan = readPlan(planFile);
  const runs = runsOf(plan);
  if (folder) mkdirSync(folder, { recursive: true });
  const chart = plan.trigger.kind === 'chart' ? plan.trigger.chart : null;
  const files: (string | null)[] = [];
  const heard = runs.map((run, position): RunHeard => {
    const played = playedOrRefused(plan, run);
    const midi = performanceFile(played);
    const take = takeFrom(midi);
    files.push(null);
    if (take.notes.length === 0) return { position, bars: [], missed: null };
    if (folder) {
      const number = String(position + 1).padStart(String(runs.length).length, '0');
      files[position] = join(folder, `${number} ${safeFileName(runName(plan, run))}.mid`);
      writeFileSync(files[position], writeMidiFile(midi));
    }
    const split = mended(take, splitTake(take), CERTAIN);
    const { chords, keys } = harmonyOf(take, split);
    return runHeard(position, { take, split, chords, key: keys[0] ?? null }, chart);
  });
  const findings = sheetOf(heard);
  const count = (verdict: string) => findings.filter((one) => one.verdict === verdict).length;
  const rounded = (share: number) => Math.round(share * 1000) / 1000;
  const answer = {
    runs: findings.map(({ position, verdict, sameAs, likeness, missed }) => ({
      ...{
        run: position + 1,
        name: runName(plan, runs[position]!),
        settings: runs[position]!,
        state: verdict,
      },
      ...{ sameAs: sameAs === null ? null : sameAs + 1, likeness: rounded(likeness) },
      ...{ missed: missed === null ? null : rounded(missed), file: files[position]! },
    })),
    ...{
      distinct: count('distinct'),
      same: count('same'),
      silent: count('silent'),
      off: count('off the chart'),
    },
    text: sheetWords(findings),
    seconds: Math.round(performance.now() - began) / 1000,
  };
  if (out.json) out.answer(JSON.stringify(answer));
  else {
    const rows = answer.runs.map(({ run, name, state, sameAs, likeness }) => [
      ...[String(run), name, sameAs === null ? state : `the same as ${sameAs}`, likeness.toFixed(2)],
    ]);
    out.answer(table([['run', 'set to', 'what came', 'likeness'], ...rows]));
    out.answer(`${answer.text}.${folder ? ` Written: ${folder}` : ''}`);
  }
  return 0;
}

function playedOrRefused(plan: SweepPlan, run: SweepSettings): Performance {
  try {
    return playRun(plan, run);
  } catch (error) {
    if (error instanceof ChartError || error instanceof RangeError) throw new Refusal(error.message);
    throw error;
  }
}

function readPlan(file: string): SweepPlan {
  const { source, chart, settings, vary, ...rest } = readJson(file, planSchema);
  const plan: SweepPlan = {
    ...rest,
    source: { kind: 'stand-in', id: source },
    trigger: chart ? { kind: 'chart', chart } : { kind: 'own' },
    settings: (settings ?? {}) as SweepSettings,
    vary: Object.entries(vary as Record<string, SweepValue[]>).map(([name, values]) => ({ name, values })),
    waits: false,
  };
  const problem = problemOfPlan(plan);
  if (problem) throw new Refusal(`${file}: ${problem}`);
  return plan;
}
