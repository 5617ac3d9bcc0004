import type { ChangesChord } from '../analyze/changes.ts';
import { chordTones, parseSymbol } from '../music/chord.ts';
import type { Key } from '../music/key.ts';
import { madeClip } from '../harmonize/made-clips.ts';
import { beatTicks } from '../music/timeline.ts';
import { LIBRARY_PPQ as PPQ } from '../normalize/resolution.ts';
import type { Clip, ClipNote } from '../phrase/clip.ts';

/** The bass lies in the octave under this, the other tones in the one over it: C3. */
const MIDDLE = 48;

/** Changes as they can be heard: each chord held, its bass below. */
export function changesClip(changes: {
  chords: readonly ChangesChord[];
  bars: number;
  bpm: number;
  meter: { numerator: number; denominator: number };
  key: Key;
}): Clip {
  const { chords, bars, bpm, meter, key } = changes;
  const beat = beatTicks(PPQ, meter);
  const notes = chords.flatMap(({ beat: at, beats, symbol }): Omit<ClipNote, 'origin'>[] => {
    const chord = parseSymbol(symbol);
    if (!chord) return [];
    const pitches = [
      MIDDLE - 12 + chord.bass,
      ...chordTones(chord).map((pc) => MIDDLE + 6 + ((pc + 6) % 12)),
    ];
    return pitches.map((pitch) => ({
      tick: Math.round(at * beat),
      duration: Math.round(beats * beat * 0.95),
      pitch,
      velocity: 80,
      release: 64,
    }));
  });
  return madeClip(notes, { key, bpm, meter, bars, role: 'keys', program: 0 });
}
