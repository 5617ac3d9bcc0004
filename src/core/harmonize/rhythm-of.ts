import { kitPiece } from '../midi/gm.ts';
import { barTicks, beatTicks, meterAt } from '../music/timeline.ts';
import type { Rhythm } from '../music/rhythm.ts';
import { barsOf, isPitched, type Clip } from '../phrase/clip.ts';
import { unitsOf } from '../phrase/units.ts';

/** A stroke this much louder than the mean is an accent, this much softer a soft one. */
const LOUDER = 1.12;
const SOFTER = 0.6;

/** What sounds for more than this share of a step is held on in it. */
const GAP = 0.3;

/** The most bars a rhythm is taken of. */
const MOST_BARS = 2;

/**
 * The rhythm of a phrase's first two bars (one, where both are alike), in sixteenths: its strokes, how long each sounds, which are
 * louder and softer than the mean.
 */
export function rhythmOfClip(clip: Clip): Rhythm {
  const meter = meterAt(clip.timeline, clip.pickup);
  const perBeat = Math.max(1, 16 / meter.denominator);
  const step = beatTicks(clip.timeline.ppq, meter) / perBeat;
  const bar = barTicks(clip.timeline.ppq, meter);
  const bars = Math.min(MOST_BARS, barsOf(clip));
  const marks = Array.from({ length: Math.round((bars * bar) / step) }, () => '.');
  const strokes = unitsOf(clip)
    .map((unit) => ({
      at: Math.round((unit[0]!.tick - clip.pickup) / step),
      to: Math.max(...unit.map(({ tick, duration }) => tick + duration)) - clip.pickup,
      velocity: Math.max(...unit.map((note) => note.velocity)),
    }))
    .filter(({ at }) => at >= 0 && at < marks.length);
  const mean = strokes.reduce((sum, { velocity }) => sum + velocity, 0) / Math.max(1, strokes.length);
  for (const { at, to, velocity } of strokes) {
    for (let k = at + 1; k < marks.length && to - k * step > GAP * step; k++) marks[k] = '-';
    marks[at] = velocity > mean * LOUDER ? 'X' : velocity < mean * SOFTER ? 'o' : 'x';
  }
  const [first, second] = [marks.slice(0, marks.length / bars).join(''), marks.join('')];
  return { perBeat, steps: bars === 2 && first + first === second ? first : second };
}

/** Beats, from bar one, at which the kick of a groove is struck; gone round over so many bars. */
export function kicksOf(groove: Clip, bars: number): number[] {
  if (isPitched(groove)) return [];
  const meter = meterAt(groove.timeline, groove.pickup);
  const beat = beatTicks(groove.timeline.ppq, meter);
  const own = barsOf(groove) * meter.numerator;
  const once = groove.notes
    .filter(({ pitch, tick }) => kitPiece(pitch) === 'kick' && tick >= groove.pickup)
    .map(({ tick }) => (tick - groove.pickup) / beat)
    .filter((at) => at < own);
  return Array.from({ length: Math.ceil((bars * meter.numerator) / own) }, (_, round) =>
    once.map((at) => at + round * own),
  )
    .flat()
    .filter((at) => at < bars * meter.numerator);
}
