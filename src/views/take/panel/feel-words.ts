import type { PartFeel } from '../../../core/analyze/analysis.ts';
import { plural } from '../../../core/words.ts';

/** Above this a swing is a guess, in shares of a pair. */
const UNSURE = 0.02;

/** What is less late as a whole is as good as on the beat, in milliseconds. */
const WORTH_TELLING = 10;

/** How a part keeps time, in words: "1/8, swing 62 %, within 6 ms, 4 ms late". */
export function feelWords({
  feel: { grid, swing, swingError, tightnessMs, lateMs },
  lateness,
}: PartFeel): string {
  const percent = (share: number) => `${Math.round(share * 100)} %`;
  const swung = swing !== null && Math.abs(swing - 0.5) > 0.03 && grid !== '1/8 triplet';
  const by = lateness && Math.abs(lateness.ms) >= 3 ? lateness : null;
  return [
    grid === 'free' ? 'free' : grid,
    ...(swung
      ? [
          `swing ${percent(swing)}${swingError !== null && swingError > UNSURE ? `, give or take ${percent(swingError)}` : ''}`,
        ]
      : []),
    ...(grid === 'free' ? [] : [`within ${tightnessMs} ms`]),
    ...(Math.abs(lateMs) >= WORTH_TELLING
      ? [`${Math.abs(lateMs)} ms ${lateMs > 0 ? 'late' : 'early'} as a whole`]
      : []),
    ...(by ? [`${Math.abs(by.ms)} ms ${by.ms > 0 ? 'after' : 'ahead of'} the others`] : []),
  ].join(', ');
}

/** How much is played, in words: "7.5 strokes a bar, 3 notes at once, syncopated 0.2". */
export function densityWords({ features: { density, mostTogether, syncopation } }: PartFeel): string {
  return `${density} strokes a bar, ${mostTogether > 1 ? `up to ${plural(mostTogether, 'note')} at once` : 'one note at a time'}, syncopation ${syncopation.toFixed(2)}`;
}
