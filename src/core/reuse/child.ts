import type { ChangesChord } from '../analyze/changes.ts';
import { chordNumeral, chordSymbol, movedChord, type ChordName } from '../music/chord.ts';
import { hasMinorThird, intervalBetween, parseKey, tonicName, type Key } from '../music/key.ts';
import { meterAt } from '../music/timeline.ts';
import { isAboutNotes } from '../normalize/apply-preset.ts';
import { activeStep, isReuse, type Recipe, type RecipeStep } from '../normalize/recipe.ts';
import type { Clip } from '../phrase/clip.ts';
import { unitsOf } from '../phrase/units.ts';
import { asChart } from '../through/as-chart.ts';
import { readOrWhy, type Changes, type WrittenChanges } from '../through/sounding.ts';

/** A parent's recipe with steps that make a child of it: after all that is done to its notes, before how it leaves. */
export function childRecipe(parent: Recipe, steps: readonly RecipeStep[]): Recipe {
  const at = parent.steps.findLastIndex(({ step }) => isAboutNotes(step)) + 1;
  return { version: 1, steps: parent.steps.toSpliced(at, 0, ...steps) };
}

/** A child's recipe on its parent as it is now: what made it a child stays, and what was done to it by hand after that. */
export function followedRecipe(parent: Recipe, child: Recipe): Recipe {
  const first = child.steps.findIndex(({ step }) => isReuse(step));
  const own =
    first < 0 ? [] : child.steps.slice(first).filter(({ step }) => isReuse(step) || step === 'edit');
  return childRecipe(parent, own);
}

/** The key a phrase is heard in as its own: its captured notes', or that of the chords it was taken through. */
export function ownKey(recipe: Recipe, clip: Clip, captured: Key | null): Key | null {
  const through = activeStep(recipe, 'through');
  if (!through) return captured;
  return clip.key ?? (through.key === undefined ? undefined : parseKey(through.key)) ?? captured;
}

/**
 * The changes of what a recipe makes, in its own key: those it was taken through, else those of its bars, gone round where it
 * was repeated. `taken` tells those of so many bars of the take.
 */
export function changesMade(
  recipe: Recipe,
  place: { startBar: number; bars: number; beatsPerBar: number; key: Key | null },
  taken: (bars: { startBar: number; bars: number }) => ChangesChord[],
): ChangesChord[] {
  const { startBar, bars, beatsPerBar, key } = place;
  const through = activeStep(recipe, 'through');
  const read = through && readOrWhy(through.to, beatsPerBar);
  if (read && typeof read !== 'string') return changesInKey(read, key);
  if (!recipe.steps.some(({ step, off }) => isReuse(step) && !off)) return taken({ startBar, bars });
  const own = Math.min(bars, activeStep(recipe, 'bars')?.count ?? bars);
  const once = taken({ startBar, bars: own });
  const repeated = activeStep(recipe, 'repeat')?.bars ?? own;
  return Array.from({ length: Math.ceil(repeated / own) }, (_, round) =>
    once.map((chord) => ({ ...chord, beat: chord.beat + round * own * beatsPerBar })),
  )
    .flat()
    .filter(({ beat }) => beat < repeated * beatsPerBar)
    .map((chord) => ({ ...chord, beats: Math.min(chord.beats, repeated * beatsPerBar - chord.beat) }));
}

/** Changes with their symbols and numerals in a key; no numerals where there is none. */
export function changesInKey({ chords }: Changes, key: Key | null): ChangesChord[] {
  return chords.map(({ beat, beats, chord }) => ({
    beat,
    beats,
    symbol: chord ? chordSymbol(chord, key) : '',
    numeral: chord && key ? chordNumeral(chord, key) : '',
  }));
}

/** The chords a phrase was played over, in its own key, as they are written; empty where none are known. */
export function writtenChanges(changes: readonly ChangesChord[] | null, beatsPerBar: number): WrittenChanges {
  const sounding = (changes ?? []).map(({ beat, beats, symbol }) => ({ beat, beats, symbol }));
  return sounding.some(({ symbol }) => symbol) ? asChart(sounding, beatsPerBar) : '';
}

/**
 * The chords a phrase was played over, in its own key; its tonic throughout where none are known. A line that was played alone
 * tells of no chords but by chance.
 */
export function chordsPlayedOver(phrase: {
  changes: readonly ChangesChord[] | null;
  meterNumerator: number;
  /** Its own key, and how many parts its take has. */
  takeKey: Key | null;
  takeParts: number;
  clip: Clip;
}): WrittenChanges {
  const { changes, meterNumerator, takeKey, takeParts, clip } = phrase;
  const isAlone = takeParts === 1 && unitsOf(clip).every((unit) => unit.length === 1);
  return (isAlone ? '' : writtenChanges(changes, meterNumerator)) || tonicChord(takeKey);
}

/** Chords in a phrase's own key, in the key its notes are kept in; as they are where they cannot be read. */
export function inKeptKey(from: WrittenChanges, own: Key | null, clip: Clip): WrittenChanges {
  const by = own && clip.key ? intervalBetween(own.tonic, clip.key.tonic) : 0;
  const beatsPerBar = meterAt(clip.timeline, clip.pickup).numerator;
  const read = by === 0 ? '' : readOrWhy(from, beatsPerBar);
  if (typeof read === 'string') return from;
  const moved = (chord: ChordName) => chordSymbol(movedChord(chord, by), clip.key);
  return asChart(
    read.chords.map(({ beat, beats, chord }) => ({ beat, beats, symbol: chord ? moved(chord) : '' })),
    beatsPerBar,
  );
}

/** A key's own chord. */
export function tonicChord(key: Key | null): string {
  return key ? tonicName(key) + (hasMinorThird(key.mode) ? 'm' : '') : 'C';
}
