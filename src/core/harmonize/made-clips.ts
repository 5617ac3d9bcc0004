import type { Key } from '../music/key.ts';
import { forceOf, throughBars, type Rhythm, type RhythmStroke } from '../music/rhythm.ts';
import { barTicks, beatTicks, meterAt, msPerQuarter, steadyTimeline } from '../music/timeline.ts';
import { LIBRARY_PPQ as PPQ } from '../normalize/resolution.ts';
import { barsOf, bpmOfClip, firstMade, type Clip, type ClipNote } from '../phrase/clip.ts';
import type { Role } from '../split/roles.ts';
import type { Changes } from '../through/sounding.ts';
import { bassFor, type BassWay } from './bass.ts';
import { layLine, lineOfChanges, type LineChord } from './line.ts';

export interface MadeSetting {
  key: Key | null;
  bpm: number;
  meter: { numerator: number; denominator: number };
}

/** An electric bass (General MIDI 34, fingered). */
const BASS_PROGRAM = 33;

/** A bass for some changes, as a clip: nobody played any of its notes. */
export function bassClip(
  changes: Changes,
  setting: MadeSetting & { way: BassWay; seed?: number; kicks?: readonly number[] },
): Clip {
  const { way, key, meter, seed = 1, kicks = [] } = setting;
  const beat = beatTicks(PPQ, meter);
  const notes = bassFor(changes, { way, key, beatsPerBar: meter.numerator, seed, kicks });
  return madeClip(
    notes.map(({ beat: at, beats, pitch, velocity }) => ({
      tick: Math.round(at * beat),
      duration: Math.max(1, Math.round(beats * beat)),
      pitch,
      velocity,
      release: 64,
    })),
    { ...setting, bars: changes.bars, role: 'bass', program: BASS_PROGRAM },
  );
}

/** Notes that were made, as a clip of so many bars. */
export function madeClip(
  notes: readonly Omit<ClipNote, 'origin'>[],
  { key, bpm, meter, bars, role, program }: MadeSetting & { bars: number; role: Role; program: number },
): Clip {
  const first = firstMade([]);
  return {
    timeline: steadyTimeline(PPQ, bpm, meter.numerator, meter.denominator),
    length: bars * barTicks(PPQ, meter),
    pickup: 0,
    notes: notes.map((note, k) => ({ ...note, origin: first - k })),
    controls: [],
    role,
    key,
    channel: 0,
    program,
    locked: [],
  };
}

/** A piano (General MIDI 1). */
const KEYS_PROGRAM = 0;

/** How a chord's notes follow each other: from the lowest up, from the highest down, in turn, or together. */
export const STRUMS = ['none', 'down', 'up', 'turns'] as const;
export type Strum = (typeof STRUMS)[number];

/** How chords are played: their rhythm, and how far a stroke is spread. */
export interface Playing {
  /** Null for one stroke a chord, held. */
  rhythm: Rhythm | null;
  /** Beats to a bar of the rhythm. */
  rhythmBeats: number;
  strum: Strum;
  /** From the first note of a stroke to its last, in milliseconds. */
  spread: number;
}

export const HELD: Playing = { rhythm: null, rhythmBeats: 4, strum: 'none', spread: 0 };

/** So much of its place a stroke fills, and how loud it is against its mark. */
const STROKE = { share: 0.96, level: -8 };

/** A stroke this close before a change may be of the chord that comes, in beats. */
const PUSH = 0.5;

interface Placed {
  beat: number;
  beats: number;
  pitches: readonly number[];
  velocity: number;
}

/** Chords of a line in a rhythm, as a clip: nobody played any of its notes. */
export function lineClip(
  line: readonly LineChord[],
  setting: MadeSetting & { bars: number; playing?: Playing; program?: number },
): Clip {
  const { meter, bpm, bars, playing = HELD, program = KEYS_PROGRAM } = setting;
  const beat = beatTicks(PPQ, meter);
  const spread = (playing.spread / msPerQuarter(bpm)) * PPQ;
  const notes = strokesOfLine(line, bars * meter.numerator, meter.numerator, playing).flatMap((stroke, k) => {
    const { strum } = playing;
    const falls = strum === 'up' || (strum === 'turns' && k % 2 === 1);
    const pitches = falls ? [...stroke.pitches].reverse() : stroke.pitches;
    const from = Math.round(stroke.beat * beat);
    const long = Math.max(1, Math.round(stroke.beats * beat * STROKE.share));
    const each = strum === 'none' ? 0 : Math.min(spread, long / 2) / Math.max(1, pitches.length - 1);
    return pitches.map((pitch, n) => ({
      tick: from + Math.round(n * each),
      duration: long - Math.round(n * each),
      pitch,
      velocity: stroke.velocity,
      release: 64,
    }));
  });
  return madeClip(notes, { ...setting, role: 'keys', program });
}

/**
 * The strokes of a rhythm under the chords of a line. One close before a change that sounds on past it for as long or longer is
 * of the chord that comes; another that is held over a change is struck again on it.
 */
function strokesOfLine(
  line: readonly LineChord[],
  beats: number,
  beatsPerBar: number,
  { rhythm, rhythmBeats }: Playing,
): Placed[] {
  const laid = layLine(line);
  const chords = line.map(({ beats: long }, k) => ({ ...laid[k]!, beats: long, beat: 0 }));
  for (let k = 1; k < chords.length; k++) chords[k]!.beat = chords[k - 1]!.beat + chords[k - 1]!.beats;
  // The last chord fills its bar.
  const last = chords.at(-1);
  if (last) last.beats = beats - last.beat;
  const bars = Math.ceil(beats / beatsPerBar);
  const strokes = rhythm
    ? throughBars(rhythm, { bars, beatsPerBar, ownBeats: rhythmBeats })
    : chords.map(({ beat, beats: long }): RhythmStroke => ({ beat, beats: long, mark: 'x' }));
  return strokes.flatMap((stroke): Placed[] => {
    const end = Math.min(beats, stroke.beat + stroke.beats);
    const velocity = forceOf(stroke.mark) + STROKE.level;
    return chords.flatMap((chord, k): Placed[] => {
      const [from, to] = [Math.max(stroke.beat, chord.beat), Math.min(end, chord.beat + chord.beats)];
      if (to <= from || chord.pitches.length === 0) return [];
      const after = chords[k + 1];
      const isPush = (change: number) =>
        stroke.beat < change && change - stroke.beat <= PUSH && end - change >= change - stroke.beat;
      if (after && isPush(after.beat) && after.pitches.length > 0) return [];
      const begin = isPush(chord.beat) ? stroke.beat : from;
      return [{ beat: begin, beats: to - begin, pitches: chord.pitches, velocity }];
    });
  });
}

/** Chords for some changes, one held stroke each, their voices led with least movement from one to the next and back to the first. */
export function chordsClip(changes: Changes, setting: MadeSetting): Clip {
  const line = lineOfChanges(changes, setting.key);
  return lineClip(line, { ...setting, bars: changes.bars });
}

/** Parts that were made as they are sent and kept, in the tempo, meter and bars of the first; null where there is none. */
export function madeParts(parts: readonly { name: string; role: Role; clip: Clip }[]) {
  const first = parts[0]?.clip;
  if (!first) return null;
  const { numerator, denominator } = meterAt(first.timeline, first.pickup);
  return {
    bpm: bpmOfClip(first),
    meter: { numerator, denominator },
    bars: barsOf(first),
    parts: parts.map(({ name, role, clip: { program, notes } }) => ({
      ...{ name, role, program },
      notes: notes.map(({ tick, duration, pitch, velocity }) => ({ tick, duration, pitch, velocity })),
    })),
  };
}
