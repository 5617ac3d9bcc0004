import { changesIn, type ChangesChord } from '../../core/analyze/changes.ts';
import type { Key } from '../../core/music/key.ts';
import { barStart, barsUntil, bpmOf, meterAt, roundedBpm, tempoAt } from '../../core/music/timeline.ts';
import { harmonyIn } from '../../core/take/opened.ts';
import { LibraryError } from '../library/errors.ts';
import { openStored, type StoredTake } from './stored-take.ts';

/** Changes of some bars of a take, with their key, tempo and meter. */
export interface BarsChanges {
  key: Key;
  chords: ChangesChord[];
  bpm: number;
  meter: { numerator: number; denominator: number };
}

/** @throws LibraryError 422 where the take has no such bars, or no chord sounds in them */
export function changesOfBars(
  stored: StoredTake,
  { startBar, bars }: { startBar: number; bars: number },
  chosen: Key | null,
): BarsChanges {
  const opened = openStored(stored);
  const { timeline, ticks } = opened.take.timing;
  const last = barsUntil(timeline, ticks);
  if (startBar > last) throw new LibraryError(422, `The take ends with bar ${last}.`);
  const { chords, keys } = harmonyIn(opened);
  const found = chosen ?? keys[0];
  const key = found && { tonic: found.tonic, mode: found.mode };
  const changes = key ? changesIn(opened.take, chords, key, { startBar, bars }) : [];
  if (!key || changes.every(({ symbol }) => symbol === ''))
    throw new LibraryError(422, 'No chord sounds in these bars.');
  const tick = barStart(timeline, startBar);
  const { numerator, denominator } = meterAt(timeline, tick);
  return {
    key,
    chords: changes,
    bpm: roundedBpm(bpmOf(tempoAt(timeline, tick).microseconds)),
    meter: { numerator, denominator },
  };
}
