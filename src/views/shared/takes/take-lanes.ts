import type { Take } from '../../../core/capture/take.ts';
import type { Key } from '../../../core/music/key.ts';
import { cutBars, type BarsParams } from '../../../core/normalize/bars.ts';
import { clipFromPart } from '../../../core/phrase/clip.ts';
import { playingParts, type Split } from '../../../core/split/split.ts';
import type { Listening } from '../../../sound/player.ts';
import { takeBars } from './strand-columns.ts';

/** A part that is heard: on which sound, and whether it lies under others. */
export interface HeardPart {
  id: string;
  /** GM program 0..127 instead of its own. */
  program?: number;
  under?: boolean;
}

/** How loud parts are that lie under the one that is listened to. */
const UNDER = 0.4;

/** Bars of parts of a take as lanes to be heard. */
export function takeLanes(
  take: Take,
  split: Split,
  heard: readonly HeardPart[],
  cut: BarsParams,
  key: Key | null,
): Listening['lanes'] {
  return heard.map(({ id, program, under }) => {
    const index = split.parts.findIndex((part) => part.id === id);
    const { clip } = cutBars(clipFromPart(take, split, index, key), cut);
    return {
      id,
      clip: program === undefined ? clip : { ...clip, program },
      ...(under ? { level: UNDER } : {}),
    };
  });
}

/** All parts of a take that have notes, from its first bar to its last. */
export function wholeTake(take: Take, split: Split, key: Key | null): Listening['lanes'] {
  const sounding = playingParts(split).map(({ part: { id } }) => ({ id }));
  return takeLanes(take, split, sounding, { start: 1, count: takeBars(take) }, key);
}
