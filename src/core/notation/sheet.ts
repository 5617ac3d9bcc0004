import type { ChangesChord } from '../analyze/changes.ts';
import { upperMedian } from '../numbers.ts';
import { parseSymbol } from '../music/chord.ts';
import type { Key } from '../music/key.ts';
import { bpmOf, tempoAt, type Timeline } from '../music/timeline.ts';
import type { Marker } from '../midi/timing.ts';
import { isPitched, type Clip, type ClipNote } from '../phrase/clip.ts';
import { TUNE_ROLES, UNPITCHED, type Role } from '../split/roles.ts';
import { OPEN_STRINGS } from '../through/strings.ts';
import {
  writeMusicXml,
  type Clef,
  type Harmony,
  type Line,
  type Score,
  type Staff,
  type Transposing,
  type Word,
} from './musicxml.ts';
import { folded } from './fold.ts';
import { QUARTER, readBars, signsOf, type ReadBar } from './reading-rhythm.ts';
import { inVoices, togetherIn } from './voices.ts';

/** Sheets for those who read: chords alone, a tune with chords, all parts, strings and frets. */
export const SHEETS = ['chords', 'lead', 'score', 'tab'] as const;
export type SheetKind = (typeof SHEETS)[number];

/** A part that can be written. */
export interface SheetPart {
  name: string;
  clip: Clip;
}

export interface SheetSetting {
  title: string;
  key: Key | null;
  /** Where it goes to other keys, at the ticks of the first part; without any it stays in its key. */
  keys?: readonly ({ tick: number } & Key)[];
  bars: number;
  /** Chords from bar one, in beats of its meter, in the key it is written in. */
  changes: readonly ChangesChord[];
  /** Words where they are sung, at the ticks of the clips. */
  words?: readonly Marker[];
  /** The instrument that reads the tune. */
  transposes?: keyof typeof TRANSPOSITIONS;
  /** The clef that they read a tune in; undefined is the one with the fewest ledger lines. */
  clef?: Clef | undefined;
}

/** Instruments against their written notes (handbook of orchestration; from memory): a Bb one sounds a whole tone lower, and so on. */
export const TRANSPOSITIONS: Readonly<Record<'C' | 'Bb' | 'Eb' | 'F', Transposing | null>> = {
  C: null,
  Bb: { chromatic: -2, diatonic: -1 },
  Eb: { chromatic: -9, diatonic: -5 },
  F: { chromatic: -7, diatonic: -4 },
};

/** Which parts stand on a sheet: the tune, what is fretted, or all. A sentence where there are none. */
export function partsOnSheet<Part extends SheetPart>(
  as: Exclude<SheetKind, 'chords'>,
  parts: readonly Part[],
): Part[] | string {
  const sounding = parts.filter(({ clip }) => clip.notes.length > 0);
  if (sounding.length === 0) return 'There are no notes in it.';
  if (as === 'score') return inScoreOrder(sounding);
  const ofRole = (role: Role) => sounding.filter(({ clip }) => clip.role === role);
  if (as === 'tab') {
    const [fretted] = [...ofRole('guitar'), ...ofRole('bass')];
    return fretted ? [fretted] : 'There is no guitar and no bass in it.';
  }
  const pitched = sounding.filter(({ clip }) => isPitched(clip));
  const tune = TUNE_ROLES.flatMap(ofRole)[0] ?? highest(pitched);
  return tune ? [tune] : 'There is no tune in it.';
}

/** Where a part lies, as a pitch. */
const heightOf = ({ clip }: SheetPart) => upperMedian(clip.notes.map(({ pitch }) => pitch));

/** From high to low, and what has no pitches below (common practice). */
function inScoreOrder<Part extends SheetPart>(parts: readonly Part[]): Part[] {
  const pitched = parts.filter(({ clip }) => isPitched(clip));
  const others = parts.filter(({ clip }) => !isPitched(clip));
  return [...pitched.sort((a, b) => heightOf(b) - heightOf(a)), ...others];
}

/** Where no part is a tune by its role, what lies highest is heard as one (common practice). */
function highest<Part extends SheetPart>(parts: readonly Part[]): Part | undefined {
  return inScoreOrder(parts)[0];
}

/** A sheet as MusicXML 4.0: the rhythm for the eye, never the timing of the phrases. All parts stand over the time of the first. */
export function sheetXml(
  as: Exclude<SheetKind, 'chords'>,
  parts: readonly SheetPart[],
  setting: SheetSetting,
): string {
  const { timeline, pickup } = parts[0]!.clip;
  const { title, bars } = setting;
  const read = readBars(timeline, pickup, bars);
  const score: Score = {
    ...{ title, bpm: bpmOf(tempoAt(timeline, pickup).microseconds), repeats: [] },
    heads: read.map(({ meter, from }) => ({ meter, key: keyIn(setting, from, parts[0]!.clip) })),
    staves: parts.map((part) => staffOf(as, part, setting)),
    harmony: harmonyOfBars(setting.changes, read),
  };
  return writeMusicXml(as === 'lead' ? folded(score) : score);
}

/** The key of a bar that begins so many units from bar one. */
function keyIn({ key, keys = [] }: SheetSetting, from: number, { timeline, pickup }: Clip): Key | null {
  const tick = pickup + (from * timeline.ppq) / QUARTER;
  return keys.findLast((one) => one.tick <= tick + 1) ?? key;
}

/** A bass's open strings in standard tuning (common practice), low to high. */
const BASS_STRINGS = [28, 33, 38, 43] as const;

/** Both hands meet here: middle C. What lies on one side of it alone needs one staff (common practice). */
const MIDDLE_C = 60;

function staffOf(as: SheetKind, { name, clip }: SheetPart, setting: SheetSetting): Staff {
  const { notes, role } = clip;
  if (as === 'tab') {
    const strings = role === 'bass' ? BASS_STRINGS : OPEN_STRINGS;
    return { name, ...lineOf('tab', notes, clip, setting.bars), strings };
  }
  const [low, high] = [
    notes.filter(({ pitch }) => pitch < MIDDLE_C),
    notes.filter(({ pitch }) => pitch >= MIDDLE_C),
  ];
  if (as === 'score' && role === 'keys' && low.length > 0 && high.length > 0)
    return {
      name,
      ...lineOf('treble', high, clip, setting.bars),
      lower: lineOf('bass', low, clip, setting.bars),
    };
  const clef = (as === 'lead' && isPitched(clip) && setting.clef) || clefOf(role, notes);
  const line = lineOf(clef, notes, clip, setting.bars);
  const transposes = as === 'lead' ? TRANSPOSITIONS[setting.transposes ?? 'C'] : null;
  return {
    ...{ name, ...line },
    ...(transposes ? { transposes } : {}),
    ...(as === 'lead' && setting.words ? { words: wordsUnder(line, setting.words, clip) } : {}),
  };
}

function lineOf(clef: Clef, notes: readonly ClipNote[], { timeline, pickup }: Clip, bars: number): Line {
  const sounding = notes.filter(({ tick }) => tick >= pickup);
  const voices = clef === 'percussion' || clef === 'tab' ? [sounding] : inVoices(sounding, timeline.ppq);
  const [upper, lower] = voices.map((voice) => signsOf(voice, timeline, { pickup, bars }));
  const line = { clef, ...(lower ? togetherIn(upper!, lower) : { bars: upper! }) };
  const before = notes.filter(({ tick }) => tick < pickup);
  return before.length > 0 ? { ...line, pickup: leadIn(before, timeline) } : line;
}

/** What leads in, without the rests before it. */
function leadIn(notes: readonly ClipNote[], timeline: Timeline) {
  const [signs] = signsOf(notes, timeline, { pickup: 0, bars: 1 });
  const first = signs!.findIndex(({ pitches }) => pitches.length > 0);
  return signs!.slice(Math.max(0, first));
}

/** Where half of the notes lie lower than this, ledger lines are fewer under a bass clef. */
const BASS_CLEF_BELOW = 57;

/** By the role, and where most of the notes lie. */
function clefOf(role: Role, notes: readonly ClipNote[]): Clef {
  if (UNPITCHED.has(role)) return 'percussion';
  if (role === 'guitar') return 'treble 8';
  return upperMedian(notes.map(({ pitch }) => pitch)) < BASS_CLEF_BELOW ? 'bass' : 'treble';
}

/** Chords bar by bar, each where it begins; one that goes on is not said again. */
function harmonyOfBars(changes: readonly ChangesChord[], bars: readonly ReadBar[]): Harmony[][] {
  const result: Harmony[][] = bars.map(() => []);
  // Beats are those of the meter of bar one.
  const beatUnits = (4 * QUARTER) / (bars[0]?.meter.denominator ?? 4);
  for (const { beat, symbol } of changes) {
    const chord = symbol ? parseSymbol(symbol) : undefined;
    const at = Math.round(beat * beatUnits);
    const bar = bars.findLastIndex(({ from }) => from <= at);
    const within = at - (bars[bar]?.from ?? 0);
    if (chord && bar >= 0 && within < bars[bar]!.units) result[bar]!.push({ at: within, chord, symbol });
  }
  return result;
}

/** A syllable belongs to the note that begins within so many units of it: an eighth. */
const SUNG_WITHIN = QUARTER / 2;

/** The words under the notes of a line: each syllable under the nearest note that has none yet. */
function wordsUnder({ bars }: Line, words: readonly Marker[], { timeline, pickup }: Clip) {
  const read = readBars(timeline, pickup, bars.length);
  const unit = timeline.ppq / QUARTER;
  const under: Map<number, Word>[] = bars.map(() => new Map());
  const struck = bars.flatMap((signs, n) =>
    signs
      .filter(({ pitches, tiedFrom }) => pitches.length > 0 && !tiedFrom)
      .map(({ at }) => ({ n, at, from: read[n]!.from + at })),
  );
  for (const { tick, text, syllabic } of syllables(words)) {
    const at = (tick - pickup) / unit;
    const free = struck.filter(
      ({ n, at: place, from }) => !under[n]!.has(place) && Math.abs(from - at) <= SUNG_WITHIN,
    );
    const [nearest] = free.sort((a, b) => Math.abs(a.from - at) - Math.abs(b.from - at));
    if (nearest) under[nearest.n]!.set(nearest.at, { text, syllabic });
  }
  return under;
}

/**
 * Lyric events as syllables of words: a hyphen at the end, or a text that the next follows without a space, goes on (MIDI Manufacturers
 * Association RP-017 and RP-026; from memory). Signs of lines and paragraphs are no words.
 */
function syllables(words: readonly Marker[]): ({ tick: number } & Word)[] {
  const clean = words
    .map(({ tick, text }) => ({
      tick,
      raw: text.replace(/[\\/\r\n]/g, ''),
      isNewLine: /^[\\/\r\n]/.test(text),
    }))
    .filter(({ raw }) => raw.trim() !== '');
  const hasSpaces = clean.some(({ raw }) => /^\s|\s$/.test(raw));
  let isWithin = false;
  return clean.map(({ tick, raw }, k) => {
    const next = clean[k + 1];
    const isOpen = hasSpaces
      ? next !== undefined && !/\s$/.test(raw) && !/^\s/.test(next.raw) && !next.isNewLine
      : /-\s*$/.test(raw);
    const goesOn = next !== undefined && (isOpen || /-\s*$/.test(raw));
    const syllabic = isWithin ? (goesOn ? 'middle' : 'end') : goesOn ? 'begin' : 'single';
    isWithin = goesOn;
    return { tick, text: raw.trim().replace(/-$/, ''), syllabic };
  });
}
