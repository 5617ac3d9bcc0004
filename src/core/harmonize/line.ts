import { chordSymbol, chordTones, parseSymbol, type ChordName } from '../music/chord.ts';
import type { Key } from '../music/key.ts';
import { pitchClass } from '../music/pitch.ts';
import { REGISTERS } from '../phrase/registers.ts';
import { asChart } from '../through/as-chart.ts';
import { voicesFor } from '../through/degrees.ts';
import { readOrWhy, type Changes, type WrittenChanges } from '../through/sounding.ts';
import { chooseVoicings, voiceMoves, type Voiced } from '../through/voicings.ts';

/** A chord of a line that is being written, and how its voices lie. */
export interface LineChord {
  /** Empty where nothing sounds. */
  symbol: string;
  /** In beats of the meter. */
  beats: number;
  /** 0 the root position to 3; null for the one that moves least. */
  inversion: number | null;
  octave: number;
}

/** The most beats a chord of a line has. */
export const LONGEST_CHORD = 64;

export const lineChord = (symbol: string, beats: number): LineChord => ({
  symbol,
  beats,
  inversion: null,
  octave: 0,
});

/** Some changes as a line, spelled in a key. */
export function lineOfChanges({ chords }: Changes, key: Key | null): LineChord[] {
  return chords.map(({ chord, beats }) => lineChord(chord ? chordSymbol(chord, key) : '', beats));
}

/** A line whose chords begin on beats; such as would be shorter than one are left out. */
export function onBeats(line: readonly LineChord[]): LineChord[] {
  let [end, from] = [0, 0];
  return line.flatMap((one) => {
    end += one.beats;
    const beats = Math.round(end) - from;
    from += Math.max(0, beats);
    return beats > 0 ? [{ ...one, beats }] : [];
  });
}

/** A line as it is written: a chart, bars between strokes. Where its last bar is not full, its last chord fills it. */
export function writtenLine(line: readonly LineChord[], beatsPerBar: number): WrittenChanges {
  let beat = 0;
  const list = line.map(({ symbol, beats }) => {
    const from = beat;
    beat += beats;
    return { beat: from, beats, symbol };
  });
  const last = list.at(-1);
  if (last) last.beats += (beatsPerBar - (beat % beatsPerBar)) % beatsPerBar;
  return asChart(list, beatsPerBar);
}

/** A line read as changes; or why it cannot be, as a sentence. */
export function changesOfLine(line: readonly LineChord[], beatsPerBar: number): Changes | string {
  return line.length === 0
    ? 'There are no chords yet.'
    : readOrWhy(writtenLine(line, beatsPerBar), beatsPerBar);
}

/** Where a keyboard's chords lie, at the mean. */
const CENTER = 62;

/** A chord of a line as it lies: ascending pitches, none where nothing sounds; and how far the voices moved to it, in semitones. */
export interface LaidChord {
  pitches: number[];
  /** Null where nothing sounded before. */
  move: number | null;
}

/**
 * Lays the chords of a line: with least movement all together, those with an inversion of their own as they are asked for, and
 * the octaves put on top. Goes round where it is played again.
 */
export function layLine(line: readonly LineChord[]): LaidChord[] {
  const read = line.map(({ symbol }) => (symbol === '' ? undefined : parseSymbol(symbol)));
  const sounding = line.flatMap((one, k) => (read[k] ? [{ one, chord: read[k] }] : []));
  const laid = chooseVoicings(
    sounding.map(({ one, chord }) => voicedChord(chord, one.inversion)),
    REGISTERS.keys,
    true,
  );
  let at = 0;
  let before: number[] | null = null;
  return line.map(({ octave }, k) => {
    if (!read[k]) return { pitches: [], move: null };
    const pitches = laid[at++]!.map((pitch) => pitch + 12 * octave);
    const move = before && voiceMoves(before, pitches);
    before = pitches;
    return { pitches, move };
  });
}

/** What a keyboard has to lay: at most four voices around its middle; under a slash, the lowest is its bass. */
function voicedChord(chord: ChordName, inversion: number | null): Voiced {
  const count = Math.min(4, Math.max(3, chord.quality.tones.length));
  const source = [0, 4, 7, 10].slice(0, count).map((step) => CENTER - 5 + step);
  const own = voicesFor(chord, count, true);
  const classes =
    chord.bass === chord.root || own.includes(chord.bass) ? own : [chord.bass, ...own.slice(0, count - 1)];
  if (inversion !== null) return { source, classes, fixed: inverted(chord, classes, inversion) };
  return { source, classes, bass: chord.bass === chord.root ? undefined : chord.bass };
}

/** In close position with a chosen voice below, in the octave nearest to the middle. */
function inverted(chord: ChordName, classes: readonly number[], inversion: number): number[] {
  const order = chordTones(chord)
    .map((tone) => pitchClass(tone))
    .filter((tone) => classes.includes(tone));
  const lowest = order[inversion % order.length]!;
  const above = [...new Set(classes)].map((pc) => pitchClass(pc - lowest)).sort((a, b) => a - b);
  const mean = above.reduce((sum, step) => sum + step, 0) / above.length;
  const base = lowest + 12 * Math.round((CENTER - mean - lowest) / 12);
  return above.map((step) => base + step);
}

/** How many inversions a chord has, the root position among them. */
export function inversionsOf(symbol: string): number {
  const chord = parseSymbol(symbol);
  return chord ? Math.min(4, chord.quality.tones.length) : 0;
}
