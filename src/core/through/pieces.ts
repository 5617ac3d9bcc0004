import type { ChordName } from '../music/chord.ts';
import type { Key } from '../music/key.ts';
import type { ClipNote } from '../phrase/clip.ts';
import { rootWay } from './degrees.ts';
import type { Heard } from './heard-as.ts';
import type { Track } from './sounding.ts';

/** How a phrase goes through other chords: voice by voice, as a block, or in the scale. */
export const WAYS = ['voices', 'block', 'scale'] as const;
export type Way = (typeof WAYS)[number];

export interface ThroughSetting {
  /** The chords the phrase was played over, and those it is to go through, over the same bars. */
  source: Track;
  target: Track;
  sourceKey: Key | null;
  targetKey: Key | null;
  /** By its role where nothing is said. */
  way?: Way | undefined;
  /** Whether its end leads back to its beginning. */
  loops: boolean;
  /** Whether a triad may become the seventh that the target names. */
  richer?: boolean | undefined;
  /** Whether a change under which nothing begins is struck. */
  strikeEvery?: boolean | undefined;
}

/** A note, or the part of one from a change on, with the chords it belongs to. */
export interface Piece {
  tick: number;
  duration: number;
  note: ClipNote;
  /** Indices of its chords. */
  source: number;
  target: number;
  from: ChordName | null;
  to: ChordName | null;
  /** Struck where nobody struck: the note was held over the change. */
  struckAgain: boolean;
  /** What is struck again goes on from this piece. */
  held: Piece | undefined;
  strong: boolean;
  heard: Heard;
  /** The notes nearest to it in the strokes before and after. */
  before: Piece | undefined;
  after: Piece | undefined;
  /** Whether its chord stays what it was. */
  stays: boolean;
  /** The first stroke under its target chord. */
  first: boolean;
  /** Its pitch in the result; -1 where it has none. */
  image: number;
}

/** Semitones that what keeps its place in the key is moved by. */
export function keyWay({ sourceKey, targetKey }: Pick<ThroughSetting, 'sourceKey' | 'targetKey'>): number {
  return sourceKey && targetKey ? rootWay(sourceKey.tonic, targetKey.tonic) : 0;
}
