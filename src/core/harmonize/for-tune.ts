import { chordSymbol, type ChordName } from '../music/chord.ts';
import { hasMinorThird, keyName, MODE_STEPS, relativeKey, type Key } from '../music/key.ts';
import { placeInBar } from '../music/metrical.ts';
import { pitchClass } from '../music/pitch.ts';
import { barTicks, beatTicks, meterAt } from '../music/timeline.ts';
import { barsOf, bpmOfClip, type Clip, type ClipNote } from '../phrase/clip.ts';
import { trayOf, type TrayChord } from './tray.ts';

/** How far the chords go from the key: plain (I IV V vi), warmer (sevenths, ii, iii), darker (borrowed, dominants of degrees). */
export const TUNE_SETS = ['plain', 'warmer', 'darker'] as const;
export type TuneSet = (typeof TUNE_SETS)[number];

/** A chord for a stretch of a tune, and what else would do there. */
export interface TuneChord {
  /** From 1. */
  bar: number;
  beat: number;
  beats: number;
  chord: ChordName;
  symbol: string;
  roman: string;
  /** The next three that would do, the best first. */
  next: string[];
}

export interface TuneChanges {
  key: Key;
  /** The other key of the same signature. */
  otherKeys: string[];
  sets: Record<TuneSet, TuneChord[]>;
}

/** At this tempo and slower, a bar whose halves are both struck gets two chords. */
const HALVES_TO_BPM = 110;

/** So many chords are weighed in a slot at the most. */
const MOST = 48;

/**
 * What a note is worth against a chord, by how long it is and how strong its place (from memory): a chord note, a seventh or
 * ninth; other notes of the key by their place; what rubs on a strong place.
 */
const WORTH = { chord: 1, rich: 0.6, passing: 0, foreign: -0.5, rub: -1.5 };

/** Common moves between degrees (common practice), in thirds of a chord note on a first beat; from any chord to itself and others little. */
const MOVES: Readonly<Record<string, number>> = {
  'V I': 0.9,
  'V vi': 0.4,
  'IV I': 0.5,
  'IV V': 0.7,
  'ii V': 0.8,
  'vi ii': 0.5,
  'vi IV': 0.5,
  'I IV': 0.5,
  'I V': 0.5,
  'I vi': 0.4,
  'iii vi': 0.5,
  'iii IV': 0.4,
  'IV ii': 0.3,
  'ii IV': 0.2,
  'VII III': 0.6,
  'III VI': 0.4,
  'VI VII': 0.5,
  'VII I': 0.5,
  'iv V': 0.7,
  'i iv': 0.5,
  'i V': 0.5,
  'V i': 0.9,
  'VI III': 0.4,
  'VI iv': 0.3,
  'i VI': 0.4,
  'i VII': 0.5,
  'VII i': 0.5,
  'VII VI': 0.4,
  'iv i': 0.4,
  'III VII': 0.5,
};

/** How much the library's own moves count, at the most, and what staying on a chord is worth. */
const LIBRARY_MOVES = 0.6;
const STAYING = 0.15;

/** What it is worth to begin and end at home, and to close with a cadence. */
const FRAME = { begins: 1, ends: 1, turnsBack: 0.8, borrowed: -0.35, pull: -0.1 };

/** How weak a place is against the bar's first beat, by its metrical weight. */
function strength(weight: number): number {
  return Math.max(0.15, 1 + 0.2 * weight);
}

interface Slot {
  bar: number;
  beat: number;
  beats: number;
  from: number;
  to: number;
}

/**
 * Chords for a tune: one a bar, two where its halves are both struck and it is slow enough; found by dynamic programming over
 * the tray of its key, three sets side by side.
 *
 * @param moves how often the library goes from one numeral to the next ("V7 I")
 */
export function changesForTune(
  tune: Clip,
  key: Key,
  moves: ReadonlyMap<string, number> = new Map(),
  goesRound = true,
): TuneChanges {
  const slots = slotsOf(tune).map((slot) => ({ ...slot, heard: heardIn(tune, slot) }));
  const tray = trayOf(key);
  const sets = Object.fromEntries(
    TUNE_SETS.map((set) => [set, chordsFor(slots, traySet(tray, set, key), key, moves, goesRound)]),
  ) as Record<TuneSet, TuneChord[]>;
  return { key, otherKeys: otherKeys(key), sets };
}

/** The other key of the same signature, by its name: the tune may be meant in it. */
export function otherKeys(key: Key): string[] {
  return [keyName(relativeKey(key, hasMinorThird(key.mode) ? 'major' : 'minor'))];
}

/** Bars, or halves of bars, from bar one to the end. */
function slotsOf({ timeline, pickup, length, notes }: Clip): Slot[] {
  const meter = meterAt(timeline, pickup);
  const bar = barTicks(timeline.ppq, meter);
  const halves = meter.numerator % 2 === 0 && bpmOfClip({ timeline, pickup }) <= HALVES_TO_BPM;
  const bars = barsOf({ timeline, pickup, length });
  const struck = (from: number) =>
    notes.some(({ tick }) => Math.abs(tick - from) < beatTicks(timeline.ppq, meter) / 8);
  return Array.from({ length: bars }, (_, k) => {
    const from = pickup + k * bar;
    const whole = { bar: k + 1, beat: 1, beats: meter.numerator, from, to: from + bar };
    if (!halves || !struck(from) || !struck(from + bar / 2)) return [whole];
    const half = meter.numerator / 2;
    return [
      { ...whole, beats: half, to: from + bar / 2 },
      { ...whole, beat: 1 + half, beats: half, from: from + bar / 2 },
    ];
  }).flat();
}

function traySet(tray: readonly TrayChord[], set: TuneSet, key: Key): TrayChord[] {
  const isMinor = hasMinorThird(key.mode);
  const plain = isMinor ? [0, 3, 4, 5, 2, 6] : [0, 3, 4, 5];
  const degreeOf = ({ chord }: TrayChord) => MODE_STEPS[key.mode].indexOf(pitchClass(chord.root - key.tonic));
  const isHarmonic = ({ borrowed, chord }: TrayChord) =>
    borrowed === 'harmonic minor' && pitchClass(chord.root - key.tonic) === 7;
  return tray
    .filter((one) => {
      if (one.richness === 'ninth') return false;
      if (set === 'darker') return one.borrowed !== null || one.richness === 'triad';
      if (one.borrowed !== null)
        return isMinor && isHarmonic(one) && (set === 'warmer' || one.richness === 'triad');
      if (one.chord.quality.degrees[5] === 6 && one.richness === 'triad') return false;
      return set === 'plain'
        ? one.richness === 'triad' && plain.includes(degreeOf(one))
        : one.richness === 'seventh' || degreeOf(one) === 0;
    })
    .slice(0, MOST);
}

/** A numeral without what makes it richer: "V7" and "Vmaj9" are V. */
function bare(numeral: string): string {
  return /^[b#]?[IViv]+/.exec(numeral)?.[0] ?? numeral;
}

function chordsFor(
  slots: readonly (Slot & { heard: readonly HeardNote[] })[],
  tray: readonly TrayChord[],
  key: Key,
  moves: ReadonlyMap<string, number>,
  goesRound: boolean,
): TuneChord[] {
  const emissions = slots.map(({ heard }) => tray.map((one) => emission(heard, one)));
  const most = Math.max(1, ...moves.values());
  const move = (from: TrayChord, to: TrayChord) => {
    if (from === to) return STAYING;
    const known = moves.get(`${from.numeral} ${to.numeral}`) ?? 0;
    return (
      (MOVES[`${bare(from.numeral)} ${bare(to.numeral)}`] ?? 0) + LIBRARY_MOVES * Math.sqrt(known / most)
    );
  };
  const table = tray.map((from) => tray.map((to) => move(from, to)));
  const isHome = ({ chord }: TrayChord) => chord.root === key.tonic;
  const isDominant = (one: TrayChord) => ['V', 'IV', 'v', 'iv'].includes(bare(one.numeral));
  const framed = emissions.map((column, at) =>
    column.map((worth, k) => {
      const one = tray[k]!;
      const begins = at === 0 && isHome(one) ? FRAME.begins : 0;
      const last = at === slots.length - 1;
      const ends = last && !goesRound && isHome(one) ? FRAME.ends : 0;
      const turns = last && goesRound && isDominant(one) ? FRAME.turnsBack : 0;
      const far = one.borrowed === null ? 0 : FRAME.borrowed;
      return worth + begins + ends + turns + far;
    }),
  );
  const best = throughEach(framed, table);
  return slots.map((slot, at) => {
    const order = tray.map((_, k) => k).sort((a, b) => best[at]![b]! - best[at]![a]!);
    const [chosen, ...others] = order.map((k) => tray[k]!);
    return {
      bar: slot.bar,
      beat: slot.beat,
      beats: slot.beats,
      chord: chosen!.chord,
      symbol: chosen!.symbol,
      roman: chosen!.numeral,
      next: others.slice(0, 3).map(({ chord }) => chordSymbol(chord, key)),
    };
  });
}

/** Of every slot and chord, the worth of the best way through it (max-marginals of Viterbi). */
function throughEach(worth: readonly number[][], move: readonly number[][]): number[][] {
  const forward = worth.map((column) => [...column]);
  for (let at = 1; at < worth.length; at++)
    forward[at] = worth[at]!.map(
      (own, k) => own + Math.max(...forward[at - 1]!.map((before, j) => before + move[j]![k]!)),
    );
  const after = worth.map((column) => column.map(() => 0));
  for (let at = worth.length - 2; at >= 0; at--)
    after[at] = worth[at]!.map((_, k) =>
      Math.max(...worth[at + 1]!.map((own, j) => move[k]![j]! + own + after[at + 1]![j]!)),
    );
  return forward.map((column, at) => column.map((value, k) => value + after[at]![k]!));
}

/** A note of a slot, how strong its place is, and what it weighs there. */
interface HeardNote {
  note: ClipNote;
  place: number;
  weight: number;
}

/** What sounds in a slot for longer than in passing. */
function heardIn(tune: Clip, slot: Slot): HeardNote[] {
  return tune.notes.flatMap((note): HeardNote[] => {
    const from = Math.max(slot.from, note.tick);
    const beats = (Math.min(slot.to, note.tick + note.duration) - from) / tune.timeline.ppq;
    if (beats <= 0.05) return [];
    const place = strength(placeInBar(tune, from).weight);
    return [{ note, place, weight: beats * place }];
  });
}

/** How well a chord carries the notes of a slot. */
function emission(heard: readonly HeardNote[], { chord, group }: TrayChord): number {
  let [sum, all] = [0, 0];
  for (const { note, place, weight } of heard) {
    sum += weight * worthOf(note, chord, place);
    all += weight;
  }
  return (all > 0 ? (2 * sum) / all : 0) + (group === 'pull' ? FRAME.pull : 0);
}

function worthOf(
  { pitch }: ClipNote,
  { root, quality: { degrees, tones } }: ChordName,
  place: number,
): number {
  const over = pitchClass(pitch - root);
  if (over === degrees[1] || over === degrees[3] || over === degrees[5]) return WORTH.chord;
  if (over === degrees[7] || over === 2 || over === 10) return WORTH.rich;
  const rubs = tones.some((tone) => pitchClass(over - tone) === 1) || (over === 5 && degrees[3] === 4);
  if (place > 0.55) return rubs ? WORTH.rub : WORTH.foreign;
  return rubs ? WORTH.foreign / 2 : WORTH.passing;
}

/** Changes as a chart: bars between strokes. */
export function chartOf(changes: readonly Pick<TuneChord, 'bar' | 'symbol'>[]): string {
  const bars: string[][] = [];
  for (const { bar, symbol } of changes) (bars[bar - 1] ??= []).push(symbol);
  return bars.map((bar) => (bar.length === 2 && bar[0] === bar[1] ? bar[0] : bar.join(' '))).join(' | ');
}
