import type { BenchResult } from './measure.ts';

const BENCHES: Record<string, () => Promise<{ bench: () => BenchResult | Promise<BenchResult> }>> = {
  read: () => import('./read.ts'),
  split: () => import('./split.ts'),
  analyze: () => import('./analyze.ts'),
  normalize: () => import('./normalize.ts'),
  ui: () => import('./ui.ts'),
  strands: () => import('./strands.ts'),
  intake: () => import('./intake.ts'),
  capture: () => import('./capture.ts'),
  'kit-model': () => import('./kit-model.ts'),
};

const name = process.argv[2] ?? '';
const load = BENCHES[name];
if (load) console.log(JSON.stringify(await (await load()).bench()));
else {
  console.error(`Which? ${Object.keys(BENCHES).join(', ')}`);
  process.exitCode = 2;
}
