import { parseKey } from '../src/core/music/key.ts';
import { steadyTimeline } from '../src/core/music/timeline.ts';
import type { Clip } from '../src/core/phrase/clip.ts';
import { layWeave } from '../src/core/weave/lay.ts';
import { newCell, newSection, withCellStep, type Weave } from '../src/core/weave/weave.ts';
import { timeInTurn, type BenchResult } from './measure.ts';

const ROLES = ['drums', 'bass', 'keys', 'guitar', 'pad', 'strings', 'lead', 'brass'] as const;

/** A bar of sixteenths. */
const clip: Clip = {
  timeline: steadyTimeline(480, 100),
  length: 1920,
  pickup: 0,
  notes: Array.from({ length: 16 }, (_, k) => ({
    ...{ tick: k * 120, duration: 110, pitch: 48 + ((k * 5) % 24), velocity: 90, release: 64, origin: k },
  })),
  controls: [],
  role: 'keys',
  key: parseKey('C')!,
  channel: 0,
  program: 0,
  locked: [],
};

/** 200 bars in 25 sections, 16 parts. */
function sheet(): Weave {
  const parts = Array.from({ length: 16 }, (_, k) => ({
    ...{ id: `p${k}`, name: `Part ${k}`, role: ROLES[k % 8]!, program: null, level: 1, pan: null },
  }));
  const sections = Array.from({ length: 25 }, (_, k) => ({
    ...newSection(`s${k}`, `Section ${k}`),
    changes: 'C | Am | F | G',
  }));
  return {
    ...{ title: 'Sheet', bpm: 100, meter: { numerator: 4, denominator: 4 }, key: 'C' },
    ...{ sections, parts, ending: 'ring', endingBars: 2, refused: [] },
    cells: sections.flatMap(({ id }) => parts.map((part) => newCell(id, part.id, 'x'))),
  };
}

/**
 * What one changed cell of a sheet of 200 bars and 16 parts costs: the whole of it is laid again. The reference copies as many
 * notes and lays nothing.
 */
export function bench(): BenchResult {
  const weave = sheet();
  const phrases = new Map([['x', { clip, from: 'C' }]]);
  const laid = layWeave(weave, phrases);
  const notes = laid.parts.reduce((sum, part) => sum + part.clip.notes.length, 0);
  console.log(`${laid.bars} bars, ${laid.parts.length} parts, ${notes} notes`);
  let level = 0;
  const { ours, reference } = timeInTurn(
    () => {
      level = level === 1 ? 2 : 1;
      const changed = withCellStep(weave.cells[0]!, 'density', { step: 'density', level, seed: 1 });
      layWeave({ ...weave, cells: weave.cells.with(0, changed) }, phrases);
    },
    () => void structuredClone(laid.parts),
  );
  return { bench: 'weave', ours, reference, ratio: ours / reference, unit: 'ms', figures: { notes } };
}
