import { upperMedian } from '../numbers.ts';
import { chordScale, isInScale } from '../music/chord-scale.ts';
import type { ChordName } from '../music/chord.ts';
import { sameKey } from '../music/key.ts';
import { beatTicks, meterAt, ticksOfMs } from '../music/timeline.ts';
import { unitsOf } from '../phrase/units.ts';
import {
  compareClipNotes,
  firstMade,
  playedNotes,
  withVelocity,
  type Clip,
  type ClipNote,
} from '../phrase/clip.ts';
import { REGISTERS } from '../phrase/registers.ts';
import type { Role } from '../split/roles.ts';
import { isAvoided, isChordNote } from './degrees.ts';
import { heardAs, type HeardAs } from './heard-as.ts';
import { imagesOf, type Method } from './images.ts';
import { isTurned } from './lines.ts';
import type { Piece, ThroughSetting, Way } from './pieces.ts';
import { indexAt, isSameChord, type Track } from './sounding.ts';

/** Why a note is pointed out. */
export type OutsideCause = 'foreign' | 'turned' | 'octaves' | 'clash';

export interface Outside {
  /** The note's origin. */
  note: number;
  tick: number;
  pitch: number;
  cause: OutsideCause;
  /** What it was in the source. */
  was: HeardAs;
  /** The chord it stands under now. */
  symbol: string;
}

export interface Through {
  notes: ClipNote[];
  outside: Outside[];
  /** Changes under which nothing begins. */
  unheard: { tick: number; symbol: string }[];
  /** Origins of notes that have no place in the result: a string that the shape leaves out. */
  dropped: number[];
}

type Holding = 'struck again' | 'struck again if long' | 'goes on';

/** What becomes of a note that is held over a change which its source had not. */
const HOLDING: Readonly<Partial<Record<Role, Holding>>> = {
  pad: 'struck again',
  strings: 'struck again',
  brass: 'struck again',
  bass: 'struck again',
  keys: 'struck again if long',
  guitar: 'struck again if long',
};

/** What sounds past a change by less than this share of a beat was let go late. */
const LATE = 1 / 8;

/** A phrase over other chords: its rhythm and shape stay, its notes follow. Nothing here moves an onset. */
export function throughChords(clip: Clip, setting: ThroughSetting): Through {
  const beat = beatTicks(clip.timeline.ppq, meterAt(clip.timeline, clip.pickup));
  const played = playedNotes(clip);
  const struck = looselyTogether(played, ticksOfMs(clip.timeline, SLOW_STRUM_MS));
  const pieces = piecesOf(struck, clip.role, setting, beat);
  if (setting.strikeEvery) pieces.push(...strokesForUnheard(clip, pieces, setting));
  pieces.sort((a, b) => a.tick - b.tick || a.note.pitch - b.note.pitch);
  const strokes = strokesOf(clip, pieces);
  placeInLine(strokes, clip, beat, setting);
  const method = methodFor(clip.role, setting.way, strokes);
  imagesOf(strokes, method, clip.role, setting);
  const kept = settleHeld(pieces, clip.role, setting, beat);
  const isLine = method === 'bass' || (method === 'scale' && strokes.every((stroke) => stroke.length === 1));
  const notes = notesOf(kept, firstMade(clip.notes));
  const sounding = new Set(notes.map(({ origin }) => origin));
  const switches = new Set(clip.locked);
  return {
    notes: [...notes, ...clip.notes.filter(({ origin }) => switches.has(origin))].sort(compareClipNotes),
    outside: outsideOf(kept, notes, clip.role, setting, isLine, beat),
    unheard: unheardOf(pieces, setting.target),
    dropped: [...new Set(played.map(({ origin }) => origin))].filter(
      (origin) => origin >= 0 && !sounding.has(origin),
    ),
  };
}

/**
 * Which chord a stroke belongs to: the one at its onset, or the next where it comes at most half a beat before it and sounds past
 * it for half its length or more (a push). Its notes go together, however loosely they are struck: most of them decide.
 */
function belongsTo(track: Track, stroke: readonly ClipNote[], beat: number): number {
  const each = stroke.map(({ tick, duration }) => {
    const at = indexAt(track, tick);
    const next = track.from[at + 1];
    if (next === undefined || next - tick > beat / 2) return at;
    return tick + duration - next >= duration / 2 ? at + 1 : at;
  });
  return upperMedian(each);
}

/** Notes that begin within some ticks of the first of them, in whatever order; one pitch struck again begins anew. */
function looselyTogether(notes: readonly ClipNote[], ticks: number): ClipNote[][] {
  const groups: ClipNote[][] = [];
  for (const note of notes) {
    const group = groups.at(-1);
    const goesOn =
      group && note.tick - group[0]!.tick <= ticks && group.every(({ pitch }) => pitch !== note.pitch);
    if (goesOn) group.push(note);
    else groups.push([note]);
  }
  return groups;
}

function piecesOf(
  strokes: readonly ClipNote[][],
  role: Role,
  setting: ThroughSetting,
  beat: number,
): Piece[] {
  const { source, target } = setting;
  const sourceChanges = new Set(source.from);
  const holding = HOLDING[role] ?? 'goes on';
  return strokes.flatMap((stroke) => {
    const at = belongsTo(target, stroke, beat);
    const from = belongsTo(source, stroke, beat);
    return stroke.flatMap((note) => piecesOfNote(note, { source: from, target: at }));
  });

  function piecesOfNote(note: ClipNote, chords: { source: number; target: number }): Piece[] {
    const { tick, duration } = note;
    const end = tick + duration;
    const cuts = [];
    for (let k = chords.target + 1; k < target.from.length && target.from[k]! < end; k++) {
      const change = target.from[k]!;
      const least = holding === 'struck again' ? beat * LATE : beat;
      const isHeld = change > tick && holding !== 'goes on' && end - change >= least;
      if (isHeld && !sourceChanges.has(change)) cuts.push(k);
    }
    const pieces: Piece[] = [];
    const places = [tick, ...cuts.map((k) => target.from[k]!), end];
    for (let k = 0; k + 1 < places.length; k++) {
      const begin = places[k]!;
      pieces.push(
        piece(note, begin, places[k + 1]! - begin, setting, {
          source: k === 0 ? chords.source : indexAt(source, begin),
          target: k === 0 ? chords.target : cuts[k - 1]!,
          held: pieces.at(-1),
        }),
      );
    }
    return pieces;
  }
}

function piece(
  note: ClipNote,
  tick: number,
  duration: number,
  { source, target, sourceKey, targetKey }: ThroughSetting,
  place: { source: number; target: number; held: Piece | undefined },
): Piece {
  const [from, to] = [source.chords[place.source]!, target.chords[place.target]!];
  const inKey = sourceKey && targetKey ? sameKey(sourceKey, targetKey) : sourceKey === targetKey;
  return {
    tick,
    duration,
    note,
    source: place.source,
    target: place.target,
    from,
    to,
    struckAgain: place.held !== undefined,
    held: place.held,
    strong: false,
    heard: { as: 'no chord', degree: undefined },
    before: undefined,
    after: undefined,
    stays: inKey && isSameChord(from, to),
    first: false,
    image: note.pitch,
  };
}

/** A stroke on each change under which nothing begins: the stroke before, a little softer. */
function strokesForUnheard(clip: Clip, pieces: readonly Piece[], setting: ThroughSetting): Piece[] {
  const onsets = [...new Set(pieces.map(({ tick }) => tick))].sort((a, b) => a - b);
  return unheardOf(pieces, setting.target).flatMap(({ tick }) => {
    const before = onsets.findLast((onset) => onset < tick);
    if (before === undefined) return [];
    const until = onsets.find((onset) => onset > tick) ?? clip.length;
    return pieces
      .filter((one) => one.tick === before)
      .map((one) => {
        const softer = withVelocity(one.note, Math.max(1, Math.round(one.note.velocity * 0.9)));
        const place = { source: one.source, target: indexAt(setting.target, tick), held: undefined };
        const struck = piece(softer, tick, Math.min(one.duration, until - tick), setting, place);
        return { ...struck, struckAgain: true };
      });
  });
}

/**
 * A strum from the first string to the last (common practice: 15 to 40, seldom more than 60); a chord that is struck loosely is not
 * further apart.
 */
const SLOW_STRUM_MS = 80;

const spreadOf = (role: Role) => (role === 'guitar' ? SLOW_STRUM_MS : undefined);

/** What begins together, a strum with its spread: pieces in order of time. */
function strokesOf(clip: Clip, pieces: readonly Piece[]): Piece[][] {
  const notes = pieces.map(({ tick, duration, note }, origin) => ({ ...note, tick, duration, origin }));
  return unitsOf({ ...clip, notes }, spreadOf(clip.role)).map((unit) =>
    unit.map(({ origin }) => pieces[origin]!),
  );
}

function placeInLine(
  strokes: readonly Piece[][],
  { pickup }: Clip,
  beat: number,
  { sourceKey }: ThroughSetting,
): void {
  let target = -1;
  strokes.forEach((stroke, k) => {
    for (const one of stroke) {
      const within = (((one.tick - pickup) % beat) + beat) % beat;
      one.strong = within < beat / 8 || within > beat - beat / 8;
      one.before = nearestIn(strokes[k - 1], one.note.pitch);
      one.after = nearestIn(strokes[k + 1], one.note.pitch);
      one.first = one.target !== target;
      const around = (other: Piece | undefined) => other && { pitch: other.note.pitch, chord: other.from };
      one.heard = heardAs(
        {
          pitch: one.note.pitch,
          chord: one.from,
          strong: one.strong,
          before: around(one.before),
          after: around(one.after),
        },
        sourceKey,
      );
    }
    target = stroke[0]!.target;
  });
}

function nearestIn(stroke: readonly Piece[] | undefined, pitch: number): Piece | undefined {
  return stroke?.reduce((best, one) =>
    Math.abs(one.note.pitch - pitch) < Math.abs(best.note.pitch - pitch) ? one : best,
  );
}

const LINES: ReadonlySet<Role> = new Set<Role>(['lead', 'voice', 'reeds']);

/** How the notes of a role follow where nothing else is asked for (common practice). */
function methodFor(role: Role, way: Way | undefined, strokes: readonly Piece[][]): Method {
  if (way === 'block' || way === 'scale') return way;
  const sizes = strokes.map((stroke) => stroke.length);
  const chords = sizes.filter((size) => size >= 3).length;
  if (role === 'bass') return 'bass';
  // A shape on the strings has four notes or more; a triad on three of them is led like other voices (common practice).
  const shapes = sizes.filter((size) => size >= 4).length;
  if (role === 'guitar' && shapes * 2 >= sizes.length) return 'strings';
  if (role === 'guitar' && chords * 2 >= sizes.length) return 'voices';
  if (way === undefined && role === 'guitar') return 'block';
  if (role === 'arpeggio') return 'rungs';
  if (way === undefined && LINES.has(role)) return 'scale';
  if (way === undefined && role === 'other' && chords * 4 < sizes.length) return 'scale';
  return 'voices';
}

/** What was held over a change: the same pitch sounds on, what ends early ends at the change. */
function settleHeld(pieces: readonly Piece[], role: Role, setting: ThroughSetting, beat: number): Piece[] {
  const kept: Piece[] = [];
  const goesOn = new Map<Piece, Piece>();
  for (const one of pieces) {
    if (one.image < 0) continue;
    const held = one.held && (goesOn.get(one.held) ?? one.held);
    if (held && held.image === one.image) {
      held.duration = one.tick + one.duration - held.tick;
      goesOn.set(one, held);
    } else kept.push(one);
  }
  for (const one of kept) one.duration = lengthHeld(one, role, setting, beat);
  return kept;
}

/** How long a note sounds that is held over a change without being struck again. */
function lengthHeld(
  one: Piece,
  role: Role,
  { source, target, targetKey }: ThroughSetting,
  beat: number,
): number {
  const end = one.tick + one.duration;
  for (let k = one.target + 1; k < target.from.length && target.from[k]! < end; k++) {
    const change = target.from[k]!;
    const chord = target.chords[k];
    if (end - change < beat * LATE || !chord || source.from.includes(change) || change <= one.tick) continue;
    const fits =
      isChordNote(chord, one.image) || (!HOLDING[role] && isInScale(chordScale(chord, targetKey), one.image));
    if (!fits) return change - one.tick;
  }
  return one.duration;
}

function notesOf(pieces: readonly Piece[], made: number): ClipNote[] {
  let next = made;
  return pieces.map(({ tick, duration, note, image, struckAgain }): ClipNote => {
    const { velocity, release, origin } = note;
    return { tick, duration, pitch: image, velocity, release, origin: struckAgain ? next-- : origin };
  });
}

/** `notes` are what the pieces have become, in their order. */
function outsideOf(
  pieces: readonly Piece[],
  notes: readonly ClipNote[],
  role: Role,
  { target, targetKey }: ThroughSetting,
  isLine: boolean,
  beat: number,
): Outside[] {
  const pitches = pieces.map(({ note }) => note.pitch);
  const register = REGISTERS[role];
  const low = Math.min(register?.low ?? 0, ...pitches);
  const high = Math.max(register?.high ?? 127, ...pitches);
  return pieces.flatMap((one, k): Outside[] => {
    const { to, from, image, tick, heard, note } = one;
    const tell = (cause: OutsideCause): Outside[] => [
      {
        note: notes[k]!.origin,
        tick,
        pitch: image,
        cause,
        was: heard.as,
        symbol: target.symbols[one.target]!,
      },
    ];
    if (image < low || image > high) return tell('octaves');
    if (!to) return [];
    if (!isChordNote(to, image) && !isInScale(chordScale(to, targetKey), image)) return tell('foreign');
    const before = isLine && k > 0 ? pieces[k - 1]! : undefined;
    if (before && isTurned(note.pitch - before.note.pitch, image - before.image)) return tell('turned');
    const rubs = (chord: ChordName | null, pitch: number) =>
      chord !== null && !isChordNote(chord, pitch) && isAvoided((pitch - chord.root + 120) % 12, chord);
    const isLong = one.strong && one.duration >= beat / 2;
    return isLong && rubs(to, image) && !rubs(from, note.pitch) ? tell('clash') : [];
  });
}

function unheardOf(pieces: readonly Piece[], target: Track): Through['unheard'] {
  const heard = new Set(pieces.map((one) => one.target));
  return target.chords.flatMap((chord, k) =>
    chord && !heard.has(k) ? [{ tick: target.from[k]!, symbol: target.symbols[k]! }] : [],
  );
}
