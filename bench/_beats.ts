import { freeTakes } from './accuracy/free-takes.ts';
import { readingsFor, scoreFinding } from './accuracy/beats.ts';
import { chosen, BEAT_WEIGHTS } from '../src/core/analyze/beats.ts';
const takes = freeTakes(80);
const t0 = performance.now();
const readings = takes.map(readingsFor);
console.log('time/take', (performance.now() - t0) / takes.length);
const summary = (scores: any[]) => {
  const f = scores.map((s) => s.beats).sort((a: number, b: number) => a - b);
  const d = scores.map((s) => s.downbeats).sort((a: number, b: number) => a - b);
  return {
    median: f[f.length >> 1].toFixed(3),
    over9: (f.filter((x: number) => x >= 0.9).length / f.length).toFixed(3),
    down: d[d.length >> 1].toFixed(3),
    downMean: (d.reduce((a: number, b: number) => a + b, 0) / d.length).toFixed(3),
  };
};
const scores = takes.map((t, i) => scoreFinding(t, chosen(readings[i], BEAT_WEIGHTS)));
// oracle
const oracle = takes.map((t, i) =>
  readings[i]
    .map((r) => scoreFinding(t, { ...r, bpm: 0, certainty: 0 }))
    .reduce((a, b) => (b.beats + 0.5 * b.downbeats > a.beats + 0.5 * a.downbeats ? b : a), {
      beats: 0,
      downbeats: 0,
    } as any),
);
console.log(summary(scores), 'oracle', summary(oracle));
scores.forEach((s, i) => {
  if (s.beats < 0.9 || s.downbeats < 0.9)
    console.log(
      i,
      s.name,
      s.drift,
      s.beats.toFixed(2),
      s.downbeats.toFixed(2),
      s.octave.toFixed(2),
      'oracle',
      oracle[i].beats.toFixed(2),
      oracle[i].downbeats.toFixed(2),
      takes[i].beats.length,
    );
});
