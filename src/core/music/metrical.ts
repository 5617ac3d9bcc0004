import { divisionsOf } from './meters.ts';
import { barTicks, beatTicks, meterAt, type Timeline } from './timeline.ts';

/**
 * Metrical weight of a place in the bar: 0 on its first beat, and one less for each level down to the sixteenth, after
 * Longuet-Higgins & Lee, "The rhythmic interpretation of monophonic music" (Music Perception 1984). In 4/4 the sixteenths of
 * the first beat are 0 -4 -3 -4, those of the second -2 -4 -3 -4. What lies between is a level lower still.
 *
 * @param beat quarter notes, or what the denominator counts, from the bar line, 0 up to the numerator
 */
export function metricalWeight(
  beat: number,
  { numerator, denominator }: { numerator: number; denominator: number },
): number {
  let [weight, length] = [0, numerator];
  for (const part of divisionsOf({ numerator, denominator })) {
    const whole = beat / length;
    if (Math.abs(whole - Math.round(whole)) < 1 / 24 / length) return weight;
    length /= part;
    weight--;
  }
  const whole = beat / length;
  return Math.abs(whole - Math.round(whole)) < 1 / 24 / length ? weight : weight - 1;
}

/** Where a tick lies, in the meter its bar one has: which bar from bar one, from 0, beats from the bar line, and the weight there. */
export function placeInBar(
  { timeline, pickup }: { timeline: Timeline; pickup: number },
  tick: number,
): { bar: number; beat: number; weight: number } {
  const meter = meterAt(timeline, pickup);
  const length = barTicks(timeline.ppq, meter);
  const bar = Math.floor((tick - pickup) / length);
  const beat = ((((tick - pickup) % length) + length) % length) / beatTicks(timeline.ppq, meter);
  return { bar, beat, weight: metricalWeight(beat, meter) };
}
