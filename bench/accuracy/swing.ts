import { findFeel } from '../../src/core/analyze/feel.ts';
import { takeFrom } from '../../src/core/capture/take.ts';
import { performanceFile, PPQ } from '../../src/core/standins/performance.ts';
import { swung } from '../../src/core/standins/hand.ts';
import { seededRandom } from '../../src/core/random.ts';

const METER = { numerator: 4, denominator: 4 };
const BARS = 4;

/** Eighths of a swing with 8 ms of noise over four bars: by take, how far the ratio is off, and the error that is told. */
export function swingErrors(bpm: number, swing: number, takes: number): { errors: number[]; told: number[] } {
  const noise = (0.008 * bpm * PPQ) / 60;
  const feels = Array.from({ length: takes }, (_, n) => {
    const random = seededRandom(n + Math.round(bpm * 1000 * swing));
    // Four together are normal enough, with a deviation of 1 / sqrt(3).
    const stray = () => (random() + random() + random() + random() - 2) * Math.sqrt(3) * noise;
    const notes = Array.from({ length: 8 * BARS }, (_, i) => ({
      tick: Math.max(0, Math.round(swung((i * PPQ) / 2, swing) + stray())),
      length: 100,
      pitch: 60,
      velocity: 90,
    }));
    const parts = [{ name: 'Line', channel: 0, program: 0, notes }];
    const take = takeFrom(
      performanceFile({ title: 'Swing', bpm, meter: METER, bars: BARS, parts, input: null }),
    );
    return findFeel(take, [...take.notes.tick.keys()]);
  });
  return {
    errors: feels.map((feel) => Math.abs((feel.swing ?? 0) - swing)),
    told: feels.map(({ swingError }) => swingError ?? 1),
  };
}
