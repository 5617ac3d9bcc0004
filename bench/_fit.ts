import { freeTakes } from './accuracy/free-takes.ts';
import { readingsFor, scoreFinding } from './accuracy/beats.ts';
import { chosen, BEAT_WEIGHTS, scoreOf } from '../src/core/analyze/beats.ts';
import { seededRandom } from '../src/core/standins/random.ts';
const load = (n: number, seed: number) =>
  freeTakes(n, { seed }).map((t) => ({
    t,
    readings: readingsFor(t).map((r) => ({ r, s: scoreFinding(t, { ...r, bpm: 0, certainty: 0 } as any) })),
  }));
const train = [...load(120, 0), ...load(120, 1000), ...load(120, 2000)];
const test = [...load(120, 5000)];
const value = (set: any[], w: any) => {
  let v = 0;
  for (const { readings } of set) {
    let b: any = null,
      bs = -1e9;
    for (const x of readings) {
      const s = scoreOf(x.r, w);
      if (s > bs) {
        bs = s;
        b = x;
      }
    }
    if (!b) continue;
    v += (b.s.beats >= 0.9 ? 1 : 0) + 0.3 * b.s.beats + 0.5 * b.s.downbeats;
  }
  return v / set.length / 1.8;
};
const summary = (set: any[], w: any) => {
  const ss = set.map(
    ({ readings }) =>
      readings.reduce((a: any, b: any) => (!a || scoreOf(b.r, w) > scoreOf(a.r, w) ? b : a), null)?.s ?? {
        beats: 0,
        downbeats: 0,
      },
  );
  const f = ss.map((s: any) => s.beats).sort((a: number, b: number) => a - b);
  const d = ss.map((s: any) => s.downbeats);
  return [
    f[f.length >> 1],
    f.filter((x: number) => x >= 0.9).length / f.length,
    d.reduce((a: number, b: number) => a + b, 0) / d.length,
    d.filter((x: number) => x >= 0.9).length / d.length,
  ]
    .map((x) => x.toFixed(3))
    .join(' ');
};
const rnd = seededRandom(3);
let w: any = { ...BEAT_WEIGHTS };
let best = value(train, w);
console.log('start', best, summary(train, w), 'test', summary(test, w));
for (let round = 0; round < 400; round++) {
  const c = { ...w };
  for (const k of Object.keys(c))
    if (rnd() < 0.35) c[k] = Math.max(0, c[k] * Math.exp((rnd() - 0.5) * 1.2) + (rnd() < 0.1 ? 0.1 : 0));
  const v = value(train, c);
  if (v > best) {
    best = v;
    w = c;
  }
}
console.log('end', best, summary(train, w), 'test', summary(test, w));
console.log(Object.fromEntries(Object.entries(w).map(([k, v]) => [k, +(v as number).toFixed(2)])));
for (const { t, readings } of [...test]) {
  const b = readings.reduce((a: any, b: any) => (!a || scoreOf(b.r, w) > scoreOf(a.r, w) ? b : a), null);
  if (!b || b.s.beats < 0.9 || b.s.downbeats < 0.9)
    console.log(
      t.name,
      t.drift,
      b?.s.beats.toFixed(2),
      b?.s.downbeats.toFixed(2),
      b?.s.octave.toFixed(2),
      t.beats.length,
      (t.beats.length / t.downbeats.length).toFixed(1),
    );
}
