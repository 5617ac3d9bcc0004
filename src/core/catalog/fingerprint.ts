import { PLACES, type Stroked } from './strokes.ts';

/** Values of a fingerprint: half of them hash shapes with their time, half the shapes alone. */
const TIMED = 32;
const TIMELESS = 32;
export const FINGERPRINT = TIMED + TIMELESS;

/** What no shingle has left. */
const EMPTY = 0xffffffff;

/** Notes of a line that make a shingle, and beats of drums. */
const NOTES = 4;
const BEATS = 2;

/**
 * MinHash of a phrase's shingles (Broder, "On the resemblance and containment of documents", 1997), free of transposition, tempo
 * and drum layout: the more values two of them share, the more the phrases do. Playing that is not on a grid rounds to other
 * places in another resolution: what stands without its time is found all the same.
 */
export function fingerprintOf(stroked: Stroked): Uint32Array {
  const [timed, timeless] = stroked.isPitched ? pitchedShingles(stroked) : drumShingles(stroked);
  const least = new Uint32Array(FINGERPRINT).fill(EMPTY);
  hashInto(least, timed, 0, TIMED);
  hashInto(least, timeless, TIMED, FINGERPRINT);
  return least;
}

function hashInto(least: Uint32Array, shingles: readonly number[], from: number, to: number): void {
  for (const shingle of shingles)
    for (let k = from; k < to; k++) {
      const value = mixed(shingle ^ Math.imul(k + 1, 0x9e3779b1));
      if (value < least[k]!) least[k] = value;
    }
}

/** How many values two of many fingerprints share, one after the other in one array. */
export function sharedValues(prints: Uint32Array, a: number, b: number): number {
  let shared = 0;
  for (let k = 0; k < FINGERPRINT; k++) if (shareValue(prints, a, b, k)) shared++;
  return shared;
}

/** Whether two of many fingerprints share a value. */
export function shareValue(prints: Uint32Array, a: number, b: number, k: number): boolean {
  const value = prints[a * FINGERPRINT + k]!;
  return value !== EMPTY && value === prints[b * FINGERPRINT + k];
}

/** A value by which fingerprints are put together; null where there is none. */
export function valueAt(prints: Uint32Array, at: number, k: number): number | null {
  const value = prints[at * FINGERPRINT + k]!;
  return value === EMPTY ? null : value;
}

/** Little-endian. */
export function packFingerprint(values: Uint32Array): Uint8Array {
  const view = new DataView(new ArrayBuffer(4 * values.length));
  values.forEach((value, k) => view.setUint32(4 * k, value, true));
  return new Uint8Array(view.buffer);
}

/** @throws RangeError where this is no fingerprint of this version */
export function unpackFingerprint(bytes: Uint8Array): Uint32Array {
  if (bytes.length !== 4 * FINGERPRINT) throw new RangeError('These bytes are no fingerprint of a phrase.');
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
  return Uint32Array.from({ length: FINGERPRINT }, (_, k) => view.getUint32(4 * k, true));
}

type Shingles = [timed: number[], timeless: number[]];

/**
 * Of the highest and of the lowest notes, the steps of four after each other, with the distances between them and without. Whole
 * chords would be lost with one note of theirs.
 */
function pitchedShingles({ strokes }: Stroked): Shingles {
  const [tops, bottoms] = [
    strokes.map(({ pitches }) => pitches.at(-1)!),
    strokes.map(({ pitches }) => pitches[0]!),
  ];
  const steps = (line: readonly number[]) => line.slice(1).map((pitch, k) => pitch - line[k]!);
  const distances = strokes.slice(1).map(({ place }, k) => place - strokes[k]!.place);
  const both = [steps(tops), steps(bottoms)];
  return [
    both.flatMap((line) =>
      windows(
        line.map((step, k) => `${step}@${distances[k]}`),
        NOTES - 1,
      ),
    ),
    both.flatMap((line) => windows(line.map(String), NOTES - 1)),
  ];
}

/** Of two beats after each other, what is struck where: of all pieces together, and of each alone. */
function drumShingles({ strokes, bar, bars }: Stroked): Shingles {
  const count = Math.max(1, Math.round((bar * bars) / PLACES));
  const beats = Array.from({ length: count }, () => '');
  const byPiece = new Map<number, string[]>();
  for (const { place, pitches } of strokes) {
    const beat = Math.floor(place / PLACES);
    if (beat < 0 || beat >= count) continue;
    const within = place - beat * PLACES;
    beats[beat] += `${within}=${pitches.join('.')};`;
    for (const piece of pitches) {
      const own = byPiece.get(piece) ?? beats.map(() => '');
      own[beat] += `${within};`;
      byPiece.set(piece, own);
    }
  }
  const alone = [...byPiece].flatMap(([piece, own]) =>
    windows(
      own.map((places) => `${piece}:${places}`),
      BEATS,
    ),
  );
  return [windows(beats, BEATS), alone];
}

/** Every stretch of so many tokens; what is shorter is one of its own. */
function windows(tokens: readonly string[], most: number): number[] {
  const width = Math.max(1, Math.min(most, tokens.length));
  const count = Math.max(0, tokens.length - width + 1);
  return Array.from({ length: count }, (_, k) => hashOf(tokens.slice(k, k + width).join('|')));
}

/** FNV-1a, then mixed (32 bits). */
function hashOf(text: string): number {
  let hash = 0x811c9dc5;
  for (let i = 0; i < text.length; i++) hash = Math.imul(hash ^ text.charCodeAt(i), 0x01000193);
  return mixed(hash);
}

/** The finalizer of MurmurHash3: every bit of what comes in changes half of what goes out. */
function mixed(value: number): number {
  let h = value;
  h = Math.imul(h ^ (h >>> 16), 0x85ebca6b);
  h = Math.imul(h ^ (h >>> 13), 0xc2b2ae35);
  return (h ^ (h >>> 16)) >>> 0;
}
