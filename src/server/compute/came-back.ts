import {
  fingerprintOf,
  sharedValues,
  unpackFingerprint,
  FINGERPRINT,
} from '../../core/catalog/fingerprint.ts';
import { strokesOf } from '../../core/catalog/strokes.ts';
import { idsOfTrack, playedOf } from '../../core/exchange/pack-in.ts';
import {
  comparedWith,
  doneWords,
  verdictOf,
  type ReturnVerdict,
  type Returned,
} from '../../core/exchange/returned.ts';
import { bpmOfClip, clipFromPart, type Clip } from '../../core/phrase/clip.ts';
import { playingParts } from '../../core/split/split.ts';
import { openStored, type StoredTake } from './stored-take.ts';

/** A part of a take, and the phrases that left which it may be. */
export interface PartCandidates {
  part: string;
  /** Said by its tracks. */
  said: string[];
  /** Near by their fingerprints, the nearest first. */
  near: string[];
}

/** Values that two fingerprints share by chance now and then. */
const BY_CHANCE = 3;

/** So many phrases are compared note by note with one part. */
const MOST_NEAR = 6;

/** Which of what left the parts of a take may be: by what their tracks say, and by fingerprints. */
export function candidatesIn(
  stored: StoredTake,
  left: readonly (readonly [id: string, fingerprint: Uint8Array])[],
): PartCandidates[] {
  const { take, split } = openStored(stored);
  const known = new Set(left.map(([id]) => id));
  const told = left.filter(([, bytes]) => bytes.length === 4 * FINGERPRINT);
  // The last place is the part's.
  const prints = new Uint32Array((told.length + 1) * FINGERPRINT);
  told.forEach(([, bytes], k) => prints.set(unpackFingerprint(bytes), k * FINGERPRINT));
  return playingParts(split).map(({ part, index }) => {
    const clip = clipFromPart(take, split, index, null);
    prints.set(fingerprintOf(strokesOf(clip, bpmOfClip(clip))), told.length * FINGERPRINT);
    const near = told
      .map(([id], k) => ({ id, shared: sharedValues(prints, k, told.length) }))
      .filter(({ shared }) => shared > BY_CHANCE)
      .sort((a, b) => b.shared - a.shared)
      .slice(0, MOST_NEAR);
    const said = part.from.flatMap(({ track }) => idsOfTrack(take, track)).filter((id) => known.has(id));
    return { part: part.id, said: [...new Set(said)], near: near.map(({ id }) => id) };
  });
}

/** What a part of a take is that left once, and what was done to it. */
export interface PartReturned {
  part: string;
  phraseId: string;
  verdict: ReturnVerdict;
  returned: Returned;
  /** What was done, in words; empty where nothing was. */
  text: string;
}

/** The parts of a take that left once: each as the phrase that it shares most with. */
export function partsReturned(
  stored: StoredTake,
  candidates: readonly PartCandidates[],
  phrases: readonly (readonly [id: string, clip: Clip])[],
): PartReturned[] {
  const { take, split } = openStored(stored);
  const clips = new Map(phrases);
  return playingParts(split).flatMap(({ part, index }): PartReturned[] => {
    const wanted = candidates.find((one) => one.part === part.id);
    if (!wanted) return [];
    const clip = clipFromPart(take, split, index, null);
    const found = [...new Set([...wanted.said, ...wanted.near])].flatMap((phraseId) => {
      const left = clips.get(phraseId);
      const id = wanted.said.includes(phraseId) ? phraseId : null;
      const returned = left ? comparedWith(playedOf(left, phraseId), playedOf(clip, id)) : null;
      return returned ? [{ phraseId, returned }] : [];
    });
    const [best] = found.sort((a, b) => b.returned.shared - a.returned.shared);
    const verdict = verdictOf(best?.returned ?? null);
    // By its notes alone, what is perhaps ours is perhaps anybody's.
    const isSaid = best !== undefined && wanted.said.includes(best.phraseId);
    if (!best || verdict === 'new' || (verdict === 'perhaps' && !isSaid)) return [];
    return [{ part: part.id, verdict, text: doneWords(best.returned), ...best }];
  });
}
