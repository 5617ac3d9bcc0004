import { mean } from '../numbers.ts';
import type { ClipNote } from '../phrase/clip.ts';
import type { Sign } from './reading-rhythm.ts';

/** A note that sounds on for an eighth or more under what comes after it is held; less is legato, and written as such. */
const HELD = 0.5;

/** Where more of the notes than this are held, all of them ring on into each other: an arpeggio, which one voice says. */
const MOST_HELD = 0.6;

/** Two strokes nearer than this are one chord, in quarter notes: a sixteenth's half. */
const ONE_STROKE = 0.125;

/**
 * The voices that a staff needs, two at most: what is held, and what moves over or under it; the higher one first. One where nothing
 * is held.
 */
export function inVoices(notes: readonly ClipNote[], ppq: number): ClipNote[][] {
  const sorted = [...notes].sort((a, b) => a.tick - b.tick);
  const held = new Set(
    sorted.filter((note, i) => {
      const next = sorted.slice(i + 1).find(({ tick }) => tick - note.tick > ONE_STROKE * ppq);
      return next !== undefined && note.tick + note.duration - next.tick >= HELD * ppq;
    }),
  );
  if (held.size === 0 || held.size > MOST_HELD * sorted.length) return [sorted];
  const moving = sorted.filter((note) => !held.has(note));
  const height = (voice: readonly ClipNote[]) => mean(voice.map(({ pitch }) => pitch));
  const voices = [[...held], moving];
  return voices.sort((a, b) => height(b) - height(a));
}

const sounds = (signs: readonly Sign[]) => signs.some(({ pitches }) => pitches.length > 0);

/** Two voices bar by bar: where one of them rests, the other has the bar for itself. */
export function togetherIn(upper: readonly Sign[][], lower: readonly Sign[][]) {
  return {
    bars: upper.map((signs, n) => (sounds(signs) ? signs : lower[n]!)),
    lowerVoice: lower.map((signs, n) => (sounds(signs) && sounds(upper[n]!) ? signs : [])),
  };
}
