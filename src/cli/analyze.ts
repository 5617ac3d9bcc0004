import { analyzeTake } from '../core/analyze/analysis.ts';
import { checkChart } from '../core/analyze/chart-check.ts';
import { chordHarte, chordNumeral, chordSymbol } from '../core/music/chord.ts';
import { ChartError } from '../core/music/chart.ts';
import { keyName, tonicName, type Key } from '../core/music/key.ts';
import { mended } from '../core/split/proposals.ts';
import { splitTake } from '../core/split/split.ts';
import { spellPitchClass } from '../core/music/spelling.ts';
import { takeOfFile } from './files.ts';
import { CERTAIN } from './split.ts';
import { Refusal, table, type Output } from './output.ts';

/** `analyze FILE [--chart CHART]`: key, chords, loops, sections and feel. Returns the exit code. */
export function analyzeCommand(file: string, options: { chart?: string }, out: Output): number {
  const take = takeOfFile(file, (text) => out.problem(text));
  const split = mended(take, splitTake(take), CERTAIN);
  const analysis = analyzeTake(take, split);
  const [key] = analysis.keys;
  const check = options.chart ? chartCheck(options.chart, analysis, key ?? null) : undefined;
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
    tempo: Math.round(analysis.bpm * 100) / 100,
    meter: `${analysis.meter.numerator}/${analysis.meter.denominator}`,
    leadingTicks: analysis.leadingTicks,
    pickupTicks: analysis.pickupTicks,
    tailBars: check
      ? check.addedBars.filter((bar) => bar > analysis.bars - check.addedBars.length).length
      : 0,
    bars: analysis.bars,
    key: key ? named(key) : null,
    otherKeys: analysis.keys.slice(1, 4).map(named),
    chords,
    loops: analysis.loops,
    sections: analysis.sections,
    feel: analysis.feel,
    ...(check ? { chartCheck: check } : {}),
  };
  if (out.json) out.answer(JSON.stringify(answer));
  else {
    out.answer(
      [
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
          ({ part, startBar, bars, repeats, likeness }) =>
            `Loop: ${part}, ${bars} bars from bar ${startBar}, ${repeats} times, likeness ${likeness.toFixed(2)}`,
        ),
        ...(check?.aligned.filter(({ same }) => !same) ?? []).map(
          ({ bar, asked, sounded }) =>
            `Chart: bar ${bar ?? '-'}: asked ${asked || 'nothing'}, sounded ${sounded || 'nothing'}`,
        ),
      ].join('\n'),
    );
  }
  return 0;
}

function chartCheck(chart: string, analysis: ReturnType<typeof analyzeTake>, key: Key | null) {
  try {
    return checkChart(chart, analysis.meter.numerator, analysis.chords, analysis.bars, key);
  } catch (error) {
    if (error instanceof ChartError) throw new Refusal(error.message);
    throw error;
  }
}
