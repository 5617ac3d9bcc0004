import { ascending, groups } from 'd3-array';
import { kitPiece } from '../midi/gm.ts';
import { CHORD_QUALITIES, parseQuality } from '../music/chord-quality.ts';
import { upperMedian } from '../numbers.ts';
import { placeInBar } from '../music/metrical.ts';
import { pitchClass } from '../music/pitch.ts';
import { msPerQuarter } from '../music/timeline.ts';
import { bpmOfClip, isPitched, playedNotes, type Clip, type ClipNote } from '../phrase/clip.ts';
import type { Role } from '../split/roles.ts';
import { LOW_LIMITS } from '../through/voicings.ts';

/** What does not go together in parts that sound at once (common practice). */
export const CLASH_KINDS = [
  'thirds',
  'eleventh',
  'semitone',
  'low',
  'bass under',
  'two basses',
  'register',
  'kick and bass',
  'hit',
  'swing',
  'change',
] as const;
export type ClashKind = (typeof CLASH_KINDS)[number];

/** A part as it is heard with others: from one bar one. */
export interface SoundingPart {
  name: string;
  clip: Clip;
  /** Long share of a pair of eighths, where that is known. */
  swing?: number | null;
}

export interface Clash {
  kind: ClashKind;
  /** Which of the parts, the one it is rather about first. */
  parts: [number, number];
  /** Origins of the notes, by part in the same order; empty where it is about the parts as a whole. */
  notes: [number[], number[]];
  pitches: number[];
  /** Quarter notes from bar one. */
  beat: number;
  /** Overlap in beats by metrical weight and loudness: the first in a list matters most. */
  weight: number;
  /** Milliseconds, or points of swing, or beats, where the kind has a measure. */
  by?: number;
}

/** Shorter than this, in quarter notes, two neighbors pass by each other. */
const PASSING = 1 / 8;

/** Two hits within so many milliseconds are on one beat; so far apart a kick and a bass fall asunder. */
const ONE_BEAT_MS = 30;
const ASUNDER_MS = { from: 20, to: 60 };

/** Medians so near, and so many strokes together: two parts in one register. */
const REGISTER = { semitones: 3, together: 0.7 };

/** Swing so many points apart is heard (common practice). */
const SWING_POINTS = 0.04;

/** How much a kind matters against a plain semitone. */
const MATTERS: Readonly<Record<ClashKind, number>> = {
  thirds: 2,
  semitone: 1,
  eleventh: 0.8,
  'two basses': 0.8,
  'bass under': 0.6,
  low: 0.4,
  change: 0.6,
  'kick and bass': 0.4,
  register: 0.3,
  swing: 0.4,
  hit: 0.2,
};

interface Placed {
  note: ClipNote;
  pitch: number;
  /** Quarter notes from bar one. */
  from: number;
  to: number;
}

/** Where parts that begin together clash, the worst first. */
export function clashesBetween(parts: readonly SoundingPart[]): Clash[] {
  const placed = parts.map(({ clip }) => placedIn(clip));
  const context: Context = { parts, placed, sounding: soundingTogether(parts, placed) };
  const found: Clash[] = [];
  for (let a = 0; a < parts.length; a++)
    for (let b = a + 1; b < parts.length; b++) {
      const pitched = isPitched(parts[a]!.clip) && isPitched(parts[b]!.clip);
      if (pitched && isLayerOf(placed[a]!, placed[b]!)) continue;
      found.push(...between(context, a, b));
    }
  return merged(found).sort((a, b) => b.weight - a.weight || a.beat - b.beat);
}

interface Context {
  parts: readonly SoundingPart[];
  placed: readonly Placed[][];
  sounding: { from: number; to: number; pitch: number }[];
}

function between(context: Context, a: number, b: number): Clash[] {
  const { parts } = context;
  const [one, other] = [parts[a]!.clip, parts[b]!.clip];
  const pitched = [isPitched(one), isPitched(other)];
  if (pitched[0] && pitched[1]) {
    return [
      ...rubs(context, a, b),
      ...lowIntervals(context, a, b),
      ...bassUnder(context, a, b),
      ...bassUnder(context, b, a),
      ...asWhole(context, a, b),
      ...changesApart(context, a, b),
      ...swings(context, a, b),
    ];
  }
  if (!pitched[0] && !pitched[1]) return [...hits(context, a, b), ...swings(context, a, b)];
  const [drums, part] = pitched[0] ? [b, a] : [a, b];
  return [...kickAndBass(context, drums, part), ...swings(context, a, b)];
}

function placedIn(clip: Clip): Placed[] {
  const { pickup, timeline } = clip;
  return playedNotes(clip).map((note) => {
    const from = (note.tick - pickup) / timeline.ppq;
    return { note, pitch: note.pitch, from, to: from + note.duration / timeline.ppq };
  });
}

/** How strong a place is, 0.2 to 1; to the nearest twelfth of a quarter note. */
function strengthAt(clip: Clip, beat: number): number {
  const tick = clip.pickup + (Math.round(beat * 12) / 12) * clip.timeline.ppq;
  return Math.max(0.2, 1 + 0.2 * placeInBar(clip, tick).weight);
}

/** A clash of some notes of two parts, by how long it lasts, how strong its place is and how loud they are. */
function ofNotes(
  { parts }: Context,
  kind: ClashKind,
  [a, b]: readonly [number, number],
  [one, other]: readonly [readonly Placed[], readonly Placed[]],
  { from, beats, pitches }: { from: number; beats: number; pitches: number[] },
): Clash {
  const sounding = [...one, ...other];
  const loudness = sounding.reduce((sum, { note }) => sum + note.velocity, 0) / sounding.length / 127;
  const origins = (notes: readonly Placed[]) => notes.map(({ note }) => note.origin);
  return {
    kind,
    parts: [a, b],
    notes: [origins(one), origins(other)],
    pitches,
    beat: from,
    weight: MATTERS[kind] * beats * strengthAt(parts[a]!.clip, from) * loudness,
  };
}

/** A clash of two notes that sound together. */
function ofPair(
  context: Context,
  kind: ClashKind,
  parts: readonly [number, number],
  [one, other, from, beats]: Together,
): Clash {
  const pitches = [one.pitch, other.pitch];
  return ofNotes(context, kind, parts, [[one], [other]], { from, beats, pitches });
}

/** A clash of two parts as wholes. */
function ofParts(kind: ClashKind, [a, b]: readonly [number, number], beat: number, much: number): Clash {
  return { kind, parts: [a, b], notes: [[], []], pitches: [], beat, weight: MATTERS[kind] * much };
}

/** Two notes, from when they sound together and for how many beats. */
type Together = [Placed, Placed, from: number, beats: number];

/** Pairs of two parts that sound together for longer than in passing. */
function* together(one: readonly Placed[], other: readonly Placed[]): Generator<Together> {
  let first = 0;
  const longest = Math.max(0, ...other.map(({ from, to }) => to - from));
  for (const a of one) {
    while (first < other.length && other[first]!.from < a.from - longest) first++;
    for (let k = first; k < other.length && other[k]!.from < a.to; k++) {
      const b = other[k]!;
      const from = Math.max(a.from, b.from);
      const beats = Math.min(a.to, b.to) - from;
      if (beats > PASSING) yield [a, b, from, beats];
    }
  }
}

function rubs(context: Context, a: number, b: number): Clash[] {
  const { parts, placed, sounding } = context;
  const found: Clash[] = [];
  for (const pair of together(placed[a]!, placed[b]!)) {
    const [one, other, from, beats] = pair;
    const apart = Math.abs(one.pitch - other.pitch) % 12;
    if (apart !== 1 && apart !== 11) continue;
    const [upper, lower] = one.pitch > other.pitch ? [one, other] : [other, one];
    const kind = kindOfRub(
      pitchClass(upper.pitch),
      pitchClass(lower.pitch),
      upper.pitch - lower.pitch,
      classesAt(sounding, from, beats),
    );
    if (!kind) continue;
    // An eleventh over a third is heard where it stands on a strong place for half a beat.
    if (kind === 'eleventh' && (beats < 0.5 || strengthAt(parts[a]!.clip, from) < 0.6)) continue;
    found.push(ofPair(context, kind, [a, b], pair));
  }
  return found;
}

/** Qualities whose notes may stand a semitone apart: the chord names them. */
const NAMED = [
  ...CHORD_QUALITIES,
  ...[
    '7b9',
    '7#9',
    '7b9b13',
    '13b9',
    '7b9#11',
    '13',
    '13#11',
    '7#11',
    'maj7#11',
    'maj13',
    'm11',
    'm13',
    '7alt',
    'maj7#5',
    'mMaj9',
  ].map((symbol) => parseQuality(symbol)!),
].map(({ tones }) => [...tones].sort((x, y) => x - y).join());

/** Whether some pitch classes are a chord that has a name, from one of them as its root; the fifth may be left out. */
function isNamedChord(classes: readonly number[]): boolean {
  return classes.some((root) => {
    const over = classes.map((pc) => pitchClass(pc - root)).sort((x, y) => x - y);
    return (
      NAMED.includes(over.join()) || NAMED.includes([...new Set([...over, 7])].sort((x, y) => x - y).join())
    );
  });
}

/** What a pair a semitone apart is; undefined where the chord that sounds names both. */
function kindOfRub(
  upper: number,
  lower: number,
  semitones: number,
  classes: readonly number[],
): ClashKind | undefined {
  if (isNamedChord(classes)) return undefined;
  const minorThird = [upper, lower].find(
    (pc) => classes.includes(pitchClass(pc - 3)) && classes.includes(pitchClass(pc + 4)),
  );
  if (minorThird !== undefined) {
    const root = pitchClass(minorThird - 3);
    const majorThird = pitchClass(root + 4);
    if ([upper, lower].includes(majorThird) && classes.includes(pitchClass(root + 7))) return 'thirds';
  }
  // A seventh under its root is no rub: only what lies over the note it is a semitone from.
  if (semitones % 12 !== 1) return undefined;
  const elevenOf = pitchClass(upper - 5);
  if (pitchClass(lower - elevenOf) === 4 && classes.includes(elevenOf)) return 'eleventh';
  return 'semitone';
}

function soundingTogether(parts: readonly SoundingPart[], placed: readonly Placed[][]): Context['sounding'] {
  return placed
    .filter((_, k) => isPitched(parts[k]!.clip))
    .flat()
    .map(({ from, to, pitch }) => ({ from, to, pitch }))
    .sort((a, b) => a.from - b.from);
}

/** Pitch classes that sound in some time for longer than in passing. */
function classesAt(sounding: Context['sounding'], from: number, beats: number): number[] {
  const classes = new Set<number>();
  for (const note of sounding) {
    if (note.from >= from + beats) break;
    const overlap = Math.min(note.to, from + beats) - Math.max(note.from, from);
    if (overlap > Math.min(PASSING, beats / 2)) classes.add(pitchClass(note.pitch));
  }
  return [...classes];
}

function lowIntervals(context: Context, a: number, b: number): Clash[] {
  const found: Clash[] = [];
  for (const pair of together(context.placed[a]!, context.placed[b]!)) {
    const [one, other, , beats] = pair;
    const [low, high] = [Math.min(one.pitch, other.pitch), Math.max(one.pitch, other.pitch)];
    const limit = LOW_LIMITS.find(([below]) => low < below);
    // A semitone is told as one.
    if (!limit || high - low < 2 || high - low >= limit[1] || beats < 0.5) continue;
    found.push(ofPair(context, 'low', [a, b], pair));
  }
  return found;
}

const CHORDAL: ReadonlySet<Role> = new Set<Role>(['keys', 'guitar', 'pad', 'strings', 'brass']);

/** A bass that sounds above the chords it should carry, for a beat or more. */
function bassUnder(context: Context, bass: number, chords: number): Clash[] {
  const { parts, placed } = context;
  if (parts[bass]!.clip.role !== 'bass' || !CHORDAL.has(parts[chords]!.clip.role)) return [];
  return [...together(placed[bass]!, placed[chords]!)]
    .filter(([one, other, , beats]) => beats >= 1 && one.pitch > other.pitch)
    .map((pair) => ofPair(context, 'bass under', [bass, chords], pair));
}

/** Two basses at once; two parts in one register that strike together. */
function asWhole({ parts, placed }: Context, a: number, b: number): Clash[] {
  const [one, other] = [placed[a]!, placed[b]!];
  if (one.length < 2 || other.length < 2) return [];
  const shared = sharedOnsets(one, other);
  const kinds: ClashKind[] = [];
  if (parts[a]!.clip.role === 'bass' && parts[b]!.clip.role === 'bass' && overlapShare(one, other) > 0.5)
    kinds.push('two basses');
  const apart = Math.abs(
    upperMedian(one.map(({ pitch }) => pitch)) - upperMedian(other.map(({ pitch }) => pitch)),
  );
  if (apart <= REGISTER.semitones && shared >= REGISTER.together && kinds.length === 0)
    kinds.push('register');
  const beat = Math.max(0, one[0]!.from, other[0]!.from);
  return kinds.map((kind) => ofParts(kind, [a, b], beat, kind === 'register' ? shared : 1));
}

function overlapShare(one: readonly Placed[], other: readonly Placed[]): number {
  let beats = 0;
  for (const [, , , overlap] of together(one, other)) beats += overlap;
  const own = one.reduce((sum, { from, to }) => sum + to - from, 0);
  return own > 0 ? beats / own : 0;
}

/** Share of the strokes of the part with fewer that the other strikes too. */
function sharedOnsets(one: readonly Placed[], other: readonly Placed[]): number {
  const places = (notes: readonly Placed[]) => new Set(notes.map(({ from }) => Math.round(from * 8)));
  const [a, b] = [places(one), places(other)];
  const [fewer, more] = a.size < b.size ? [a, b] : [b, a];
  return [...fewer].filter((place) => more.has(place)).length / Math.max(1, fewer.size);
}

/** A part that doubles another note for note, octaves apart, is its layer: no clash is meant. */
function isLayerOf(one: readonly Placed[], other: readonly Placed[]): boolean {
  if (one.length !== other.length || one.length === 0) return false;
  return one.every(
    ({ from, pitch }, k) =>
      Math.abs(from - other[k]!.from) < PASSING && pitchClass(pitch - other[k]!.pitch) === 0,
  );
}

function kickAndBass(context: Context, drums: number, bass: number): Clash[] {
  const { parts, placed } = context;
  if (parts[bass]!.clip.role !== 'bass') return [];
  const ms = msPerQuarter(bpmOfClip(parts[drums]!.clip));
  const kicks = placed[drums]!.filter(({ pitch }) => kitPiece(pitch) === 'kick');
  return kicks.flatMap((kick): Clash[] => {
    const near = placed[bass]!.reduce<Placed | undefined>(
      (best, one) => (!best || Math.abs(one.from - kick.from) < Math.abs(best.from - kick.from) ? one : best),
      undefined,
    );
    const apart = near ? Math.abs(near.from - kick.from) * ms : 0;
    if (!near || apart < ASUNDER_MS.from || apart > ASUNDER_MS.to) return [];
    const clash = ofPair(context, 'kick and bass', [drums, bass], [kick, near, kick.from, apart / 60]);
    return [{ ...clash, by: Math.round(apart) }];
  });
}

/** One drum struck by both on one beat. */
function hits(context: Context, a: number, b: number): Clash[] {
  const { parts, placed } = context;
  const slack = (ONE_BEAT_MS * bpmOfClip(parts[a]!.clip)) / 60_000;
  return placed[a]!.flatMap((one): Clash[] => {
    const other = placed[b]!.find(
      ({ pitch, from }) => pitch === one.pitch && Math.abs(from - one.from) <= slack,
    );
    if (!other) return [];
    const place = { from: one.from, beats: 0.25, pitches: [one.pitch] };
    return [ofNotes(context, 'hit', [a, b], [[one], [other]], place)];
  });
}

function swings({ parts }: Context, a: number, b: number): Clash[] {
  const [one, other] = [parts[a]!.swing, parts[b]!.swing];
  if (one == null || other == null || Math.abs(one - other) < SWING_POINTS) return [];
  const by = Math.round(100 * Math.abs(one - other));
  return [{ ...ofParts('swing', [a, b], 0, by / 10), by }];
}

/** Full chords of a part, and where each begins: the same as before is none. */
function chordsOf(notes: readonly Placed[]): { from: number; classes: string; notes: Placed[] }[] {
  const strokes = groups(notes, ({ from }) => Math.round(from * 4) / 4);
  const found: { from: number; classes: string; notes: Placed[] }[] = [];
  for (const [from, stroke] of strokes.sort(([a], [b]) => ascending(a, b))) {
    const classes = [...new Set(stroke.map(({ pitch }) => pitchClass(pitch)))].sort((x, y) => x - y);
    if (classes.length < 3 || found.at(-1)?.classes === classes.join()) continue;
    found.push({ from, classes: classes.join(), notes: stroke });
  }
  return found;
}

/** One change of chord that two parts make about a beat apart. */
function changesApart(context: Context, a: number, b: number): Clash[] {
  const { parts, placed } = context;
  if (!CHORDAL.has(parts[a]!.clip.role) || !CHORDAL.has(parts[b]!.clip.role)) return [];
  const [one, other] = [chordsOf(placed[a]!), chordsOf(placed[b]!)];
  return one.flatMap((chord): Clash[] => {
    if (other.some(({ from, classes }) => from === chord.from && classes === chord.classes)) return [];
    const late = other.find(
      ({ from, classes }) => classes === chord.classes && Math.abs(Math.abs(from - chord.from) - 1) <= 0.25,
    );
    if (!late) return [];
    const pitches = chord.notes.map(({ pitch }) => pitch);
    const place = { from: chord.from, beats: 1, pitches };
    return [
      {
        ...ofNotes(context, 'change', [a, b], [chord.notes, late.notes], place),
        beat: Math.min(chord.from, late.from),
        by: Math.round(4 * Math.abs(late.from - chord.from)) / 4,
      },
    ];
  });
}

/** One clash of two parts that goes on over the same two notes within a bar is told once. */
function merged(found: readonly Clash[]): Clash[] {
  const kept = new Map<string, Clash>();
  for (const clash of found) {
    const bar = Math.floor(clash.beat / 4);
    const name = [clash.kind, clash.parts, bar, clash.pitches.map(pitchClass)].join('/');
    const before = kept.get(name);
    if (!before) kept.set(name, { ...clash });
    else {
      before.weight += clash.weight;
      before.notes = [
        [...new Set([...before.notes[0], ...clash.notes[0]])],
        [...new Set([...before.notes[1], ...clash.notes[1]])],
      ];
      before.beat = Math.min(before.beat, clash.beat);
    }
  }
  return [...kept.values()];
}
