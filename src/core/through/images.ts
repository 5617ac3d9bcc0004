import { group } from 'd3-array';
import {
  chordScale,
  isInScale,
  pitchOfStep,
  stepOf,
  stepsFrom,
  type ChordScale,
} from '../music/chord-scale.ts';
import type { ChordName } from '../music/chord.ts';
import type { Key } from '../music/key.ts';
import { foldedPitch, pitchClass } from '../music/pitch.ts';
import { REGISTERS } from '../phrase/registers.ts';
import type { Role } from '../split/roles.ts';
import {
  degreeInTarget,
  isChordNote,
  keptSuspension,
  nearestInScale,
  nearestPitch,
  rootWay,
  rungsOf,
  sameStep,
  voicesFor,
} from './degrees.ts';
import { chooseOctaves } from './lines.ts';
import { strummedShape } from './strings.ts';
import { keyWay, type Piece, type ThroughSetting } from './pieces.ts';
import { chooseVoicings, type Voiced } from './voicings.ts';

/** By which rule chord notes find theirs. */
export type Method = 'voices' | 'block' | 'scale' | 'bass' | 'strings' | 'rungs';

type InChords = Piece & { from: ChordName; to: ChordName };

/** So many voices are led; a pattern over more goes rung by rung. */
const MOST_VOICES = 7;

/** Lower than this, with room above it, the lowest note of a chord is its bass. */
const BASS_BELOW = 52;
const BASS_ROOM = 5;

/** Writes each piece's pitch in the result, first of the chord notes, then of those that lean on them. */
export function imagesOf(
  strokes: readonly Piece[][],
  method: Method,
  role: Role,
  setting: ThroughSetting,
): void {
  const pieces = strokes.flat();
  const shift = keyWay(setting);
  for (const one of pieces) if (!isInChords(one)) one.image = one.note.pitch + shift;
  const inChords = pieces.filter(isInChords);
  const open = inChords.filter(({ stays }) => !stays);
  if (method === 'voices') leadVoices(inChords, role, setting);
  if (method === 'strings') onStrings(strokes, setting.targetKey);
  for (const one of open) {
    if (one.heard.as !== 'chord') continue;
    if (method === 'block') one.image = inBlock(one, setting.targetKey);
    if (method === 'rungs') one.image = onRung(one);
    if (method === 'bass') one.image = asBass(one, setting.targetKey);
  }
  if (method === 'scale') for (const one of open) one.image = inScale(one, setting);
  else {
    // Twice: the second time what leans knows where its neighbors went that lean themselves.
    for (let pass = 0; pass < 2; pass++)
      for (const one of inChords) if (one.heard.as !== 'chord') one.image = leaning(one, method, setting);
  }
  if (method === 'bass') for (const one of inChords) one.image = intoNext(one, setting) ?? one.image;
  if (method === 'scale')
    for (const one of inChords) if (one.heard.as === 'approach') one.image = towardGoal(one) ?? one.image;
  if (method === 'bass' || method === 'scale') keepLine(strokes, method === 'bass' ? 0 : -1, role, shift);
  for (const one of pieces) if (one.image >= 0) one.image = foldedPitch(one.image);
}

function isInChords(one: Piece): one is InChords {
  return one.from !== null && one.to !== null;
}

/** The pitch class a chord note becomes. */
function classInTarget({ from, to, heard, note }: InChords, key: Key | null): number {
  const kept = heard.degree === 3 ? keptSuspension(from, to, key) : undefined;
  return kept ?? degreeInTarget(heard.degree!, to, key, note.pitch + rootWay(from.root, to.root));
}

function inBlock(one: InChords, key: Key | null): number {
  return nearestPitch(classInTarget(one, key), one.note.pitch + rootWay(one.from.root, one.to.root));
}

/** Rung k of a broken chord on rung k of the other, octave by octave; with fewer rungs the pattern goes round. */
function onRung({ from, to, note: { pitch } }: InChords): number {
  const [rungs, others] = [rungsOf(from), rungsOf(to)];
  const above = pitchClass(pitch - from.root);
  const rung = rungs.indexOf(above);
  const root = pitch - above + rootWay(from.root, to.root);
  return rung < 0 ? nearestPitch(to.bass, pitch) : root + others[rung % others.length]!;
}

/** The first stroke under a chord is its bass; every other note keeps its degree. */
function asBass(one: InChords, key: Key | null): number {
  const near = one.note.pitch + rootWay(one.from.root, one.to.root);
  return nearestPitch(one.first ? one.to.bass : classInTarget(one, key), near);
}

/**
 * What leads into the next chord aims at its new bass note by as many semitones. What was of its scale stays of a scale: a note of
 * its chord keeps its degree, another takes the step of the scale on the same side.
 */
function intoNext(one: InChords, { sourceKey, targetKey }: ThroughSetting): number | undefined {
  const { after } = one;
  if (!after || after.target === one.target || !after.first || isSameGoal(after)) return undefined;
  // An octave between them leads in as well.
  const by = ((one.note.pitch - after.note.pitch + 126) % 12) - 6;
  if (by === 0 || Math.abs(by) > 2 || one.first) return undefined;
  const target = chordScale(one.to, targetKey);
  const isDiatonic = isInScale(chordScale(one.from, sourceKey), one.note.pitch);
  const fits = (semitones: number) => !isDiatonic || isInScale(target, after.image + semitones);
  // A chord note a whole tone off is a chord note first: only a semitone pulls.
  if (one.heard.as === 'chord' && (Math.abs(by) === 2 || !fits(by))) return undefined;
  const step = [by, Math.sign(by) * (3 - Math.abs(by))].find(fits) ?? by;
  one.heard = { as: 'approach', degree: undefined };
  return nearestPitch(pitchClass(after.image + step), one.image);
}

const isSameGoal = (after: Piece) => after.stays && after.image === after.note.pitch;

/** As many semitones from where its goal has gone. */
function towardGoal({ after, note }: Piece): number | undefined {
  return after && after.image >= 0 ? after.image + (note.pitch - after.note.pitch) : undefined;
}

/** The same place in the scale of the target, counted from the roots, moved by the shorter way. */
function inScale(one: InChords, { sourceKey, targetKey }: ThroughSetting): number {
  const [source, target] = [chordScale(one.from, sourceKey), chordScale(one.to, targetKey)];
  const { step, over } = stepOf(source, one.note.pitch);
  const raw = sameStep(step, source.steps.length, target) + over;
  return nearestPitch(pitchClass(raw), one.note.pitch + rootWay(one.from.root, one.to.root));
}

/** Voices of the chords led together: all strokes under one chord keep one voicing. */
function leadVoices(pieces: readonly InChords[], role: Role, setting: ThroughSetting): void {
  const asChords = pieces.filter(({ heard }) => heard.as === 'chord');
  const strokes = group(asChords, ({ source, target }) => `${source}/${target}`);
  const led: { group: InChords[]; source: number[]; voiced: Voiced }[] = [];
  for (const group of strokes.values()) {
    const source = [...new Set(group.map(({ note }) => note.pitch))].sort((a, b) => a - b);
    if (source.length > MOST_VOICES) {
      for (const one of group) if (!one.stays) one.image = onRung(one);
    } else led.push({ group, source, voiced: voicedOf(group, source, setting) });
  }
  const voicings = chooseVoicings(
    led.map(({ voiced }) => voiced),
    REGISTERS[role],
    setting.loops,
  );
  led.forEach(({ group, source }, k) => {
    for (const one of group) one.image = voicings[k]![source.indexOf(one.note.pitch)]!;
  });
}

function voicedOf(
  group: readonly InChords[],
  source: number[],
  { targetKey, richer }: ThroughSetting,
): Voiced {
  const [{ from, to, stays }] = group as [InChords];
  if (stays) return { source, classes: [], fixed: source };
  const isLow = source[0]! < BASS_BELOW && (source.length === 1 || source[1]! - source[0]! >= BASS_ROOM);
  const hasBass = isLow && pitchClass(source[0]! - from.bass) === 0;
  const bass = to.bass !== to.root || hasBass ? to.bass : undefined;
  const classes = classesFor(group, source, hasBass, targetKey);
  if (bass !== undefined && (hasBass || !classes.includes(bass))) classes[0] = bass;
  const seventh = to.quality.degrees[7];
  if (richer && seventh !== undefined && !classes.includes(pitchClass(to.root + seventh))) {
    const doubled = classes.lastIndexOf(to.root);
    if (doubled > classes.indexOf(to.root)) classes[doubled] = pitchClass(to.root + seventh);
  }
  return { source, classes, bass };
}

/** As many pitch classes as the source has voices: its degrees, or of a chord with more notes those that matter. */
function classesFor(
  group: readonly InChords[],
  source: readonly number[],
  hasBass: boolean,
  key: Key | null,
): number[] {
  const [{ to }] = group as [InChords];
  const voices = source.length - (hasBass ? 1 : 0);
  // A triad stays one: only who plays sevenths is given tensions.
  const isTriad = !group.some(({ heard }) => typeof heard.degree === 'number' && heard.degree >= 7);
  if (!isTriad && to.quality.tones.length > source.length) {
    return [...(hasBass ? [to.bass] : []), ...voicesFor(to, voices, hasBass)];
  }
  return source.map((pitch) =>
    classInTarget(
      group.find(({ note }) => note.pitch === pitch)!,
      key,
    ),
  );
}

/** Strummed strokes in the shape of the chord, told string by string from the top; other strokes as a block. */
function onStrings(strokes: readonly Piece[][], key: Key | null): void {
  for (const stroke of strokes) {
    const chord = stroke.filter(isInChords);
    if (chord.length === 0 || chord[0]!.stays) continue;
    if (chord.length < 3) {
      for (const one of chord) if (one.heard.as === 'chord') one.image = inBlock(one, key);
      continue;
    }
    const shape = strummedShape(chord[0]!.to).reverse();
    [...chord]
      .sort((a, b) => b.note.pitch - a.note.pitch)
      .forEach((one, rank) => {
        if (one.heard.as === 'chord') one.image = shape[rank] ?? -1;
      });
  }
}

/** A note that is no chord note, by the chord notes it leans on. */
function leaning(one: InChords, method: Method, setting: ThroughSetting): number {
  const { before, after, note, heard, to } = one;
  const { targetKey } = setting;
  if (one.stays && isUnmoved(before) && isUnmoved(after)) return note.pitch;
  switch (heard.as) {
    case 'pedal':
      return note.pitch + keyWay(setting);
    case 'approach':
      return towardGoal(one) ?? nearestInScale(to, targetKey, note.pitch);
    case 'suspension': {
      const hangs = before!.image;
      const falls = hangs - after!.image;
      return falls === 1 || falls === 2 ? hangs : nearestChordPitch(to, hangs);
    }
    default:
      return steppedImage(one, method, setting);
  }
}

const isUnmoved = (one: Piece | undefined) => !one || one.image === one.note.pitch;

function nearestChordPitch(chord: ChordName, pitch: number): number {
  for (let by = 0; by < 6; by++)
    for (const way of [-by, by]) if (isChordNote(chord, pitch + way)) return pitch + way;
  return pitch;
}

function steppedImage(one: InChords, method: Method, setting: ThroughSetting): number {
  const { before, after, note } = one;
  const lean = [before, after].flatMap((other) => (other ? leanOn(one, other, setting) : []));
  const letter = sameLetter(one, setting);
  const candidates = (method === 'voices' ? [...letter, ...lean] : [...lean, ...letter]).filter(
    (pitch) => pitch >= 0 && pitch <= 127,
  );
  const goesOn = (from: Piece | undefined, pitch: number) =>
    !from ||
    from.image < 0 ||
    from.note.pitch === note.pitch ||
    Math.sign(note.pitch - from.note.pitch) === Math.sign(pitch - from.image);
  return (
    candidates.find((pitch) => goesOn(before, pitch) && goesOn(after, pitch)) ??
    candidates[0] ??
    nearestInScale(one.to, setting.targetKey, note.pitch + rootWay(one.from.root, one.to.root))
  );
}

/** As many steps of the scale from a neighbor that is a chord note. */
function leanOn(one: InChords, other: Piece, { sourceKey, targetKey }: ThroughSetting): number[] {
  if (other.heard.as !== 'chord' || other.image < 0) return [];
  const source = chordScale(one.from, sourceKey);
  const target = chordScale(one.to, targetKey);
  const from = stepOf(source, other.note.pitch);
  const to = stepOf(source, one.note.pitch);
  const steps = to.step - from.step;
  // Between two steps of its scale it stays as far over the lower one.
  return [
    steps === 0
      ? other.image + (one.note.pitch - other.note.pitch)
      : stepsFrom(target, other.image, steps) + to.over,
  ];
}

/** The note on the same letter, as the target's scale alters it; none where either scale has not seven notes. */
function sameLetter(one: InChords, setting: ThroughSetting): number[] {
  const { sourceKey, targetKey } = setting;
  const [source, target] = [
    lettered(chordScale(one.from, sourceKey), sourceKey?.tonic ?? 0),
    lettered(chordScale(one.to, targetKey), targetKey?.tonic ?? 0),
  ];
  if (!source || !target) return [];
  const { step, over } = stepOf(source, one.note.pitch);
  const pitch = nearestPitch(pitchClass(pitchOfStep(target, step) + over), one.note.pitch + keyWay(setting));
  return isInScale(target, pitch) || over > 0 ? [pitch] : [];
}

/** A scale of seven counted from the note that stands for the tonic. */
function lettered({ root, steps }: ChordScale, tonic: number): ChordScale | undefined {
  if (steps.length !== 7) return undefined;
  const classes = steps.map((step) => pitchClass(root + step));
  const home = [0, 1, -1].map((by) => pitchClass(tonic + by)).find((pc) => classes.includes(pc));
  if (home === undefined) return undefined;
  return { root: home, steps: classes.map((pc) => pitchClass(pc - home)).sort((a, b) => a - b) };
}

/** Octaves of a line by which it goes the way it went: by the lowest notes of its strokes (0), or the highest (-1). */
function keepLine(strokes: readonly Piece[][], which: 0 | -1, role: Role, shift: number): void {
  const line = strokes.map((stroke) => [...stroke].sort((a, b) => a.note.pitch - b.note.pitch).at(which)!);
  const pitches = line.map(({ note }) => note.pitch);
  const register = REGISTERS[role];
  const octaves = chooseOctaves(
    line.map(({ note, image }) => ({ pitch: note.pitch, home: note.pitch + shift, image })),
    {
      least: Math.min(register?.low ?? 0, ...pitches),
      most: Math.max(register?.high ?? 127, ...pitches),
      kind: which === 0 ? 'bass' : 'tune',
    },
  );
  strokes.forEach((stroke, k) => {
    const by = octaves[k]! - line[k]!.image;
    if (by !== 0) for (const one of stroke) one.image += by;
  });
}
