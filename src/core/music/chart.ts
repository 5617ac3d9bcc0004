import { Chord, Note } from 'tonal';

/** A chord as sounded: pitch classes 0..11 from the root up, and the bass when it is another note. */
export interface ChartChord {
  symbol: string;
  /** Beats from the start of its bar, and how many it lasts. */
  beat: number;
  beats: number;
  root: number;
  /** Pitch classes in the order of the chord: root, third, fifth, ... */
  tones: number[];
  bass: number;
}

/** Thrown when a chart cannot be read. The message names the bar and the symbol. */
export class ChartError extends Error {
  override readonly name = 'ChartError';
}

/**
 * Reads a chord chart such as "Dm | Gm A7 | Dm": bars between upright strokes, the chords of a bar sharing
 * its beats equally, "%" for the bar before again.
 *
 * @throws ChartError on an unknown symbol, with its bar.
 */
export function parseChart(text: string, beatsPerBar: number): ChartChord[][] {
  const bars: ChartChord[][] = [];
  const written = text.trim().replace(/^\|+|\|+$/g, '');
  for (const bar of written.split(/\|+/)) {
    const symbols = bar.trim().split(/\s+/).filter(Boolean);
    const number = bars.length + 1;
    if (symbols.length === 0) throw new ChartError(`Bar ${number} of the chart has no chord.`);
    if (symbols.length > beatsPerBar) {
      throw new ChartError(`Bar ${number} has ${symbols.length} chords for ${beatsPerBar} beats.`);
    }
    if (symbols[0] === '%') {
      const before = bars.at(-1);
      if (!before) throw new ChartError('The first bar cannot repeat the bar before it.');
      bars.push(before);
      continue;
    }
    const beats = beatsPerBar / symbols.length;
    bars.push(symbols.map((symbol, i) => ({ ...readChord(symbol, number), beat: i * beats, beats })));
  }
  return bars;
}

function readChord(symbol: string, bar: number): Omit<ChartChord, 'beat' | 'beats'> {
  const [name = '', slash] = symbol.split('/');
  const chord = Chord.get(name);
  const tones = chord.notes.map((note) => Note.chroma(note));
  const bass = slash ? Note.chroma(slash) : tones[0];
  if (chord.empty || tones.length === 0 || tones.some((tone) => tone == null) || bass == null) {
    throw new ChartError(`Bar ${bar}: "${symbol}" is not a chord symbol that is understood.`);
  }
  return { symbol, root: tones[0]!, tones: tones as number[], bass };
}
