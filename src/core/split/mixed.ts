import { upperMedian } from '../numbers.ts';
import type { Take } from '../capture/take.ts';
import { harmonyOf, misfit } from './harmony.ts';
import { comingBack, FREE_ALONE, kitSigns, likenessOf } from './kit.ts';
import { meantLengths } from './meant-lengths.ts';
import { splitAtMovingPoint } from './split-point.ts';

/** How much longer or shorter notes of one layer are, as a factor. */
const ALIKE = 1.35;

/** Of many choices of notes one may look like a kit by chance: it has to look more like one. */
const KIT_AMONG_OTHERS = 0.7;

/** Fewer notes are no layer. */
const FEWEST = 8;

/** Pitches of kits as they come, GM's map and a little around it. */
const KIT_LOW = 27;
const KIT_HIGH = 87;

/**
 * The notes of a drum kit among others of one stream: of one length, on places of the bar where they come back, as the
 * pieces of a kit do; then what else those pieces play, and fills that fit no harmony. Empty where there is none, or
 * nothing else.
 */
export function kitAmong(take: Take, indices: readonly number[]): number[] {
  const { notes } = take;
  const lengths = meantLengths(take, indices);
  let best: { groove: number[]; alike: number[]; likeness: number } = {
    groove: [],
    alike: [],
    likeness: KIT_AMONG_OTHERS,
  };
  for (const length of lengthPeaks([...lengths.values()])) {
    const alike = indices.filter(
      (i) =>
        notes.pitch[i]! >= KIT_LOW &&
        notes.pitch[i]! <= KIT_HIGH &&
        lengths.get(i)! <= length * ALIKE &&
        lengths.get(i)! >= length / ALIKE,
    );
    const repeated = comingBack(take, alike, COMES_BACK);
    for (const groove of [alike, repeated, repeated.filter((i) => KIT_PITCHES.has(notes.pitch[i]!))]) {
      const rest = without(indices, groove);
      if (rest.length < FEWEST || !carriesGroove(take, groove)) continue;
      const harmony = harmonyOf(take, [groove, rest]);
      const signs = kitSigns(take, groove, misfit(take, harmony, groove, [1]));
      // Notes that always come together are a chord, however well they keep their places.
      if (signs.free < FREE_ALONE) continue;
      const likeness = likenessOf(signs);
      if (likeness > best.likeness) best = { groove, alike, likeness };
    }
  }
  return best.groove.length === 0 ? [] : withFills(take, indices, best.groove, best.alike);
}

/** Whether a kick and a snare or hat are there, often enough for a groove. */
function carriesGroove(take: Take, groove: readonly number[]): boolean {
  const times = (...pitches: number[]) => groove.filter((i) => pitches.includes(take.notes.pitch[i]!)).length;
  return groove.length >= 2 * FEWEST && times(35, 36) >= 4 && times(37, 38, 39, 40, 42, 44, 46, 51) >= 4;
}

/** Share of the bars in which a note of a groove comes back. */
const COMES_BACK = 0.5;

/** What the pieces of a groove play besides it, and other pieces where they fit no harmony. */
function withFills(
  take: Take,
  indices: readonly number[],
  groove: readonly number[],
  alike: readonly number[],
): number[] {
  const { notes } = take;
  const pieces = new Set(groove.map((i) => notes.pitch[i]!));
  const inGroove = new Set(groove);
  const harmony = harmonyOf(take, [without(indices, alike)]);
  return alike.filter((i) => {
    if (inGroove.has(i) || pieces.has(notes.pitch[i]!)) return true;
    const sounding = harmony.sounding[0]![Math.floor(notes.tick[i]! / harmony.bar)] ?? 0;
    return KIT_PITCHES.has(notes.pitch[i]!) && !(sounding & (1 << (notes.pitch[i]! % 12)));
  });
}

const KIT_PITCHES = new Set([
  35, 36, 37, 38, 39, 40, 41, 42, 43, 44, 45, 46, 47, 48, 49, 50, 51, 53, 55, 57, 59,
]);

/** The commonest lengths of notes, in ticks, the commonest first. */
function lengthPeaks(lengths: readonly number[]): number[] {
  const counts = new Map<number, number>();
  for (const length of lengths) {
    const step = Math.round(Math.log2(Math.max(1, length)) * 4);
    counts.set(step, (counts.get(step) ?? 0) + 1);
  }
  return [...counts]
    .filter(([, count]) => count >= Math.max(FEWEST, lengths.length * 0.03))
    .sort((a, b) => b[1] - a[1])
    .slice(0, 6)
    .map(([step]) => 2 ** (step / 4));
}

/** What plays at once on one stream, told apart. */
export interface Layer {
  kind: 'bass' | 'held' | 'chords' | 'line';
  notes: number[];
}

/**
 * The layers of a stream that several instruments share: the bass line under all else, then what differs clearly in
 * the length of its notes. One layer where nothing is told apart.
 */
export function layersOf(take: Take, indices: readonly number[]): Layer[] {
  const { below: bass, above } = splitAtMovingPoint(
    take,
    indices,
    (low, rest) =>
      Math.max(0, low.length - 1) * 8 +
      (low.length > 0 ? Math.max(0, low.at(-1)! - BASS_HIGH) * 0.5 : 0) +
      (rest.length > 0 ? Math.max(0, BASS_LOW - rest[0]!) * 0.8 : 0),
  );
  const parted = bass.length >= FEWEST && above.length >= FEWEST;
  const lengths = meantLengths(take, indices);
  const groups = byLength(parted ? above : indices, lengths);
  const layers = groups.map((notes): Layer => ({ kind: kindOf(take, notes, lengths), notes }));
  return parted ? [...layers, { kind: 'bass', notes: bass }] : layers;
}

/** A bass line hardly rises above G3 (common practice), and what lies below E2 is bass. */
const BASS_HIGH = 50;
const BASS_LOW = 42;

/** Lengths that differ by this factor with nothing between are two ways of playing. */
const GAP = 1.5;

/** Groups of notes parted at wide gaps between their lengths, the longest first; small ones stay with a neighbor. */
function byLength(indices: readonly number[], lengths: ReadonlyMap<number, number>): number[][] {
  const sorted = [...indices].sort((a, b) => lengths.get(a)! - lengths.get(b)!);
  const length = (k: number) => Math.max(1, lengths.get(sorted[k]!)!);
  const least = Math.max(FEWEST, indices.length * 0.08);
  const groups: number[][] = [];
  let from = 0;
  for (let k = 1; k < sorted.length; k++) {
    if (length(k) < length(k - 1) * GAP) continue;
    if (k - from < least || sorted.length - k < least) continue;
    groups.push(sorted.slice(from, k));
    from = k;
  }
  groups.push(sorted.slice(from));
  return groups.reverse().map((group) => group.sort((a, b) => a - b));
}

function kindOf(take: Take, notes: readonly number[], lengths: ReadonlyMap<number, number>): Layer['kind'] {
  const { ppq } = take.timing.timeline;
  const onsets = new Set(notes.map((i) => Math.round(take.notes.tick[i]! / (ppq / 8))));
  if (notes.length / Math.max(1, onsets.size) < 1.3) return 'line';
  return upperMedian(notes.map((i) => lengths.get(i)!)) >= 2.5 * ppq ? 'held' : 'chords';
}

export function without(indices: readonly number[], taken: readonly number[]): number[] {
  const gone = new Set(taken);
  return indices.filter((i) => !gone.has(i));
}
