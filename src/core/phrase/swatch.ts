import { kitPiece, KIT_PIECES } from '../midi/gm.ts';
import { isPitched, type Clip } from './clip.ts';

/** A note of a swatch: start, width and height, each 0..1 of the phrase. */
export interface SwatchNote {
  x: number;
  width: number;
  y: number;
}

/** More notes than this are not told apart on a swatch's pixels; the rest is thinned out evenly. */
const MOST_NOTES = 400;

/** What of a clip is drawn. */
type Drawn = Pick<Clip, 'notes' | 'length' | 'role'>;

/**
 * The real notes of a phrase in three bytes each: start, length and height in 255ths of the phrase. Drums
 * stand on the lanes of their kit, pitches between the lowest and the highest. Of two that are laid over each other, `frame` holds the notes of
 * both, and is as long as the longer.
 */
export function packSwatch(clip: Drawn, frame: Drawn = clip): Uint8Array {
  const every = Math.max(1, Math.ceil(clip.notes.length / MOST_NOTES));
  const notes = clip.notes.filter((_, i) => i % every === 0);
  const height = heightOf(frame);
  const bytes = new Uint8Array(notes.length * 3);
  const length = Math.max(1, frame.length);
  notes.forEach((note, i) => {
    bytes[i * 3] = clampByte((note.tick / length) * 255);
    bytes[i * 3 + 1] = clampByte(Math.max(1, (note.duration / length) * 255));
    bytes[i * 3 + 2] = clampByte(height(note.pitch) * 255);
  });
  return bytes;
}

/** Bytes as the drawings are given them: base64. */
export function inBase64(bytes: Uint8Array): string {
  return btoa(String.fromCharCode(...bytes));
}

export function unpackSwatch(bytes: Uint8Array): SwatchNote[] {
  return Array.from({ length: Math.floor(bytes.length / 3) }, (_, i) => ({
    x: bytes[i * 3]! / 255,
    width: bytes[i * 3 + 1]! / 255,
    y: bytes[i * 3 + 2]! / 255,
  }));
}

function heightOf(clip: Pick<Clip, 'notes' | 'role'>): (pitch: number) => number {
  if (!isPitched(clip)) {
    const used = KIT_PIECES.filter((piece) => clip.notes.some((note) => kitPiece(note.pitch) === piece));
    const steps = Math.max(1, used.length - 1);
    return (pitch) => (used.length < 2 ? 0.5 : used.indexOf(kitPiece(pitch)) / steps);
  }
  const pitches = clip.notes.map((note) => note.pitch);
  const low = Math.min(...pitches);
  // A part of few pitches would otherwise fill the height with small steps.
  const range = Math.max(7, Math.max(...pitches) - low);
  const lift = (range - (Math.max(...pitches) - low)) / 2;
  return (pitch) => (pitch - low + lift) / range;
}

function clampByte(value: number): number {
  return Math.min(255, Math.max(0, Math.round(value)));
}
