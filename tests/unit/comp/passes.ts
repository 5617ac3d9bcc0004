import { harmonyOf } from '../../../src/core/analyze/analysis.ts';
import { takeFrom, type Take } from '../../../src/core/capture/take.ts';
import { passTake, type PassTake } from '../../../src/core/comp/passes.ts';
import { mended } from '../../../src/core/split/proposals.ts';
import { splitTake } from '../../../src/core/split/split.ts';
import { performanceFile } from '../../../src/core/standins/performance.ts';
import type { Mishap } from '../../../src/core/standins/mishaps.ts';
import { standInById } from '../../../src/core/standins/stand-ins.ts';

/** A take with its harmony, as a comp is made of. */
export function passOfTake(id: string, take: Take): PassTake {
  const split = mended(take, splitTake(take), 0.8);
  return passTake({ id, name: id }, { take, split }, harmonyOf(take, split));
}

/** What the simulated band makes of a chart, one seed a pass. */
export function bandPass(
  seed: number,
  { chart, choruses = 1, mishaps = [], ...more }: { chart: string; choruses?: number; mishaps?: Mishap[]; bpm?: number; parts?: string[]; style?: string }, // prettier-ignore
): PassTake {
  const band = standInById('band');
  const settings = { ...band.defaults, ...more, chart, choruses, seed };
  return passOfTake(`pass ${seed}`, takeFrom(performanceFile(band.play(settings, mishaps))));
}
