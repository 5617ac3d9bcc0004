import { loopedParts } from './accuracy/loops.ts';
import { findLoops } from '../src/core/analyze/loops.ts';
for (const n of [1, 2, 9, 17]) {
  const p = loopedParts(301).filter((x) => x.kind === 'varied')[n]!;
  console.log(p.bars, findLoops(p.take, [...p.take.notes.tick.keys()]));
}
