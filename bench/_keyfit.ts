import { soundedCharts } from './accuracy/charts.ts';
import { mirexScore } from './accuracy/harmony.ts';
import { findChords } from '../src/core/analyze/chords.ts';
import { chromaOf } from '../src/core/analyze/chroma.ts';
import { findKeysOf, KEY_WEIGHTS } from '../src/core/analyze/find-key.ts';
import { splitTake } from '../src/core/split/split.ts';
import { seededRandom } from '../src/core/standins/random.ts';
const sets = ['plain', 'hard', 'rich', 'anywhere', 'modal'] as const;
const data = sets.map((set) =>
  soundedCharts(set, 120).map(({ take, key }) => {
    const ch = chromaOf(take, splitTake(take));
    return { key, ch, f: findChords(ch) };
  }),
);
const score = (list: any[], w: any) =>
  list.reduce((a, { key, ch, f }) => a + mirexScore(findKeysOf(ch, f, w)[0]!, key), 0) / list.length;
const exact = (list: any[], w: any) =>
  list.reduce((a, { key, ch, f }) => {
    const k = findKeysOf(ch, f, w)[0]!;
    return a + (k.tonic === key.tonic && k.mode === key.mode ? 1 : 0);
  }, 0) / list.length;
const train = data.map((d) => d.slice(60)),
  test = data.map((d) => d.slice(0, 60));
const value = (d: any[], w: any) =>
  2 * score(d[0], w) + 2 * score(d[1], w) + score(d[2], w) + 2 * score(d[3], w) + 1.5 * exact(d[4], w);
const rnd = seededRandom(5);
let w: any = { ...KEY_WEIGHTS },
  best = value(train, w);
const show = (w: any) =>
  console.log(
    'train',
    train.map((d, i) => (i === 4 ? exact : score)(d, w).toFixed(3)).join(' '),
    'test',
    test.map((d, i) => (i === 4 ? exact : score)(d, w).toFixed(3)).join(' '),
  );
show(w);
for (let r = 0; r < 1; r++) {
  const c = { ...w };
  if (rnd() < 0.1) c.profile = ['krumhansl', 'temperley', 'albrecht'][Math.floor(rnd() * 3)];
  for (const k of Object.keys(c))
    if (k !== 'profile' && rnd() < 0.35) c[k] = Math.max(0, c[k] * Math.exp((rnd() - 0.5) * 1.3));
  const v = value(train, c);
  if (v >= best) {
    if (v > best) console.log(r, v.toFixed(3));
    best = v;
    w = c;
  }
}
show(w);
console.log(w);
for (const profile of ['krumhansl', 'temperley', 'albrecht']) show({ ...w, profile });
console.log('---');
for (const v of [
  {
    profile: 'krumhansl',
    profileWeight: 0.35,
    fit: 0.25,
    first: 0.05,
    last: 0.33,
    cadence: 0.85,
    bass: 0.25,
    modal: 0.22,
    character: 0.26,
  },
  {
    profile: 'albrecht',
    profileWeight: 0.35,
    fit: 0.25,
    first: 0.05,
    last: 0.33,
    cadence: 0.85,
    bass: 0.25,
    modal: 0.22,
    character: 0.26,
  },
  {
    profile: 'krumhansl',
    profileWeight: 0.3,
    fit: 0.15,
    first: 0.05,
    last: 0.32,
    cadence: 0.8,
    bass: 0.22,
    modal: 0.21,
    character: 0.25,
  },
]) {
  console.log(JSON.stringify(v));
  show(v);
}
