import { soundedCharts } from './accuracy/charts.ts';
import { findChords } from '../src/core/analyze/chords.ts';
import { chromaOf } from '../src/core/analyze/chroma.ts';
import { findKeysOf, findKeySpans } from '../src/core/analyze/find-key.ts';
import { splitTake } from '../src/core/split/split.ts';
import { keyLabel } from '../src/core/music/key.ts';
import { chordSymbol } from '../src/core/music/chord.ts';
for (const { take, key, laterKey } of soundedCharts('modulating', 14)) {
  const ch = chromaOf(take, splitTake(take));
  const f = findChords(ch);
  console.log(
    keyLabel(key),
    keyLabel(laterKey),
    '|',
    findKeySpans(ch, f)
      .map((s) => `${s.startBar}:${keyLabel(s)}`)
      .join(' '),
    '| home',
    keyLabel(findKeysOf(ch, f)[0]!),
    '|',
    f.map((c) => chordSymbol(c.chord!, key)).join(' '),
  );
}
