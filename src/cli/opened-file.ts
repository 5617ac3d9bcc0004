import type { Harmony } from '../core/analyze/analysis.ts';
import { changesIn, type ChangesChord } from '../core/analyze/changes.ts';
import { likeliestKey } from '../core/analyze/key.ts';
import type { Take } from '../core/capture/take.ts';
import type { Key } from '../core/music/key.ts';
import { barsUntil } from '../core/music/timeline.ts';
import { mended } from '../core/split/proposals.ts';
import { playingParts, splitTake, type PlayingPart, type Split } from '../core/split/split.ts';
import { takeOfFile } from './files.ts';
import { Refusal } from './output.ts';

/** What the command line does unasked: what is at least so certain. The screens ask about everything. */
export const CERTAIN = 0.8;

/** A file taken apart, with what is certain mended. @throws Refusal where it cannot be read */
export function splitOfFile(file: string, problem: (text: string) => void): { take: Take; split: Split } {
  const take = takeOfFile(file, problem);
  return { take, split: mended(take, splitTake(take), CERTAIN) };
}

/** A file taken apart, with the parts that play. @throws Refusal where it cannot be read or holds no notes */
export function playingOfFile(
  file: string,
  problem: (text: string) => void,
): { take: Take; split: Split; playing: PlayingPart[] } {
  const { take, split } = splitOfFile(file, problem);
  const playing = playingParts(split);
  if (playing.length === 0) throw new Refusal(`${file}: there are no notes in it.`);
  return { take, split, playing };
}

/** The key of a take, its whole bars, and the chords that sound in them; none where no key was found. */
export function changesOfTake(
  take: Take,
  { chords, keys }: Pick<Harmony, 'chords' | 'keys'>,
): { key: Key | null; bars: number; changes: ChangesChord[] } {
  const key = likeliestKey(keys);
  const bars = Math.max(1, barsUntil(take.timing.timeline, take.timing.ticks));
  return { key, bars, changes: key ? changesIn(take, chords, key, { startBar: 1, bars }) : [] };
}
