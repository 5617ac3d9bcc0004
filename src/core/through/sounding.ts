import { ChartError, parseChart } from '../music/chart.ts';
import { chordTones, parseSymbol, type ChordName } from '../music/chord.ts';
import { hasMinorThird, MODE_STEPS, type Key } from '../music/key.ts';
import { pitchClass } from '../music/pitch.ts';
import { beatTicks, lastNotAbove, meterAt } from '../music/timeline.ts';
import { barsOf, type Clip } from '../phrase/clip.ts';

/** Chords written one after the other: as a chart, or with beats from bar one where a chart could not say them. */
export type WrittenChanges = string | readonly WrittenChange[];

export interface WrittenChange {
  beat: number;
  beats: number;
  /** Empty where no chord sounds. */
  symbol: string;
}

/** A chord and where it sounds, in beats (of the meter) from bar one. */
export interface Sounding {
  beat: number;
  beats: number;
  chord: ChordName | null;
  symbol: string;
}

/** Some changes read: their chords without a gap, one that is held as one; and how many bars they are. */
export interface Changes {
  chords: Sounding[];
  bars: number;
}

/** Longer changes than this are no phrase's, and no meter has more beats. */
export const MOST_BARS = 512;
export const MOST_BEATS = 64;

/**
 * Reads changes of a meter with so many beats.
 * @throws ChartError where a chart cannot be read
 * @throws RangeError where there are no chords, or too many bars
 */
export function readChanges(written: WrittenChanges, beatsPerBar: number): Changes {
  const read = typeof written === 'string' ? ofChart(written, beatsPerBar) : ofList(written, beatsPerBar);
  if (read.bars > MOST_BARS)
    throw new RangeError(`These changes have ${read.bars} bars, and ${MOST_BARS} are the most.`);
  if (!read.chords.some(({ chord }) => chord)) throw new RangeError('These changes have no chord.');
  return { ...read, chords: joined(read.chords) };
}

/** Changes read; or why they cannot be, as a sentence. */
export function readOrWhy(written: WrittenChanges, beats: number): Changes | string {
  try {
    return readChanges(written, beats);
  } catch (error) {
    if (error instanceof ChartError || error instanceof RangeError) return error.message;
    throw error;
  }
}

function ofChart(text: string, beatsPerBar: number): Changes {
  const bars = parseChart(text, beatsPerBar);
  const chords = bars.flatMap((bar, k): Sounding[] => {
    const from = k * beatsPerBar;
    const sounding = bar.map(({ beat, beats, root, quality, bass, symbol }) => ({
      ...{ beat: from + beat, beats, symbol },
      chord: { root, quality, bass },
    }));
    return withSilence(sounding, from, from + beatsPerBar);
  });
  return { chords, bars: bars.length };
}

/** Chords between two beats with what is silent between them. */
function withSilence(sounding: readonly Sounding[], from: number, to: number): Sounding[] {
  const all: Sounding[] = [];
  const silent = (beat: number, until: number) => {
    if (until - beat > 1e-6) all.push({ beat, beats: until - beat, chord: null, symbol: '' });
  };
  let end = from;
  for (const one of sounding) {
    silent(end, one.beat);
    all.push(one);
    end = one.beat + one.beats;
  }
  silent(end, to);
  return all;
}

function ofList(list: readonly WrittenChange[], beatsPerBar: number): Changes {
  const chords = [...list]
    .filter(({ beats }) => beats > 0)
    .sort((a, b) => a.beat - b.beat)
    .map(({ beat, beats, symbol }): Sounding => {
      const chord = symbol === '' ? null : parseSymbol(symbol);
      if (chord === undefined) throw new RangeError(`"${symbol}" is not a chord symbol that is understood.`);
      return { beat, beats, chord, symbol };
    });
  const end = chords.reduce((last, { beat, beats }) => Math.max(last, beat + beats), 0);
  return { chords, bars: Math.max(1, Math.ceil(end / beatsPerBar - 1e-6)) };
}

function joined(chords: readonly Sounding[]): Sounding[] {
  const result: Sounding[] = [];
  for (const next of chords) {
    const last = result.at(-1);
    if (last && isSameChord(last.chord, next.chord)) last.beats = next.beat + next.beats - last.beat;
    else result.push({ ...next });
  }
  return result;
}

export function isSameChord(a: ChordName | null, b: ChordName | null): boolean {
  if (!a || !b) return a === b;
  return a.root === b.root && a.bass === b.bass && a.quality.symbol === b.quality.symbol;
}

/** Changes of some bars, gone round for as long as it takes, and cut at their end; beats from the first of those bars. */
export function goneRound(
  { chords, bars: own }: Changes,
  { beatsPerBar, bars, fromBar = 0 }: { beatsPerBar: number; bars: number; fromBar?: number },
): Sounding[] {
  const [begin, end] = [fromBar * beatsPerBar, (fromBar + bars) * beatsPerBar];
  return Array.from({ length: Math.ceil((fromBar + bars) / own) }, (_, round) =>
    chords.flatMap((one): Sounding[] => {
      const at = round * own * beatsPerBar + one.beat;
      const [from, to] = [Math.max(begin, at), Math.min(end, at + one.beats)];
      return to > from ? [{ ...one, beat: from - begin, beats: to - from }] : [];
    }),
  ).flat();
}

/** Changes over time: which chord sounds at a tick, and where it gives way. */
export interface Track {
  /** First ticks of its chords, ascending, from 0 or below on. */
  from: number[];
  chords: (ChordName | null)[];
  symbols: string[];
}

/**
 * Changes laid over some bars, gone round as often as it takes; where a phrase of fewer bars is repeated itself, its changes
 * begin anew with each round.
 */
export function layOut(
  { chords, bars }: Changes,
  place: { pickup: number; beat: number; beatsPerBar: number; bars: number; roundBars: number },
): Track {
  const { pickup, beat, beatsPerBar } = place;
  const track: Track = { from: [], chords: [], symbols: [] };
  const add = (tick: number, { chord, symbol }: Pick<Sounding, 'chord' | 'symbol'>) => {
    if (track.from.length > 0 && isSameChord(track.chords.at(-1)!, chord)) return;
    track.from.push(tick);
    track.chords.push(chord);
    track.symbols.push(symbol);
  };
  for (let round = 0; round < place.bars; round += place.roundBars) {
    const until = Math.min(place.bars, round + place.roundBars);
    for (let bar = round; bar < until; bar += bars) {
      for (const sounding of chords) {
        const at = bar * beatsPerBar + Math.max(0, sounding.beat);
        if (at < until * beatsPerBar) add(Math.round(pickup + at * beat), sounding);
      }
    }
  }
  return track;
}

/** Changes laid over a clip from bar one; begun anew every so many bars where it is a shorter phrase gone round. */
export function layOver(clip: Clip, changes: Changes, roundBars = barsOf(clip)): Track {
  const meter = meterAt(clip.timeline, clip.pickup);
  return layOut(changes, {
    pickup: clip.pickup,
    beat: beatTicks(clip.timeline.ppq, meter),
    beatsPerBar: meter.numerator,
    bars: barsOf(clip),
    roundBars,
  });
}

/** Index of the chord that sounds at a tick; a pickup is under the first. */
export function indexAt({ from }: Track, tick: number): number {
  return lastNotAbove(from, tick);
}

/**
 * The key that some changes are in: the one whose scale has most of their chord notes by time, the first and last chord
 * counting as tonics. `own` stays where half of them or more are its own chords, or there is but one to tell by.
 */
export function keyOfChanges(changes: Changes, own?: Key): Key {
  if (own && (changes.chords.filter(({ chord }) => chord).length < 2 || diatonicShare(changes, own) >= 0.5))
    return own;
  const keys = (['major', 'minor'] as const).flatMap((mode) =>
    Array.from({ length: 12 }, (_, tonic): Key => ({ tonic, mode })),
  );
  return keys.reduce((best, key) => (keyScore(changes, key) > keyScore(changes, best) + 1e-9 ? key : best));
}

/** Share of the time in which all notes of the chord are the key's. */
function diatonicShare(changes: Changes, key: Key): number {
  const shares = sharesInKey(changes, key);
  return shares.reduce((sum, { share, beats }) => sum + (share === 1 ? beats : 0), 0) / beatsOf(shares);
}

function beatsOf(shares: readonly { beats: number }[]): number {
  return shares.reduce((sum, { beats }) => sum + beats, 0);
}

/** By chord, how much of its notes is the key's, 0..1. */
function sharesInKey(
  { chords }: Changes,
  { tonic, mode }: Key,
): { chord: ChordName; beats: number; share: number }[] {
  const scale = new Set(MODE_STEPS[mode].map((step) => pitchClass(tonic + step)));
  // Minor raises its seventh in its dominant.
  if (mode === 'minor') scale.add(pitchClass(tonic + 11));
  return chords.flatMap(({ chord, beats }) => {
    if (!chord) return [];
    const tones = chordTones(chord);
    return [{ chord, beats, share: tones.filter((tone) => scale.has(tone)).length / tones.length }];
  });
}

/** How much of the changes a key has, and what a tonic at their beginning and end is worth. */
function keyScore(changes: Changes, key: Key): number {
  const shares = sharesInKey(changes, key);
  const third = hasMinorThird(key.mode) ? 3 : 4;
  const isTonic = ({ chord }: { chord: ChordName }) =>
    chord.root === key.tonic && (chord.quality.degrees[3] ?? third) === third;
  return (
    shares.reduce((sum, { share, beats }) => sum + share * beats, 0) / beatsOf(shares) +
    (isTonic(shares[0]!) ? 0.06 : 0) +
    (isTonic(shares.at(-1)!) ? 0.05 : 0)
  );
}
