import { parseChart, type ChartChord } from '../music/chart.ts';
import { chordSymbol, chordTones } from '../music/chord.ts';
import { intervalBetween, type Key } from '../music/key.ts';
import { chordsByBar, type ChordFinding } from './chords.ts';

/** A bar of the chart beside the bar that sounded. Bars from 1. */
export interface AlignedBar {
  /** Of the take; null where the chart's bar was not played. */
  bar: number | null;
  /** Of the chart; null where the take has a bar more. */
  chartBar: number | null;
  asked: string;
  sounded: string;
  same: boolean;
  /** Chords of the bar that sounded otherwise, with what stands in the place of what. */
  wrong: WrongChord[];
}

/** A chord that sounded otherwise than asked. */
export interface WrongChord {
  fromTick: number;
  toTick: number;
  asked: string;
  sounded: string;
  /** Pitch classes that sounded and were not asked, each with the nearest that was asked and did not. */
  instead: { sounded: number; asked: number }[];
}

export interface ChartCheck {
  aligned: AlignedBar[];
  /** Bars of the take that are not in the chart. */
  addedBars: number[];
  /** Bars of the chart that were not played. */
  missingBars: number[];
  /** How many times the chart was gone through. */
  choruses: number;
}

/** Bars that differ by less are the same. */
const SAME = 0.34;

/** Price of a bar too many or too few, where a bar that differs wholly costs 1. */
const GAP = 0.7;

/**
 * Holds a chart against what sounded: bars are aligned by dynamic programming, the chart as often as it fits.
 * @throws ChartError where the chart cannot be read.
 */
export function checkChart(
  text: string,
  beats: number,
  found: readonly ChordFinding[],
  barsSounded: number,
  key: Key | null,
): ChartCheck {
  const once = parseChart(text, beats);
  const sounded = chordsByBar(found, barsSounded);
  // A chart of sixteen that comes back as eighteen was gone through once, one of four that comes back as eleven thrice.
  const times = barsSounded / once.length;
  const options = [...new Set([Math.floor(times), Math.ceil(times)].map((n) => Math.max(1, n)))].map(
    (choruses) => {
      const chart = Array.from({ length: choruses }, () => once).flat();
      return { choruses, chart, ...align(chart, sounded) };
    },
  );
  const { choruses, chart, steps } = options.reduce((best, other) => (other.cost < best.cost ? other : best));
  const aligned = steps.map(({ chartAt, soundedAt }): AlignedBar => {
    const asked = chartAt === null ? null : chart[chartAt]!;
    const heard = soundedAt === null ? [] : sounded[soundedAt]!;
    return {
      bar: soundedAt === null ? null : soundedAt + 1,
      chartBar: chartAt === null ? null : (chartAt % once.length) + 1,
      asked: asked ? asked.map(({ symbol }) => symbol).join(' ') : '',
      sounded: heard.map(({ chord }) => (chord ? chordSymbol(chord, key) : 'N.C.')).join(' '),
      same: asked !== null && soundedAt !== null && difference(asked, heard) < SAME,
      wrong: asked ? wrongChords(asked, heard, key) : [],
    };
  });
  return {
    aligned,
    addedBars: aligned.flatMap(({ bar, chartBar }) => (chartBar === null && bar !== null ? [bar] : [])),
    missingBars: aligned.flatMap(({ bar, chartBar }) =>
      bar === null && chartBar !== null ? [chartBar] : [],
    ),
    choruses,
  };
}

/** Of the bars that are not in the chart, how many come after its end. */
export function barsAfterChart({ addedBars }: ChartCheck, bars: number): number {
  return addedBars.filter((bar, k) => bar === bars - addedBars.length + 1 + k).length;
}

/** The chords of a bar whose notes differ, one for one. */
function wrongChords(
  asked: readonly ChartChord[],
  heard: readonly ChordFinding[],
  key: Key | null,
): WrongChord[] {
  if (asked.length !== heard.length) return [];
  return asked.flatMap((one, k) => {
    const { chord, startTick, endTick } = heard[k]!;
    if (!chord || one.root !== chord.root) return [];
    const tones = chordTones(chord);
    const extra = tones.filter((pc) => !one.tones.includes(pc) && pc !== one.bass);
    const missing = one.tones.filter((pc) => !tones.includes(pc));
    const instead = extra.flatMap((pc) => {
      const [nearest] = [...missing].sort(
        (a, b) => Math.abs(intervalBetween(pc, a)) - Math.abs(intervalBetween(pc, b)),
      );
      return nearest !== undefined && Math.abs(intervalBetween(pc, nearest)) <= 2
        ? [{ sounded: pc, asked: nearest }]
        : [];
    });
    if (instead.length === 0) return [];
    return [
      { fromTick: startTick, toTick: endTick, asked: one.symbol, sounded: chordSymbol(chord, key), instead },
    ];
  });
}

/** 0 where the chords are the same, 1 where none is: by root and third, then by all notes. */
function difference(asked: readonly ChartChord[], heard: readonly ChordFinding[]): number {
  const pairs = Math.max(asked.length, heard.length);
  if (pairs === 0) return 0;
  let sum = 0;
  for (let k = 0; k < pairs; k++) {
    const [one, other] = [asked[k], heard[k]?.chord];
    if (!one || !other) sum += 1;
    else {
      const tones = chordTones(other);
      const shared = one.tones.filter((tone) => tones.includes(tone)).length;
      const all = new Set([...one.tones, ...tones]).size;
      sum += one.root === other.root ? 0.8 * (1 - shared / all) : 1 - 0.5 * (shared / all);
    }
  }
  return sum / pairs;
}

function align(
  chart: readonly ChartChord[][],
  sounded: readonly ChordFinding[][],
): { steps: { chartAt: number | null; soundedAt: number | null }[]; cost: number } {
  const width = sounded.length + 1;
  const cost = new Float64Array((chart.length + 1) * width);
  for (let i = 0; i <= chart.length; i++) {
    for (let j = 0; j <= sounded.length; j++) {
      if (i === 0 || j === 0) cost[i * width + j] = (i + j) * GAP;
      else {
        cost[i * width + j] = Math.min(
          cost[(i - 1) * width + j - 1]! + difference(chart[i - 1]!, sounded[j - 1]!),
          cost[(i - 1) * width + j]! + GAP,
          cost[i * width + j - 1]! + GAP,
        );
      }
    }
  }
  const steps: { chartAt: number | null; soundedAt: number | null }[] = [];
  let [i, j] = [chart.length, sounded.length];
  while (i > 0 || j > 0) {
    const here = cost[i * width + j]!;
    const is = (value: number) => Math.abs(here - value) < 1e-9;
    // Of equals the bar too many lies later: devices add bars at the end.
    if (j > 0 && is(cost[i * width + j - 1]! + GAP)) steps.push({ chartAt: null, soundedAt: --j });
    else if (i > 0 && is(cost[(i - 1) * width + j]! + GAP)) steps.push({ chartAt: --i, soundedAt: null });
    else steps.push({ chartAt: --i, soundedAt: --j });
  }
  return { steps: steps.reverse(), cost: cost[chart.length * width + sounded.length]! };
}
