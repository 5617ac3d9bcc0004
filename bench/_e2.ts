import { edgedTakes } from './accuracy/edges.ts';
import { findLoops } from '../src/core/analyze/loops.ts';
import { playingParts, splitTake } from '../src/core/split/split.ts';
for (const t of edgedTakes(210).filter((x) => x.kind === 'tail' && x.name !== 'Band')) {
  console.log(
    t.name,
    t.tailBars,
    playingParts(splitTake(t.take))
      .map(
        ({ part, notes }) => part.name + JSON.stringify(findLoops(t.take, notes).slice(0, 2)) + notes.length,
      )
      .join(' | '),
  );
}
