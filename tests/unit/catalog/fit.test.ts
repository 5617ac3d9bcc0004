import assert from 'node:assert/strict';
import { test } from 'node:test';
import fc from 'fast-check';
import { fitOf, prepareFit, tempoFit, type FitContext, type Fitted } from '../../../src/core/catalog/fit.ts';
import { harmonyProfile } from '../../../src/core/catalog/profile.ts';
import { changesClip } from '../../../src/core/reuse/changes-clip.ts';
import { parseChart } from '../../../src/core/music/chart.ts';
import type { Key } from '../../../src/core/music/key.ts';

const G: Key = { tonic: 7, mode: 'major' };
const E: Key = { tonic: 4, mode: 'minor' };
const CHART = 'G | Em | C | D';

/** The chords of a chart, held, in a key: a phrase that is its own chart. */
function phrase(chart: string, key: Key, change: Partial<Fitted> = {}): Fitted {
  const bars = parseChart(chart, 4);
  const chords = bars.flatMap((bar, k) =>
    bar.map(({ symbol, beat, beats }) => ({ symbol, beat: 4 * k + beat, beats, numeral: '' })),
  );
  const clip = changesClip({
    chords,
    bars: bars.length,
    bpm: 96,
    meter: { numerator: 4, denominator: 4 },
    key,
  });
  return {
    ...{
      role: 'keys',
      key,
      bpm: 96,
      meter: '4/4',
      bars: bars.length,
      swing: 0.5,
      low: 36,
      high: 72,
      places: [1],
    },
    profile: harmonyProfile(clip),
    ...change,
  };
}

const asked = (change: Partial<FitContext> = {}): FitContext => ({
  ...{ key: G, bpm: 96, meter: '4/4', chart: parseChart(CHART, 4) },
  ...change,
});

const fit = (one: Fitted, context: FitContext) => fitOf(one, prepareFit(context))!;

// Check values of the design (library.md, "Fit").
test('the same key, tempo, meter and its own chart: 100', () => {
  assert.equal(fit(phrase(CHART, G), asked()).fit, 100);
});

test('at twice the tempo 90 or more, and it says half time', () => {
  const { fit: value, reasons } = fit(phrase(CHART, G, { bpm: 192 }), asked());
  assert.ok(value >= 90 && value < 100, String(value));
  assert.match(reasons[0]!.text, /half time/);
});

test('E minor and G major differ in nothing: the same notes before the same tonic', () => {
  const [inG, inE] = [asked(), asked({ key: E })].map((context) => fit(phrase(CHART, G), context));
  assert.deepEqual([inG!.fit, inG!.transpose], [inE!.fit, inE!.transpose]);
  assert.equal(fit(phrase('Em | C | Am | D', E), asked()).transpose, 0);
});

test('a phrase in 3/4 fits a project in 4/4 by 60 at the most, drums too', () => {
  for (const role of ['keys', 'drums'] as const)
    assert.ok(fit(phrase(CHART, G, { role, meter: '3/4' }), asked()).fit <= 60);
});

test('what falls outside is told by bar and chord', () => {
  const { reasons } = fit(phrase('G | F | C | D', G), asked());
  assert.match(reasons.find(({ part }) => part === 'harmony')!.text, /bar 2: F under Em/);
});

test('of all bar offsets the best is taken, of equals the one with most chord notes', () => {
  const { reasons } = fit(phrase('C | D', G), asked());
  const harmony = reasons.find(({ part }) => part === 'harmony')!;
  assert.equal(harmony.score, 1);
  assert.match(harmony.text, /from bar 3 of the chart/);
});

test('the steps of the tempo are those of the design', () => {
  const at = (own: number) => tempoFit(own, 100).score;
  assert.deepEqual([at(100), at(103.9), at(107), at(114), at(135)], [1, 1, 0.9, 0.7, 0.3]);
  assert.equal(at(200), 0.85);
  assert.equal(at(50), 0.85);
  assert.equal(at(141), 0.3);
});

test('a role that nobody plays yet has all the room; beside the same part there is none', () => {
  const one = phrase(CHART, G);
  assert.equal(fit(one, { pinned: [{ ...one, role: 'bass' }] }).fit, 100);
  const eighths = Float32Array.from({ length: 8 }, () => 0.125000001);
  const same = { ...one, places: eighths };
  const beside = fit(same, { pinned: [same] });
  assert.deepEqual([beside.fit, beside.reasons.map(({ part, score }) => [part, score])], [0, [['room', 0]]]);
  const kit = { ...one, role: 'drums' as const };
  assert.ok(fit(kit, { pinned: [kit, one] }).fit < 20);
});

test('a fit is 0 to 100, moving phrase and project together changes nothing, and nothing asked for is no fit', () => {
  const chart = fc.array(fc.constantFrom('G', 'Em', 'C', 'D7', 'F', 'Bm', 'Am7'), {
    minLength: 1,
    maxLength: 8,
  });
  fc.assert(
    fc.property(chart, chart, fc.integer({ min: 40, max: 220 }), (own, theirs, bpm) => {
      const one = phrase(own.join(' | '), G, { bpm });
      const { fit: value } = fit(one, asked({ chart: parseChart(theirs.join(' | '), 4) }));
      assert.ok(value >= 0 && value <= 100);
      assert.equal(fitOf(one, prepareFit({})), null);
    }),
  );
});
