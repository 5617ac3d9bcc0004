import type { WholeForm } from '../music/form.ts';
import type { ChordFinding } from './chords.ts';
import { findChordLoops } from './loops.ts';

/** Shorter changes that come back are a vamp, and told as loops (common practice: the shortest forms have eight bars). */
const SHORTEST_FORM = 8;

/** A form is gone through for so much of a take: the rest is its beginning and its end. */
const MOST_OF_IT = 0.5;

/** Changes that come back less exactly are others. */
const THE_SAME = 0.8;

/** The form whose changes a take goes round in as a whole, whatever is played over them; null where there is none. */
export function findWholeForm(chords: readonly ChordFinding[], bars: number): WholeForm | null {
  const [form] = findChordLoops(chords, bars)
    .filter(
      ({ bars: own, repeats, likeness }) =>
        own >= SHORTEST_FORM && repeats >= 2 && own * repeats >= MOST_OF_IT * bars && likeness >= THE_SAME,
    )
    .sort((a, b) => b.bars * b.repeats - a.bars * a.repeats || a.bars - b.bars);
  return form ? { startBar: form.startBar, bars: form.bars, times: form.repeats } : null;
}
