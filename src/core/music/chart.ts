import { chordTones, parseSymbol, type ChordName } from './chord.ts';

/** A chord of a chart, spelled as it was written. */
export interface ChartChord extends ChordName {
  symbol: string;
  /** Beats from the start of its bar, and how many it lasts. */
  beat: number;
  beats: number;
  /** Pitch classes in the order of the chord: root, third, fifth, ... */
  tones: number[];
}

/** Thrown when a chart cannot be read. The message names the bar and the symbol. */
export class ChartError extends Error {
  override readonly name = 'ChartError';
  /** Where a symbol may mean several things: the symbol, and what it may stand for. */
  readonly unclear: { symbol: string; meanings: string[] } | null;

  constructor(message: string, unclear: ChartError['unclear'] = null) {
    super(message);
    this.unclear = unclear;
  }
}

/**
 * Reads a chord chart such as "Dm | Gm A7 | Dm": bars between upright strokes, the chords of a bar sharing
 * its beats equally. "%" is the bar before again, "N.C." no chord, "|: Dm | A7 :| x3" what is played three times (twice
 * where no number stands). Sections have names, a line or a semicolon each, and a form says in which order they are
 * played, each time they come: "A: Dm | A7; B: Gm | C; form: A A B A".
 *
 * @throws ChartError on an unknown or unclear symbol, with its bar.
 */
export function parseChart(text: string, beatsPerBar: number): ChartChord[][] {
  const bars: ChartChord[][] = [];
  for (const bar of chartSections(text).flatMap((section) => section.bars)) {
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
    bars.push(
      symbols.flatMap((symbol, i) =>
        isSilent(symbol) ? [] : [{ ...readChord(symbol, number), beat: i * beats, beats }],
      ),
    );
  }
  if (bars.length === 0) throw new ChartError('The chart has no bars.');
  return bars;
}

/** A section of a chart where it is played, its bars as they are written; without a name where it has none. */
export interface ChartSection {
  name: string;
  bars: string[];
}

/** The sections of a chart as they are played: in the order of the form, repeats written out. @throws ChartError */
export function chartSections(text: string): ChartSection[] {
  const lines = text
    .split(/[;\n]+/)
    .map((line) => line.trim())
    .filter(Boolean);
  const named = new Map<string, ChartSection>();
  let form: string[] | null = null;
  const plain: string[] = [];
  for (const line of lines) {
    const [, name, rest] = /^([A-Za-z][\w ]{0,20}?)\s*:(?!\|)\s*(.*)$/.exec(line) ?? [];
    if (name?.toLowerCase() === 'form') form = rest!.split(/[\s,]+/).filter(Boolean);
    else if (name) named.set(name, { name, bars: barsOfLine(rest!) });
    else plain.push(...barsOfLine(line));
  }
  const first = plain.length > 0 ? [{ name: '', bars: plain }] : [];
  if (named.size === 0) return first;
  const order = form ?? [...named.keys()];
  return [
    ...first,
    ...order.map((name) => {
      const section = named.get(name);
      if (!section) throw new ChartError(`The form asks for ${name}, and the chart has no such section.`);
      return section;
    }),
  ];
}

/** How often a repeat may be asked for. */
const MOST_TIMES = 64;

/** The bars of a line, what stands between repeat signs as often as it is played. */
function barsOfLine(line: string): string[] {
  const repeat = /\|?:(.*?):\|?(?:\s*[x×]\s*(\d+))?/;
  const match = repeat.exec(line);
  if (!match) return stroked(line);
  const [whole, inside, times] = match;
  const count = Math.min(MOST_TIMES, Number(times ?? 2));
  const before = stroked(line.slice(0, match.index));
  const after = line.slice(match.index + whole.length);
  const once = stroked(inside!);
  return [...before, ...Array.from({ length: count }, () => once).flat(), ...barsOfLine(after)];
}

/** What stands between upright strokes; those at the edges enclose nothing. */
function stroked(text: string): string[] {
  const inside = text
    .trim()
    .replace(/^\|+|\|+$/g, '')
    .trim();
  return inside === '' ? [] : inside.split(/\|+/);
}

function isSilent(symbol: string): boolean {
  return /^(n\.?c\.?|-)$/i.test(symbol);
}

/** Endings that are read in two ways (common practice). */
const UNCLEAR: Record<string, readonly string[]> = { '2': ['sus2', 'add9'], '4': ['sus4', 'add11'] };

function readChord(symbol: string, bar: number): Omit<ChartChord, 'beat' | 'beats'> {
  const [, root, ending] = /^([A-G][#b]?)([24])(?=\/[A-G]|$)/.exec(symbol) ?? [];
  const meanings = root && ending && UNCLEAR[ending]?.map((meant) => root + meant);
  if (meanings) {
    throw new ChartError(
      `Bar ${bar}: "${symbol}" is read as ${meanings.join(' by some, as ')} by others: which is meant?`,
      { symbol: root + ending, meanings },
    );
  }
  const chord = parseSymbol(symbol);
  if (!chord) throw new ChartError(`Bar ${bar}: "${symbol}" is not a chord symbol that is understood.`);
  return { symbol, ...chord, tones: chordTones(chord) };
}
