import { spellPitchClass } from './spelling.ts';
import type { Key } from './key.ts';
import { parsePitchClass, pitchClass } from './pitch.ts';

/** A kind of chord: its tones in semitones over the root, root first. */
export interface ChordQuality {
  /** After the root in a symbol: "" for major. */
  symbol: string;
  /** Shorthand, or degrees, after the colon (Harte et al., "Symbolic representation of musical chords", ISMIR 2005). */
  harte: string;
  tones: readonly number[];
  /** Written in a Roman numeral after the degree. */
  figure: string;
  /** Whether the degree is written small. */
  small: boolean;
}

const quality = (
  symbol: string,
  harte: string,
  tones: readonly number[],
  figure = symbol,
  small = false,
): ChordQuality => ({ symbol, harte, tones, figure, small });

/** The vocabulary (common practice), commonest first: of equals the earlier is taken. */
export const CHORD_QUALITIES: readonly ChordQuality[] = [
  quality('', 'maj', [0, 4, 7]),
  quality('m', 'min', [0, 3, 7], '', true),
  quality('7', '7', [0, 4, 7, 10]),
  quality('m7', 'min7', [0, 3, 7, 10], '7', true),
  quality('maj7', 'maj7', [0, 4, 7, 11]),
  quality('sus4', 'sus4', [0, 5, 7]),
  quality('sus2', 'sus2', [0, 2, 7]),
  quality('dim', 'dim', [0, 3, 6], '°', true),
  quality('m7b5', 'hdim7', [0, 3, 6, 10], 'ø7', true),
  quality('dim7', 'dim7', [0, 3, 6, 9], '°7', true),
  quality('6', 'maj6', [0, 4, 7, 9]),
  quality('m6', 'min6', [0, 3, 7, 9], '6', true),
  quality('add9', 'maj(9)', [0, 4, 7, 2]),
  quality('7sus4', 'sus4(b7)', [0, 5, 7, 10]),
  quality('9', '9', [0, 4, 7, 10, 2]),
  quality('maj9', 'maj9', [0, 4, 7, 11, 2]),
  quality('m9', 'min9', [0, 3, 7, 10, 2], '9', true),
  quality('aug', 'aug', [0, 4, 8], '+'),
  quality('mMaj7', 'minmaj7', [0, 3, 7, 11], 'maj7', true),
  quality('maj9#11', 'maj9(#11)', [0, 4, 7, 11, 2, 6]),
  quality('5', '(1,5)', [0, 7]),
];

/** A chord as pitch classes: root, quality, and the bass where it is another note. */
export interface ChordName {
  root: number;
  quality: ChordQuality;
  bass: number;
}

/** Pitch classes of a chord, the root first. */
export function chordTones({ root, quality: { tones } }: Pick<ChordName, 'root' | 'quality'>): number[] {
  return tones.map((tone) => pitchClass(root + tone));
}

/** Other ways to write a quality (common practice), by what they are here. */
const OTHERWISE: Record<string, string> = {
  M: '',
  maj: '',
  min: 'm',
  '-': 'm',
  M7: 'maj7',
  Δ: 'maj7',
  Δ7: 'maj7',
  min7: 'm7',
  '-7': 'm7',
  '°': 'dim',
  o: 'dim',
  '°7': 'dim7',
  o7: 'dim7',
  ø: 'm7b5',
  ø7: 'm7b5',
  '+': 'aug',
  sus: 'sus4',
  mmaj7: 'mMaj7',
  mM7: 'mMaj7',
  '7sus': '7sus4',
  '(add9)': 'add9',
};

/** Reads "Gm7", "F/A" back; undefined where the quality is not in the vocabulary. */
export function parseSymbol(text: string): ChordName | undefined {
  const [, rootName, name, bassName] = /^([A-G][#b♯♭]*)([^/]*)(?:\/([A-G][#b♯♭]*))?$/.exec(text.trim()) ?? [];
  const root = rootName === undefined ? undefined : parsePitchClass(rootName);
  const bass = bassName === undefined ? root : parsePitchClass(bassName);
  const found = CHORD_QUALITIES.find(({ symbol }) => symbol === (OTHERWISE[name ?? ''] ?? name));
  return root === undefined || bass === undefined || !found ? undefined : { root, quality: found, bass };
}

/** "Gm7", "F/A", spelled by the key. */
export function chordSymbol({ root, quality: { symbol }, bass }: ChordName, key: Key | null): string {
  const name = spellPitchClass(root, key) + symbol;
  return bass === root ? name : `${name}/${spellPitchClass(bass, key)}`;
}

const HARTE_DEGREES = ['1', 'b2', '2', 'b3', '3', '4', 'b5', '5', 'b6', '6', 'b7', '7'];

/** Harte syntax: "G:min7", "F:maj/3". */
export function chordHarte({ root, quality: { harte }, bass }: ChordName, key: Key | null): string {
  const name = `${spellPitchClass(root, key)}:${harte}`;
  return bass === root ? name : `${name}/${HARTE_DEGREES[pitchClass(bass - root)]!}`;
}

/** Degrees above the tonic by semitones, in major and, where they differ, in the modes with a minor third. */
const MAJOR_DEGREES = ['I', 'bII', 'II', 'bIII', 'III', 'IV', '#IV', 'V', 'bVI', 'VI', 'bVII', 'VII'];
const MINOR_DEGREES = ['I', 'bII', 'II', 'III', '#III', 'IV', '#IV', 'V', 'VI', '#VI', 'VII', '#VII'];

const MINOR_THIRD: ReadonlySet<Key['mode']> = new Set(['minor', 'dorian', 'phrygian', 'locrian'] as const);

/** Roman numeral relative to the tonic: "i", "V7", "bVII", "viiø7". */
export function chordNumeral({ root, quality: { figure, small } }: ChordName, key: Key): string {
  const degrees = MINOR_THIRD.has(key.mode) ? MINOR_DEGREES : MAJOR_DEGREES;
  const degree = degrees[pitchClass(root - key.tonic)]!;
  return (small ? degree.toLowerCase() : degree) + figure;
}
