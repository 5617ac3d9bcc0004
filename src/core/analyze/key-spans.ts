import { sameKey, type Key } from '../music/key.ts';
import { barStart, type Timeline } from '../music/timeline.ts';
import { symbolsOfBars, type ChordFinding } from './chords.ts';
import type { Chroma } from './chroma.ts';
import {
  CHARACTER,
  findKeysOf,
  heardOf,
  keyScore,
  keysOf,
  KEY_WEIGHTS,
  type Heard,
  type KeyWeights,
} from './key.ts';

/** A stretch in one key. */
export interface KeySpan extends Key {
  /** From 1. */
  startBar: number;
  bars: number;
}

/** The span that a bar (from 1) lies in. */
export function keyAt(spans: readonly KeySpan[], bar: number): KeySpan | undefined {
  return spans.find(({ startBar, bars }) => bar >= startBar && bar < startBar + bars);
}

/** Where a take goes to another key, at its ticks; nothing where it stays in one. */
export function keyChanges(spans: readonly KeySpan[], timeline: Timeline): ({ tick: number } & Key)[] {
  if (spans.length < 2) return [];
  return spans.map(({ startBar, tonic, mode }) => ({
    ...{ tick: Math.round(barStart(timeline, startBar)), tonic, mode },
  }));
}

/** A key lasts at least so many bars. */
const SHORTEST = 4;

/** What a change of key must make up for, in score times bars: a chord from elsewhere is no new key. */
const KEY_CHANGE = 1.5;

/** What speaks, in each bar, for the key that the whole is in. */
const HOME = 0.2;

/** More places than these are not tried as changes at first: of longer takes every second or fourth bar line. */
const MOST_PLACES = 32;

/**
 * Where the key changes: of all ways to divide the bars into spans of a key each, the one with the highest score, by
 * dynamic programming; then each change goes to the bar line about it that is best. One span where it does not change;
 * empty where nothing is pitched.
 */
export function findKeySpans(
  chroma: Chroma,
  chords: readonly ChordFinding[],
  weights: KeyWeights = KEY_WEIGHTS,
): KeySpan[] {
  const bars = chroma.segments.at(-1)?.bar ?? 0;
  const [home] = findKeysOf(chroma, chords, weights);
  if (!home) return [];
  const step = 2 ** Math.max(0, Math.ceil(Math.log2(bars / MOST_PLACES)));
  const { scoreOf, scoreIn } = spanScores(chroma, chords, home, weights);
  const places = Math.ceil(bars / step);
  const best: { value: number; from: number; key: Key }[] = [{ value: 0, from: 0, key: home }];
  for (let to = 1; to <= places; to++) {
    best.push({ value: -Infinity, from: 0, key: home });
    for (let from = 0; from < to; from++) {
      const length = (to - from) * step;
      if (length < SHORTEST && !(from === 0 && to === places)) continue;
      const before = best[from]!;
      if (before.value === -Infinity) continue;
      const { key, score } = scoreOf(from * step, Math.min(bars, to * step));
      const value = before.value + length * score - (from === 0 || sameKey(before.key, key) ? 0 : KEY_CHANGE);
      if (value > best[to]!.value) best[to] = { value, from, key };
    }
  }
  const spans: KeySpan[] = [];
  for (let to = places; to > 0; to = best[to]!.from) {
    const { from, key } = best[to]!;
    spans.unshift({
      tonic: key.tonic,
      mode: key.mode,
      startBar: from * step + 1,
      bars: Math.min(bars, to * step) - from * step,
    });
  }
  const divided = movedToBarLines(joinedSpans(spans), step, scoreIn);
  return joinedSpans(heardAsBefore(divided, chords, symbolsOfBars(chords, bars)));
}

/** A key that lasts no longer must bring changes of its own. */
const PASSING = 8;

/**
 * Spans, where one that lasts a few bars and whose changes stand under its neighbor's key too is in that: the same turn-around is no
 * other key at the end than in the middle.
 */
function heardAsBefore(
  spans: readonly KeySpan[],
  chords: readonly ChordFinding[],
  symbols: readonly string[],
): KeySpan[] {
  const barsOf = ({ startBar, bars }: KeySpan) =>
    `|${symbols.slice(startBar - 1, startBar - 1 + bars).join('|')}|`;
  return spans.map((span, k) => {
    if (span.bars > PASSING) return span;
    const own = barsOf(span);
    const neighbors = [spans[k - 1], spans[k + 1]].filter((one) => one !== undefined);
    // One chord that is held makes no key, whatever was held into it.
    const begins = chords.filter(
      ({ bar, chord }) => chord && bar >= span.startBar && bar < span.startBar + span.bars,
    );
    if (neighbors[0] && begins.length <= 1)
      return { ...span, tonic: neighbors[0].tonic, mode: neighbors[0].mode };
    const like = neighbors.find((neighbor) =>
      spans.some((other) => other !== span && sameKey(other, neighbor) && barsOf(other).includes(own)),
    );
    return like ? { ...span, tonic: like.tonic, mode: like.mode } : span;
  });
}

/** What speaks for a key in bars `from` to before `to` (from 0). */
type ScoreIn = (key: Key, from: number, to: number) => number;

/** Each change of key on the bar line, less than `step` bars from where it was found, that both keys say most for. */
function movedToBarLines(spans: readonly KeySpan[], step: number, scoreIn: ScoreIn): KeySpan[] {
  const moved = spans.map((span) => ({ ...span }));
  for (let k = 1; k < moved.length; k++) {
    const [before, after] = [moved[k - 1]!, moved[k]!];
    const [from, at, to] = [before.startBar - 1, after.startBar - 1, after.startBar - 1 + after.bars];
    let best = { at, score: -Infinity };
    for (
      let line = Math.max(from + SHORTEST, at - step + 1);
      line <= Math.min(to - SHORTEST, at + step - 1);
      line++
    ) {
      const score = (line - from) * scoreIn(before, from, line) + (to - line) * scoreIn(after, line, to);
      if (score > best.score) best = { at: line, score };
    }
    before.bars = best.at - from;
    after.startBar = best.at + 1;
    after.bars = to - best.at;
  }
  return moved;
}

/** The best key of bars `from` to before `to` (from 0), and its score; and the score of any. A few bars do not make a church mode. */
function spanScores(
  { segments, weights: sounding, bass }: Chroma,
  chords: readonly ChordFinding[],
  home: Key,
  weights: KeyWeights,
): { scoreOf: (from: number, to: number) => { key: Key; score: number }; scoreIn: ScoreIn } {
  const candidates = keysOf((mode) => !CHARACTER[mode] || mode === home.mode);
  const named = chords.filter(({ chord }) => chord !== null);
  const upTo = (columns: readonly Float64Array[]) => {
    const sums = [new Array<number>(12).fill(0)];
    segments.forEach(({ bar }, k) => {
      while (sums.length <= bar) sums.push([...sums.at(-1)!]);
      columns[k]!.forEach((value, pc) => (sums[bar]![pc]! += value));
    });
    return sums;
  };
  const [soundingTo, bassTo] = [upTo(sounding), upTo(bass)];
  const between = (sums: readonly number[][], from: number, to: number) =>
    sums[to]!.map((value, pc) => value - sums[from]![pc]!);
  /** Null where hardly anything sounds. */
  const stretchOf = (from: number, to: number): Heard | null => {
    const heard = between(soundingTo, from, to);
    if (heard.every((weight) => weight < 1e-9)) return null;
    const within = named.filter(({ bar }) => bar > from && bar <= to);
    return heardOf(heard, between(bassTo, from, to), within, weights);
  };
  const score = (key: Key, stretch: Heard) =>
    keyScore(key, stretch, weights) + (sameKey(key, home) ? HOME : 0);
  return {
    scoreOf(from, to) {
      const stretch = stretchOf(from, to);
      if (!stretch) return { key: home, score: 0 };
      let best = { key: home, score: -Infinity };
      for (const key of candidates) {
        const value = score(key, stretch);
        if (value > best.score) best = { key, score: value };
      }
      return best;
    },
    scoreIn(key, from, to) {
      const stretch = stretchOf(from, to);
      return stretch ? score(key, stretch) : 0;
    },
  };
}

function joinedSpans(spans: readonly KeySpan[]): KeySpan[] {
  const joined: KeySpan[] = [];
  for (const span of spans) {
    const last = joined.at(-1);
    if (last && sameKey(last, span)) last.bars += span.bars;
    else joined.push({ ...span });
  }
  return joined;
}
