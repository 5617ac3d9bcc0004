import { PLACES, type Stroked } from './strokes.ts';

/** So many smallest hashes, then the hash of its rhythm and of its pitches, each alone. */
const HASHES = 64;

/** Values of a fingerprint. */
export const FINGERPRINT = HASHES + 2;

/** Values of a band: phrases that agree in one are compared. */
const BAND = 2;

/** Strokes that make a shingle: of a line, of chords; beats, of drums. */
const LINE = 4;
const CHORDS = 3;
const BEATS = 2;

/** More notes a stroke than this, and it is chords. */
const LINE_NOTES = 1.3;

/**
 * MinHash of a phrase's shingles (Broder, "On the resemblance and containment of documents", 1997), free of transposition, tempo
 * and drum layout: the more values two of them share, the more the phrases do.
 */
export function fingerprintOf(stroked: Stroked): Uint32Array {
  const shingles = stroked.isPitched ? pitchedShingles(stroked) : drumShingles(stroked);
  const least = new Uint32Array(FINGERPRINT).fill(0xffffffff);
  for (const shingle of shingles)
    for (let k = 0; k < HASHES; k++) {
      const value = mixed(shingle ^ Math.imul(k + 1, 0x9e3779b1));
      if (value < least[k]!) least[k] = value;
    }
  least[HASHES] = hashOf(distances(stroked).join());
  least[HASHES + 1] = hashOf(shapes(stroked).join());
  return least;
}

/** Bands of a fingerprint: of its hashes, then its rhythm alone, then its pitches alone. */
export const BANDS = HASHES / BAND + 2;

/** Where a band stands in a fingerprint, and how wide it is. */
export function bandAt(band: number): { from: number; width: number } {
  const isAlone = band >= HASHES / BAND;
  return { from: isAlone ? HASHES + band - HASHES / BAND : band * BAND, width: isAlone ? 1 : BAND };
}

/** Whether two of many fingerprints, one after the other, agree in a band. */
export function inBand(prints: Uint32Array, a: number, b: number, band: number): boolean {
  const { from, width } = bandAt(band);
  const [x, y] = [a * FINGERPRINT + from, b * FINGERPRINT + from];
  if (prints[x] === 0xffffffff || prints[x] !== prints[y]) return false;
  return width === 1 || prints[x + 1] === prints[y + 1];
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

function distances({ strokes }: Stroked): number[] {
  return strokes.slice(1).map(({ place }, k) => place - strokes[k]!.place);
}

/** Of each stroke the intervals over its lowest note, and that note's step from the one before; of drums its pieces. */
function shapes({ isPitched, strokes }: Stroked): string[] {
  return strokes.map(({ pitches }, k) => {
    if (!isPitched) return pitches.join('.');
    const low = pitches[0]!;
    const step = k > 0 ? low - strokes[k - 1]!.pitches[0]! : 0;
    return [step, ...pitches.slice(1).map((pitch) => pitch - low)].join('.');
  });
}

function pitchedShingles(stroked: Stroked): number[] {
  const { strokes } = stroked;
  const notes = strokes.reduce((sum, { pitches }) => sum + pitches.length, 0);
  const wide = notes / Math.max(1, strokes.length) > LINE_NOTES ? CHORDS : LINE;
  const shape = shapes(stroked).slice(1);
  const tokens = distances(stroked).map((distance, k) => `${shape[k]}@${distance}`);
  // What is shorter than a shingle is one of its own.
  const width = Math.min(wide, Math.max(1, tokens.length));
  return windows(tokens, width);
}

function drumShingles({ strokes, bar, bars }: Stroked): number[] {
  const beats = Array.from({ length: Math.max(1, Math.round((bar * bars) / PLACES)) }, () => '');
  for (const { place, pitches } of strokes) {
    const beat = Math.floor(place / PLACES);
    if (beat >= 0 && beat < beats.length) beats[beat] += `${place - beat * PLACES}=${pitches.join('.')};`;
  }
  return windows(beats, Math.min(BEATS, beats.length));
}

function windows(tokens: readonly string[], width: number): number[] {
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
