import { writeMidiFile } from '../../core/midi/write.ts';
import { ChartError } from '../../core/music/chart.ts';

import type { Clip } from '../../core/phrase/clip.ts';
import { performanceFile } from '../../core/standins/performance.ts';
import { heldOf } from '../../core/standins/held.ts';
import { playRun } from '../../core/sweep/play.ts';
import type { SweepPlan, SweepSettings } from '../../core/sweep/plan.ts';
import { keptHeard, runHeard, type KeptHeard } from '../../core/sweep/sheet.ts';
import { harmonyIn } from '../../core/take/opened.ts';
import { LibraryError } from '../library/errors.ts';
import { openStored, type StoredTake } from './stored-take.ts';

/** What a stand-in plays in one run, as a file; null where it is silent. @throws LibraryError 422 where it cannot be set off so */
export function sweepRun(
  plan: SweepPlan,
  run: SweepSettings,
  trigger: Clip | null,
): { bytes: Uint8Array; bars: number } | null {
  try {
    const played = playRun(plan, run, trigger && heldOf(trigger));
    const isSilent = played.parts.every(({ notes }) => notes.length === 0);
    return isSilent ? null : { bytes: writeMidiFile(performanceFile(played)), bars: played.bars };
  } catch (error) {
    if (error instanceof ChartError || error instanceof RangeError)
      throw new LibraryError(422, error.message);
    throw error;
  }
}

/** What a take of a sweep plays, as runs are compared. */
export function sweepHeard(stored: StoredTake, chart: string | null): KeptHeard {
  const opened = openStored(stored);
  const { chords, keys } = chart === null ? { chords: [], keys: [] } : harmonyIn(opened);
  const { take, split } = opened;
  return keptHeard(runHeard(0, { take, split, chords, key: keys[0] ?? null }, chart));
}
