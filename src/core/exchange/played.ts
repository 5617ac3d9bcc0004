import { STATUS } from '../midi/smf.ts';
import type { Clip } from '../phrase/clip.ts';
import { placesSound, type LeavingPhrase } from './leaving.ts';

/** Ticks a quarter note in which what was played is told: every resolution that files leave with divides or is divided by it. */
const PPQ = 960;

/** What of a clip is played. */
type Played = Pick<Clip, 'notes' | 'controls' | 'timeline'>;

/** The checksum of some bytes, in hexadecimal digits. */
export type Sha256 = (bytes: Uint8Array) => string;

/**
 * What is played in a file, free of its resolution, channels, sounds, names and texts: two files that were saved by different programs
 * say the same. Its checksum is what packs are compared by.
 */
export function playedText({ notes, controls, timeline }: Played): string {
  const at = (tick: number) => Math.round((tick * PPQ) / timeline.ppq);
  const hits = notes
    .map(({ tick, duration, pitch, velocity }) =>
      [at(tick), at(tick + duration) - at(tick), pitch, velocity].join(' '),
    )
    .sort();
  const moves = controls
    .filter(({ kind, data1 }) => kind !== STATUS.program && !placesSound(kind, data1))
    .map(({ tick, kind, data1, data2 }) => [at(tick), kind, data1, data2].join(' '))
    .sort();
  // Where a kit lies in a file a piece, each of them has all controllers: said twice they are said once.
  return [...hits, '', ...new Set(moves)].join('\n');
}

/** The checksum of what is played in a clip. */
export function playedSum(clip: Played, sha256: Sha256): string {
  return sha256(new TextEncoder().encode(playedText(clip)));
}

/** Checksums of what is played in phrases as they leave, whole where their pieces have a file each, by their ids. */
export function playedSums(
  leaving: readonly Pick<LeavingPhrase, 'phrase' | 'clip'>[],
  sha256: Sha256,
): Map<string, string> {
  const whole = new Map<string, Clip>();
  for (const { phrase, clip } of leaving) {
    const before = whole.get(phrase.id);
    whole.set(phrase.id, before ? { ...clip, notes: [...before.notes, ...clip.notes] } : clip);
  }
  return new Map([...whole].map(([id, clip]) => [id, playedSum(clip, sha256)]));
}
