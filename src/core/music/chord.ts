import { spellLeadingTone, spellPitchClass } from './spelling.ts';
import { parseQuality, type ChordQuality } from './chord-quality.ts';
import { hasMinorThird, type Key } from './key.ts';
import { parsePitchClass, pitchClass } from './pitch.ts';

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

/** Reads "Gm7", "F/A", "C6/9" back; undefined where it is no chord symbol, or one that is read in several ways. */
export function parseSymbol(text: string): ChordName | undefined {
  const [, written = '', bassName] = /^(.+?)(?:\/([A-G][#b♯♭]*))?$/.exec(text.trim()) ?? [];
  for (const sign of [/^([A-G][#b♯♭]?)(.*)$/, /^([A-G][#b♯♭]{2})(.*)$/]) {
    const [, rootName, name] = sign.exec(written) ?? [];
    const root = rootName === undefined ? undefined : parsePitchClass(rootName);
    const bass = bassName === undefined ? root : parsePitchClass(bassName);
    const quality = name === undefined ? undefined : parseQuality(name);
    if (root !== undefined && bass !== undefined && quality) return { root, quality, bass };
  }
  return undefined;
}

/** A chord some semitones higher, its bass with it. */
export function movedChord(chord: ChordName, by: number): ChordName {
  return { ...chord, root: pitchClass(chord.root + by), bass: pitchClass(chord.bass + by) };
}

/** Chords whose root leads up a semitone. */
const LEADING: ReadonlySet<string> = new Set(['dim', 'dim7', 'm7b5']);

/** "Gm7", "F/A", spelled by the key. */
export function chordSymbol({ root, quality: { symbol }, bass }: ChordName, key: Key | null): string {
  const name = (LEADING.has(symbol) ? spellLeadingTone : spellPitchClass)(root, key) + symbol;
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

/** Those of diminished chords in major: they lead up. */
const LEADING_DEGREES = ['I', '#I', 'II', '#II', 'III', 'IV', '#IV', 'V', '#V', 'VI', '#VI', 'VII'];

/** Roman numeral relative to the tonic: "i", "V7", "bVII", "viiø7". */
export function chordNumeral({ root, quality: { symbol, figure, small } }: ChordName, key: Key): string {
  const degrees = hasMinorThird(key.mode) ? MINOR_DEGREES : MAJOR_DEGREES;
  const at = pitchClass(root - key.tonic);
  const degree = LEADING.has(symbol) && !hasMinorThird(key.mode) ? LEADING_DEGREES[at]! : degrees[at]!;
  return (small ? degree.toLowerCase() : degree) + figure;
}
