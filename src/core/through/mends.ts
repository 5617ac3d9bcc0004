import { chordScale, isInScale } from '../music/chord-scale.ts';
import type { ChordName } from '../music/chord.ts';
import type { ClipNote } from '../phrase/clip.ts';
import { isChordNote, nearestInScale } from './degrees.ts';
import type { ThroughSetting } from './pieces.ts';
import { indexAt } from './sounding.ts';
import type { Through } from './through.ts';

/** What can be done about a note that is pointed out. */
export const MENDS = [
  'up',
  'down',
  'scale',
  'as was',
  'octave up',
  'octave down',
  'shorter',
  'out',
  'meant',
] as const;
export type MendWay = (typeof MENDS)[number];

/** One note put right, told by its origin. */
export interface Mend {
  note: number;
  way: MendWay;
}

/** A result with some of its notes put right; what is mended is pointed out no more. `before` are the notes as they were. */
export function mended(
  result: Through,
  mends: readonly Mend[],
  before: readonly ClipNote[],
  { target, targetKey }: Pick<ThroughSetting, 'target' | 'targetKey'>,
): Through & { out: number[] } {
  const ways = new Map(mends.map(({ note, way }) => [note, way]));
  const was = new Map(before.map(({ origin, pitch }) => [origin, pitch]));
  const out: number[] = [];
  const notes = result.notes.flatMap((note): ClipNote[] => {
    const way = ways.get(note.origin);
    if (way === undefined || way === 'meant') return [note];
    if (way === 'out') {
      if (note.origin >= 0) out.push(note.origin);
      return [];
    }
    if (way === 'shorter') {
      const next = target.from.find((tick) => tick > note.tick) ?? Infinity;
      return [{ ...note, duration: Math.min(note.duration, next - note.tick) }];
    }
    const at = indexAt(target, note.tick);
    const pitch = mendedPitch(
      way,
      note.pitch,
      target.chords[at]!,
      was.get(note.origin) ?? note.pitch,
      targetKey,
    );
    return [{ ...note, pitch: Math.min(127, Math.max(0, pitch)) }];
  });
  return { ...result, notes, out, outside: result.outside.filter(({ note }) => !ways.has(note)) };
}

function mendedPitch(
  way: Exclude<MendWay, 'meant' | 'out' | 'shorter'>,
  pitch: number,
  chord: ChordName | null,
  was: number,
  key: ThroughSetting['targetKey'],
): number {
  switch (way) {
    case 'as was':
      return was;
    case 'octave up':
      return pitch + 12;
    case 'octave down':
      return pitch - 12;
    case 'scale':
      return chord ? nearestInScale(chord, key, pitch) : pitch;
    default:
      return chord ? nextChordPitch(chord, pitch, way === 'up' ? 1 : -1) : pitch;
  }
}

function nextChordPitch(chord: ChordName, pitch: number, by: 1 | -1): number {
  for (let next = pitch + by; Math.abs(next - pitch) <= 12; next += by)
    if (isChordNote(chord, next)) return next;
  return pitch;
}

/** Ways that change something about a note, the likeliest first. */
export function waysFor(
  { pitch, tick, cause }: Pick<Through['outside'][number], 'pitch' | 'tick' | 'cause'>,
  { target, targetKey }: Pick<ThroughSetting, 'target' | 'targetKey'>,
): MendWay[] {
  const chord = target.chords[indexAt(target, tick)];
  if (cause === 'octaves') return ['octave down', 'octave up', 'out', 'meant'];
  if (!chord) return ['as was', 'out', 'meant'];
  const inScale = isInScale(chordScale(chord, targetKey), pitch);
  return [
    'up',
    'down',
    ...(inScale ? [] : ['scale' as const]),
    'as was',
    'octave down',
    'shorter',
    'out',
    'meant',
  ];
}
