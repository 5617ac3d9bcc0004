import { bpmOfClip, type Clip } from '../phrase/clip.ts';
import type { Compared } from './alike.ts';
import { strokesOf } from './strokes.ts';

/** A phrase as it is compared with others: its notes, and its changes' line (`numeralLine`). */
export interface PhraseAsKept {
  clip: Clip;
  numerals: string;
}

/** Strokes and changes of a phrase. The swing stays: both are played, and a twelfth of a beat lies between straight and swung. */
export function comparedPhrase({ clip, numerals }: PhraseAsKept): Compared {
  const bpm = bpmOfClip(clip);
  return { ...strokesOf(clip, bpm), numerals };
}
