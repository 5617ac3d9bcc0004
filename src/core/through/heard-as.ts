import type { ChordName } from '../music/chord.ts';
import { chordScale, isInScale } from '../music/chord-scale.ts';
import type { Key } from '../music/key.ts';
import { degreeIn, isChordNote, type ChordDegree } from './degrees.ts';

/** What a note is against its chord (common practice). */
export type HeardAs =
  | 'chord'
  | 'passing'
  | 'neighbor'
  | 'leaning'
  | 'suspension'
  | 'approach'
  | 'pedal'
  | 'scale'
  | 'free'
  | 'no chord';

/** A note among the strokes around it. */
export interface InLine {
  pitch: number;
  chord: ChordName | null;
  /** On a beat. */
  strong: boolean;
  before: { pitch: number; chord: ChordName | null } | undefined;
  after: { pitch: number; chord: ChordName | null } | undefined;
}

export interface Heard {
  as: HeardAs;
  degree: ChordDegree | undefined;
}

const isStep = (semitones: number) => Math.abs(semitones) === 1 || Math.abs(semitones) === 2;

/** What a note is against the chord it sounds under. */
export function heardAs(note: InLine, key: Key | null): Heard {
  const { pitch, chord, before, after } = note;
  if (!chord) return { as: 'no chord', degree: undefined };
  const degree = degreeIn(chord, pitch);
  if (degree !== undefined) return { as: 'chord', degree };
  return { as: foreign(note, chord, before, after, key), degree: undefined };
}

function foreign(
  { pitch, strong }: InLine,
  chord: ChordName,
  before: InLine['before'],
  after: InLine['after'],
  key: Key | null,
): HeardAs {
  const came = before ? pitch - before.pitch : 0;
  const goes = after ? after.pitch - pitch : 0;
  const lands = after?.chord && isChordNote(after.chord, after.pitch);
  if (before && after && came === 0 && goes === 0) return 'pedal';
  if (
    came === 0 &&
    before?.chord &&
    before.chord !== chord &&
    isChordNote(before.chord, pitch) &&
    goes < 0 &&
    isStep(goes)
  )
    return 'suspension';
  const scale = chordScale(chord, key);
  if (lands && Math.abs(goes) === 1 && !strong && !isInScale(scale, pitch)) return 'approach';
  if (isStep(came) && isStep(goes)) {
    if (Math.sign(came) === Math.sign(goes)) return 'passing';
    return strong && lands ? 'leaning' : 'neighbor';
  }
  if (strong && lands && isStep(goes)) return 'leaning';
  return isInScale(scale, pitch) ? 'scale' : 'free';
}
