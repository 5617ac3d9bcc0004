import { bpmOfClip } from '../core/phrase/clip.ts';
import { phraseFeatures } from '../core/catalog/features.ts';
import { fitOf, prepareFit, type FitContext } from '../core/catalog/fit.ts';
import { harmonyProfile } from '../core/catalog/profile.ts';
import { ChartError, parseChart } from '../core/music/chart.ts';
import { barsUntil, meterAt } from '../core/music/timeline.ts';
import { bpmAsked, keyAsked } from './options.ts';
import { ofEach, Refusal, table, type Output, type Said } from './output.ts';
import { phraseOfFile } from './phrase-of-file.ts';

export interface FitOptions {
  key?: string;
  bpm?: string;
  meter?: string;
  chart?: string;
}

/** `fit FILE... [--key "G major"] [--bpm 96] [--meter 4/4] [--chart CHART]`. Returns the exit code. */
export function fitCommand(files: readonly string[], options: FitOptions, out: Output): number {
  const context = contextOf(options);
  return ofEach(files, out, (file) => fitOfFile(file, context, (text) => out.problem(text)));
}

function contextOf({ key, bpm, meter, chart }: FitOptions): FitContext {
  const meant = keyAsked(key) ?? null;
  const tempo = bpmAsked(bpm);
  if (meter !== undefined && !/^\d{1,2}\/\d{1,2}$/.test(meter))
    throw new Refusal(`--meter: "${meter}" is not a meter.`);
  if (!meant && [bpm, meter, chart].every((value) => value === undefined))
    throw new Refusal('What are they to suit? Say --key, --bpm, --meter or --chart.');
  try {
    return {
      key: meant,
      bpm: tempo,
      meter,
      chart: chart === undefined ? undefined : parseChart(chart, Number(meter?.split('/')[0] ?? 4)),
    };
  } catch (error) {
    if (error instanceof ChartError) throw new Refusal(error.message);
    throw error;
  }
}

function fitOfFile(file: string, context: FitContext, problem: (text: string) => void): Said {
  const { clip, role } = phraseOfFile(file, problem);
  const { numerator, denominator } = meterAt(clip.timeline, clip.pickup);
  const features = phraseFeatures(clip, [], clip.key)!;
  const fit = fitOf(
    {
      role,
      key: clip.key,
      bpm: bpmOfClip(clip),
      meter: `${numerator}/${denominator}`,
      bars: barsUntil(clip.timeline, clip.length),
      swing: features.swing,
      low: features.low,
      high: features.high,
      places: [],
      profile: harmonyProfile(clip),
    },
    prepareFit(context),
  );
  if (!fit) throw new Refusal(`${file}: nothing that is asked for can be told of it.`);
  return {
    answer: { file, ...fit },
    text: [
      `${file}: ${fit.fit}${fit.transpose ? `, moved by ${fit.transpose} semitones` : ''}`,
      table([
        ['part', 'score', 'weight', 'why'],
        ...fit.reasons.map(({ part, score, weight, text }) => [part, score, weight, text]),
      ]),
    ].join('\n'),
  };
}
