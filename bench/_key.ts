import { soundedCharts } from './accuracy/charts.ts';
import { scoreCharts, mirexScore } from './accuracy/harmony.ts';
import { findChords } from '../src/core/analyze/chords.ts';
import { chromaOf } from '../src/core/analyze/chroma.ts';
import { findKeysOf, KEY_WEIGHTS, findKeySpans } from '../src/core/analyze/find-key.ts';
import { splitTake } from '../src/core/split/split.ts';
for (const set of ['plain', 'hard', 'rich', 'anywhere', 'modal', 'modulating'] as const) {
  const c = soundedCharts(set, 60);
  const s = scoreCharts(c);
  let ok = 0,
    all = 0,
    one = 0;
  for (const { take, key, laterKey } of c) {
    const ch = chromaOf(take, splitTake(take));
    const f = findChords(ch);
    const sp = findKeySpans(ch, f);
    one += sp.length;
    for (let b = 1; b <= 16; b++) {
      const k = sp.find((x) => b >= x.startBar && b < x.startBar + x.bars);
      const t = b <= 8 ? key : laterKey;
      all++;
      if (k && k.tonic === t.tonic && k.mode === t.mode) ok++;
    }
  }
  console.log(
    set,
    s.majorMinor.toFixed(3),
    s.all.toFixed(3),
    s.key.toFixed(3),
    'bars',
    (ok / all).toFixed(3),
    'spans',
    one / 60,
  );
}
