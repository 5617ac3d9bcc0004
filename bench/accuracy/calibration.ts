import { harmonyOf } from '../../src/core/analyze/analysis.ts';
import { sameKey } from '../../src/core/music/key.ts';
import { splitTake } from '../../src/core/split/split.ts';
import { soundedCharts, type ChartSet } from './charts.ts';
import { chordAt } from './harmony.ts';
import { judgedRoles, type JudgedRole } from './roles.ts';

/** What was said of something with how much certainty (0..1), and whether it is so. */
export interface Said {
  certainty: number;
  right: boolean;
}

/** Findings of one kind, by the family of material they are of. */
export type Families = Record<string, Said[]>;

/** Keys and chords of charts, a chord every beat. */
export function harmonySaid(count: number): { keys: Families; chords: Families } {
  const keys: Families = {};
  const chords: Families = {};
  for (const set of ['plain', 'hard', 'rich', 'anywhere', 'modal'] satisfies ChartSet[]) {
    keys[set] = [];
    chords[set] = [];
    for (const { take, chords: truth, key } of soundedCharts(set, count)) {
      const found = harmonyOf(take, splitTake(take));
      const [best] = found.keys;
      if (best) keys[set].push({ certainty: best.certainty, right: sameKey(best, key) });
      const { ppq } = take.timing.timeline;
      for (const { beat, beats, root, quality } of truth) {
        for (let k = 0.5; k < beats; k++) {
          const heard = chordAt(found.chords, (beat + k) * ppq);
          if (!heard?.chord) continue;
          const right = heard.chord.root === root && heard.chord.quality.symbol === quality.symbol;
          chords[set].push({ certainty: heard.certainty, right });
        }
      }
    }
  }
  return { keys, chords };
}

/** Roles of parts, with names and programs and without. */
export function rolesSaid(): Families {
  const said = (parts: readonly JudgedRole[]) =>
    parts.map(({ made, found, certainty }) => ({ certainty, right: made === found }));
  const { told, standIns, real } = judgedRoles();
  return { 'real files': said(told), 'stand-ins, hidden': said(standIns), 'real files, hidden': said(real) };
}

/**
 * Expected calibration error (Naeini, Cooper & Hauskrecht, AAAI 2015): the mean distance between what was said and how
 * often it was so, over ten bins of certainty, each by the number of its findings.
 */
export function calibrationError(said: readonly Said[]): number {
  return bins(said).reduce(
    (sum, { said: mean, right, count }) => sum + (count / said.length) * Math.abs(mean - right),
    0,
  );
}

/** By tenth of certainty: the mean that was said, the share that was right, and how many there are. */
export function bins(said: readonly Said[]): { said: number; right: number; count: number }[] {
  return Array.from({ length: 10 }, (_, tenth) => {
    const within = said.filter(({ certainty }) => Math.min(9, Math.floor(certainty * 10)) === tenth);
    const share = (of: (one: Said) => number) =>
      within.reduce((sum, one) => sum + of(one), 0) / within.length;
    return {
      said: share(({ certainty }) => certainty),
      right: share(({ right }) => Number(right)),
      count: within.length,
    };
  }).filter(({ count }) => count > 0);
}
