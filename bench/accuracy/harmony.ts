import { findChords, type ChordFinding, type ChordWeights } from '../../src/core/analyze/chords.ts';
import { chromaOf } from '../../src/core/analyze/chroma.ts';
import { findKeySpans, keyAt } from '../../src/core/analyze/key-spans.ts';
import { findKeysOf, type KeyWeights } from '../../src/core/analyze/key.ts';
import { sameKey, type Key } from '../../src/core/music/key.ts';
import { pitchClass } from '../../src/core/music/pitch.ts';
import { splitTake } from '../../src/core/split/split.ts';
import { BARS, type SoundedChart, type TrueChord } from './charts.ts';

export interface HarmonyScore {
  charts: number;
  /** Weighted chord symbol recall (Pauwels & Peeters, ICASSP 2013): share of the time, at major/minor and at all kinds. */
  majorMinor: number;
  all: number;
  /** Keys that are named exactly. */
  exact: number;
  /** Mean MIREX key score: 1 exact, 0.5 a fifth away, 0.3 relative, 0.2 parallel. */
  key: number;
}

export function scoreCharts(
  charts: readonly SoundedChart[],
  chordWeights?: ChordWeights,
  keyWeights?: KeyWeights,
): HarmonyScore {
  let time = 0;
  let timeMajorMinor = 0;
  let rightMajorMinor = 0;
  let right = 0;
  let keys = 0;
  let exact = 0;
  for (const { take, chords, key } of charts) {
    const chroma = chromaOf(take, splitTake(take));
    const found = findChords(chroma, chordWeights);
    const ppq = take.timing.timeline.ppq;
    for (const truth of chords) {
      for (let beat = 0; beat < truth.beats; beat += 0.5) {
        const heard = chordAt(found, (truth.beat + beat + 0.25) * ppq)?.chord;
        time++;
        if (heard && heard.root === truth.root && heard.quality.symbol === truth.quality.symbol) right++;
        const third = thirdOf(truth);
        if (third === null) continue;
        timeMajorMinor++;
        if (heard && heard.root === truth.root && thirdOf(heard) === third) rightMajorMinor++;
      }
    }
    const [best] = findKeysOf(chroma, found, keyWeights);
    keys += best ? mirexScore(best, key) : 0;
    if (best && sameKey(best, key)) exact++;
  }
  return {
    charts: charts.length,
    majorMinor: rightMajorMinor / timeMajorMinor,
    all: right / time,
    key: keys / charts.length,
    exact,
  };
}

/** Bars under the key that they were made in, where it changes in the middle; and keys a chart. */
export function keySpanScore(charts: readonly SoundedChart[]): {
  right: number;
  bars: number;
  spans: number;
} {
  let [right, bars, spans] = [0, 0, 0];
  for (const { take, key, laterKey } of charts) {
    const chroma = chromaOf(take, splitTake(take));
    const found = findKeySpans(chroma, findChords(chroma));
    spans += found.length;
    for (let bar = 1; bar <= BARS; bar++) {
      const span = keyAt(found, bar);
      if (span && sameKey(span, bar <= BARS / 2 ? key : laterKey)) right++;
      bars++;
    }
  }
  return { right, bars, spans: spans / charts.length };
}

/** What was found at a tick. */
export function chordAt(found: readonly ChordFinding[], tick: number): ChordFinding | undefined {
  return found.find(({ startTick, endTick }) => tick >= startTick && tick < endTick);
}

/** Major or minor; null for chords that are neither. */
function thirdOf({ quality: { tones } }: Pick<TrueChord, 'quality'>): 3 | 4 | null {
  if (!tones.includes(7)) return null;
  return tones.includes(4) ? 4 : tones.includes(3) ? 3 : null;
}

export function mirexScore(found: Key, made: Key): number {
  const up = pitchClass(found.tonic - made.tonic);
  if (up === 0 && found.mode === made.mode) return 1;
  if (found.mode === made.mode && (up === 7 || up === 5)) return 0.5;
  const isRelative =
    (made.mode === 'major' && found.mode === 'minor' && up === 9) ||
    (made.mode === 'minor' && found.mode === 'major' && up === 3);
  if (isRelative) return 0.3;
  return up === 0 ? 0.2 : 0;
}
