import { isMarked, stateCode, type Catalog } from './catalog.ts';
import { FEATURES, featureAt, type FeatureName } from './features.ts';
import { FINGERPRINT, sharedValues, shareValue, valueAt } from './fingerprint.ts';

/** What "more like this" goes by, each with a weight of its own. */
export const LIKE_WEIGHTS = ['rhythm', 'pitch', 'chords'] as const;
export type LikeWeights = Record<(typeof LIKE_WEIGHTS)[number], number>;

const places = FEATURES.filter((name) => name.startsWith('place'));
const degrees = FEATURES.filter((name) => name.startsWith('degree'));

/** Features of each kind, and what each is called where two phrases agree in it. */
const KINDS: Record<keyof LikeWeights, readonly FeatureName[]> = {
  rhythm: ['density', 'syncopation', 'medianLength', 'swing', 'grid', ...places],
  pitch: ['medianPitch', 'low', 'high', 'polyphony', 'mostTogether'],
  chords: degrees,
};

/** What an agreement is called; what stands together is told as one. */
const WORDS: Partial<Record<FeatureName, string>> = {
  density: 'as busy',
  syncopation: 'as syncopated',
  medianLength: 'notes as long',
  swing: 'swings alike',
  grid: 'the same grid',
  medianPitch: 'as high',
  polyphony: 'as full',
  mostTogether: 'chords as large',
};

/** A phrase that is like another, the nearest first, and in what most. */
export interface Like {
  id: string;
  distance: number;
  agreements: string[];
}

/** Columns in one group count as one feature: eight places of the bar are no eight reasons. */
function groupsOf(kind: keyof LikeWeights): { columns: number[]; words: string }[] {
  const grouped = new Map<string, { columns: number[]; words: string }>();
  for (const name of KINDS[kind]) {
    const group = name.startsWith('place') ? 'place' : name.startsWith('degree') ? 'degree' : name;
    const words =
      group === 'place'
        ? 'strokes on the same places'
        : group === 'degree'
          ? 'like chords'
          : (WORDS[name] ?? 'like range');
    const found = grouped.get(group) ?? { columns: [], words };
    found.columns.push(featureAt(name));
    grouped.set(group, found);
  }
  return [...grouped.values()];
}

const GROUPS = Object.fromEntries(LIKE_WEIGHTS.map((kind) => [kind, groupsOf(kind)])) as Record<
  keyof LikeWeights,
  { columns: number[]; words: string }[]
>;

/** Phrases most like one, of its role, by the features scaled inside the role. */
export function moreLike(catalog: Catalog, id: string, weights: LikeWeights, count = 50): Like[] {
  const own = catalog.places.get(id);
  const width = FEATURES.length;
  if (own === undefined || !isMarked(catalog, own)) return [];
  const others = comparable(catalog, own);
  const scale = scalesOf(catalog, others);
  const groups = LIKE_WEIGHTS.flatMap((kind) =>
    weights[kind] > 0
      ? GROUPS[kind].map((group) => ({ ...group, weight: weights[kind] / GROUPS[kind].length }))
      : [],
  );
  // What each column counts, its scale taken in: one product a column and phrase.
  const counts = new Float64Array(width);
  for (const { columns, weight } of groups)
    for (const column of columns) counts[column] = weight / columns.length / scale[column]! ** 2;
  const distances = distancesFrom(catalog, own, others, counts);
  return nearest(distances, count).map((k) => {
    const at = others[k]!;
    const agreeing = groups
      .map(({ columns, words }) => ({ words, by: apart(catalog, own, at, columns, scale) }))
      .sort((a, b) => a.by - b.by);
    return {
      id: catalog.ids[at]!,
      distance: Math.sqrt(distances[k]!),
      agreements: [...new Set(agreeing.map(({ words }) => words))].slice(0, 2),
    };
  });
}

/** Sums of squares from one phrase to others, each column counted as is said. */
function distancesFrom(
  { features }: Catalog,
  own: number,
  others: Int32Array,
  counts: Float64Array,
): Float64Array {
  const width = counts.length;
  const distances = new Float64Array(others.length);
  for (let k = 0; k < others.length; k++) {
    const base = others[k]! * width;
    let sum = 0;
    for (let column = 0; column < width; column++) {
      const by = features[base + column]! - features[own * width + column]!;
      sum += counts[column]! * by * by;
    }
    distances[k] = sum;
  }
  return distances;
}

/** How far two phrases are apart in some columns, in deviations squared. */
function apart(
  { features }: Catalog,
  a: number,
  b: number,
  columns: readonly number[],
  scale: Float64Array,
): number {
  const at = (place: number, column: number) => features[place * FEATURES.length + column]!;
  const squares = columns.map((column) => ((at(a, column) - at(b, column)) / scale[column]!) ** 2);
  return squares.reduce((sum, square) => sum + square, 0) / columns.length;
}

/** Places of the smallest values, the smallest first; of equals the earlier. */
function nearest(values: Float64Array, count: number): number[] {
  const limit = Float64Array.from(values).sort()[Math.min(count, values.length) - 1] ?? 0;
  const places: number[] = [];
  for (let k = 0; k < values.length; k++) if (values[k]! <= limit) places.push(k);
  return places.sort((a, b) => values[a]! - values[b]! || a - b).slice(0, count);
}

/** Other kept phrases of the same role whose features are known. */
function comparable(catalog: Catalog, own: number): Int32Array {
  const { roles } = catalog.coded;
  const kept = stateCode('kept');
  const found = new Int32Array(catalog.size);
  let count = 0;
  for (let at = 0; at < catalog.size; at++) {
    if (at === own || roles[at] !== roles[own] || catalog.states[at] !== kept) continue;
    if (isMarked(catalog, at)) found[count++] = at;
  }
  return found.slice(0, count);
}

/** Standard deviation of each feature; 1 where all have the same. */
function scalesOf(catalog: Catalog, of: Int32Array): Float64Array {
  const width = FEATURES.length;
  const [sum, squares] = [new Float64Array(width), new Float64Array(width)];
  for (const at of of)
    for (let column = 0; column < width; column++) {
      const value = catalog.features[at * width + column]!;
      sum[column]! += value;
      squares[column]! += value * value;
    }
  return sum.map((total, column) => {
    const mean = total / Math.max(1, of.length);
    const deviation = Math.sqrt(Math.max(0, squares[column]! / Math.max(1, of.length) - mean * mean));
    return deviation > 1e-9 ? deviation : 1;
  });
}

/** Ids of kept phrases that may be the same as one: those whose fingerprints share most with its own. */
export function twinCandidates(catalog: Catalog, id: string, most: number): string[] {
  const own = catalog.places.get(id);
  if (own === undefined) return [];
  const kept = stateCode('kept');
  const found: { at: number; shared: number }[] = [];
  for (let at = 0; at < catalog.size; at++) {
    if (at === own || catalog.states[at] !== kept) continue;
    const shared = sharedValues(catalog.fingerprints, own, at);
    if (shared > 0) found.push({ at, shared });
  }
  return found
    .sort((a, b) => b.shared - a.shared)
    .slice(0, most)
    .map(({ at }) => catalog.ids[at]!);
}

/** Passes in which all pairs that are worth comparing are found. */
export const PASSES = FINGERPRINT;

/** Fewer values that two share are chance. */
const FEWEST_SHARED = 3;

/** More phrases with one value than this have everybody's pattern: they are compared with the first only. */
const CROWD = 40;

/** Pairs of kept phrases that are worth comparing: in each pass those that share one value, none twice. */
export function candidatePairs(catalog: Catalog, pass: number): [string, string][] {
  const prints = catalog.fingerprints;
  const kept = stateCode('kept');
  const byValue = new Map<number, number[]>();
  for (let at = 0; at < catalog.size; at++) {
    const value = catalog.states[at] === kept ? valueAt(prints, at, pass) : null;
    // 0 throughout: it is not known yet.
    if (value === null || value === 0) continue;
    const others = byValue.get(value);
    if (others) others.push(at);
    else byValue.set(value, [at]);
  }
  const pairs: [string, string][] = [];
  for (const crowd of byValue.values())
    for (let a = 0; a < (crowd.length > CROWD ? 1 : crowd.length - 1); a++)
      for (let b = a + 1; b < crowd.length; b++) {
        if (sharedBefore(prints, crowd[a]!, crowd[b]!, pass)) continue;
        if (sharedValues(prints, crowd[a]!, crowd[b]!) < FEWEST_SHARED) continue;
        pairs.push([catalog.ids[crowd[a]!]!, catalog.ids[crowd[b]!]!]);
      }
  return pairs;
}

/** Whether an earlier pass has found the pair. */
function sharedBefore(prints: Uint32Array, a: number, b: number, pass: number): boolean {
  for (let before = 0; before < pass; before++) if (shareValue(prints, a, b, before)) return true;
  return false;
}
