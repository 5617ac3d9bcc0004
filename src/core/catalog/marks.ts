import type { ChangesChord } from '../analyze/changes.ts';
import type { Key } from '../music/key.ts';
import { bpmOfClip, type Clip } from '../phrase/clip.ts';
import { packFeatures, phraseFeatures } from './features.ts';
import { fingerprintOf, packFingerprint } from './fingerprint.ts';
import { harmonyProfile } from './profile.ts';
import { strokesOf } from './strokes.ts';

/** Version of the methods; what an older one found is found again. */
export const MARKS_METHOD = 1;

/** What a phrase is found and compared by, packed. */
export interface Marks {
  method: number;
  features: Uint8Array;
  profile: Uint8Array;
  fingerprint: Uint8Array;
}

/** The marks of a phrase as it is kept, with the changes under it in its take's key. */
export function marksOf(clip: Clip, changes: readonly ChangesChord[], takeKey: Key | null): Marks {
  const features = phraseFeatures(clip, changes, takeKey);
  const bpm = bpmOfClip(clip);
  const swing = features && features.swing > 0 ? features.swing : null;
  return {
    method: MARKS_METHOD,
    features: features ? packFeatures(features) : new Uint8Array(),
    profile: harmonyProfile(clip),
    fingerprint: packFingerprint(fingerprintOf(strokesOf(clip, bpm, swing))),
  };
}
