import { build } from '../scripts/build.mjs';
import type { BenchResult } from './measure.ts';

type Bench = () => Promise<{ bench: () => BenchResult | Promise<BenchResult> }>;

const BENCHES: Record<string, Bench> = {
  read: () => import('./read.ts'),
  split: () => import('./split.ts'),
  analyze: () => import('./analyze.ts'),
  normalize: () => import('./normalize.ts'),
  through: () => import('./through.ts'),
  weave: () => import('./weave.ts'),
  comp: () => import('./comp.ts'),
  intake: () => import('./intake.ts'),
  'kit-model': () => import('./kit-model.ts'),
};

/** Those that start the built application: it is built first where it is not. */
const OF_THE_BUILD: Record<string, Bench> = {
  library: () => import('./library.ts'),
  pack: () => import('./pack.ts'),
  'hand-off': () => import('./hand-off.ts'),
  group: () => import('./group.ts'),
  'weave-page': () => import('./weave-page.ts'),
  strands: () => import('./strands.ts'),
  painting: () => import('./painting.ts'),
  capture: () => import('./capture.ts'),
  'played-through': () => import('./played-through.ts'),
  hostile: () => import('./hostile.ts'),
  move: () => import('./move.ts'),
};

const name = process.argv[2] ?? '';
const load = BENCHES[name] ?? OF_THE_BUILD[name];
if (load) {
  if (OF_THE_BUILD[name]) await build();
  console.log(JSON.stringify(await (await load()).bench()));
} else {
  console.error(`Which? ${[...Object.keys(BENCHES), ...Object.keys(OF_THE_BUILD)].join(', ')}`);
  process.exitCode = 2;
}
