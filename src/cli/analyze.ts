import { roundedBpm } from '../core/music/timeline.ts';
import { analyzeTake, type Analysis } from '../core/analyze/analysis.ts';
import { barsAfterChart } from '../core/analyze/chart-check.ts';
import type { Take } from '../core/capture/take.ts';
import { chordHarte, chordNumeral, chordSymbol } from '../core/music/chord.ts';
import { ChartError } from '../core/music/chart.ts';
import { formWords } from '../core/music/form.ts';
import { keyName, tonicName, type Key } from '../core/music/key.ts';
import type { Split } from '../core/split/split.ts';
import { spellPitchClass } from '../core/music/spelling.ts';
import { splitOfFile } from './opened-file.ts';
import { ofEach, Refusal, table, type Output, type Said } from './output.ts';

/** `analyze FILE... [--chart CHART]`: key, chords, loops, sections and feel. Returns the exit code. */
export function analyzeCommand(files: readonly string[], { chart }: { chart?: string }, out: Output): number {
  return ofEach(files, out, (file) => analysisOfFile(file, chart, (text) => out.problem(text)));
}

function analysisOfFile(file: string, chart: string | undefined, problem: (text: string) => void): Said {
  const { take, split } = splitOfFile(file, problem);
  const analysis = analyzed(take, split, chart);
  const [key] = analysis.keys;
  const check = analysis.chartCheck;
  const chords = analysis.chords.flatMap(({ chord, bar, beat, startTick, endTick, certainty }) => [
    {
      bar,
      beat,
      startTick,
      endTick,
      symbol: chord ? chordSymbol(chord, key ?? null) : 'N.C.',
      harte: chord ? chordHarte(chord, key ?? null) : 'N',
      bass: chord ? spellPitchClass(chord.bass, key ?? null) : null,
      roman: chord && key ? chordNumeral(chord, key) : null,
      certainty,
    },
  ]);
  const named = (found: Key & { certainty: number }) => ({
    tonic: tonicName(found),
    mode: found.mode,
    certainty: Math.round(found.certainty * 100) / 100,
  });
  const answer = {
    file,
    tempo: roundedBpm(analysis.bpm),
    meter: `${analysis.meter.numerator}/${analysis.meter.denominator}`,
    leadingTicks: analysis.leadingTicks,
    pickupTicks: analysis.pickupTicks,
    tailBars: check ? barsAfterChart(check, analysis.bars) : analysis.tailBars,
    bars: analysis.bars,
    key: key ? named(key) : null,
    otherKeys: analysis.keys.slice(1, 4).map(named),
    chords,
    countInBars: analysis.countInBars,
    keySpans: analysis.keySpans.map(({ startBar, bars, ...span }) => ({
      startBar,
      bars,
      tonic: tonicName(span),
      mode: span.mode,
    })),
    loops: analysis.loops.map(({ name, part: _, ...loop }) => ({ part: name, ...loop })),
    sections: analysis.sections,
    form: analysis.form,
    fills: analysis.fills,
    feel: analysis.feel,
    parts: analysis.parts.map(({ part, ...own }) => ({
      part: split.parts.find(({ id }) => id === part)!.name,
      ...own,
    })),
    proposals: analysis.proposals.map(({ kind, text, certainty }) => ({ kind, text, certainty })),
    ...(check ? { chartCheck: check } : {}),
  };
  return {
    answer,
    text: [
      `${key ? `${keyName(key)} ${key.certainty.toFixed(2)}` : 'no key'}, ${answer.tempo} BPM, ${answer.meter}, ${answer.bars} bars`,
      table([
        ['bar', 'beat', 'chord', 'numeral', 'sure'],
        ...chords.map(({ bar, beat, symbol, roman, certainty }) => [
          bar,
          beat,
          symbol,
          roman ?? '',
          certainty,
        ]),
      ]),
      ...analysis.loops.map(
        ({ name, startBar, bars, repeats, likeness }) =>
          `Loop: ${name}, ${bars} bars from bar ${startBar}, ${repeats} times, likeness ${likeness.toFixed(2)}`,
      ),
      ...(analysis.form ? [formWords(analysis.form)] : []),
      ...analysis.proposals.map(({ text }) => text),
      ...(check?.aligned.filter(({ same }) => !same) ?? []).map(
        ({ bar, asked, sounded }) =>
          `Chart: bar ${bar ?? '-'}: asked ${asked || 'nothing'}, sounded ${sounded || 'nothing'}`,
      ),
    ].join('\n'),
  };
}

function analyzed(take: Take, split: Split, chart: string | undefined): Analysis {
  try {
    return analyzeTake(take, split, { chart });
  } catch (error) {
    if (error instanceof ChartError) throw new Refusal(error.message);
    throw error;
  }
}
