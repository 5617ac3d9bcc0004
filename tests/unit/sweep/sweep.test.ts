import assert from 'node:assert/strict';
import { describe, it } from 'node:test';
import fc from 'fast-check';
import { harmonyOf } from '../../../src/core/analyze/analysis.ts';
import { takeFrom } from '../../../src/core/capture/take.ts';
import { splitTake } from '../../../src/core/split/split.ts';
import { performanceFile, type Performance } from '../../../src/core/standins/performance.ts';
import { playRun } from '../../../src/core/sweep/play.ts';
import { problemOfPlan, runName, runsOf, secondsOfPlan, tagsOfRun, type SweepPlan } from '../../../src/core/sweep/plan.ts'; // prettier-ignore
import { runHeard, sheetOf, sheetWords } from '../../../src/core/sweep/sheet.ts';

const PLAN: SweepPlan = {
  name: 'What the band makes of it',
  source: { kind: 'stand-in', id: 'band' },
  trigger: { kind: 'chart', chart: 'Dm | Bb | Gm | A7' },
  ...{ bpm: 100, bars: 4, settings: { choruses: 1 }, waits: false },
  vary: [
    { name: 'style', values: ['river', 'market', 'parade'] },
    { name: 'seed', values: [1, 2] },
  ],
};

function heardOf(plan: SweepPlan, performances: readonly Performance[]) {
  const chart = plan.trigger.kind === 'chart' ? plan.trigger.chart : null;
  return performances.map((one, position) => {
    const take = takeFrom(performanceFile(one));
    const split = splitTake(take);
    const { chords, keys } = harmonyOf(take, split);
    return runHeard(position, { take, split, chords, key: keys[0] ?? null }, chart);
  });
}

describe('the plan of a sweep', () => {
  it('has a run for every value of every field with every value of the others, the first the slowest', () => {
    assert.deepEqual(
      runsOf(PLAN).map((run) => runName(PLAN, run)),
      [
        'river, seed 1',
        'river, seed 2',
        'market, seed 1',
        'market, seed 2',
        'parade, seed 1',
        'parade, seed 2',
      ],
    );
  });

  it('has as many runs as the product of its values, and no two alike', () => {
    const axis = (name: string) => fc.uniqueArray(fc.nat(50), { minLength: 1, maxLength: 5 }).map((values) => ({ name, values })); // prettier-ignore
    fc.assert(
      fc.property(axis('a'), axis('b'), axis('c'), (...vary) => {
        const runs = runsOf({ vary });
        assert.equal(runs.length, vary.reduce((product, { values }) => product * values.length, 1)); // prettier-ignore
        assert.equal(new Set(runs.map((run) => JSON.stringify(run))).size, runs.length);
      }),
    );
  });

  it('says of a device how long it takes: count-in, bars, one to ring and a second', () => {
    const device: SweepPlan = {
      ...PLAN,
      source: { kind: 'device', name: 'Keys' },
      settings: {},
      vary: [{ name: 'program', values: [1, 2, 3] }],
      ...{ bpm: 120, bars: 8 },
    };
    // (1 + 8 + 1) bars of 2 s and a second, three times.
    assert.equal(secondsOfPlan(device), 63);
    assert.equal(problemOfPlan(device), null);
  });

  it('says what is wrong with it', () => {
    const problem = (change: Partial<SweepPlan>) => problemOfPlan({ ...PLAN, ...change });
    assert.match(problem({ vary: [] })!, /Nothing is gone through/);
    assert.match(problem({ vary: [{ name: 'style', values: ['polka'] }] })!, /cannot be polka: river/);
    assert.match(problem({ vary: [{ name: 'mood', values: ['sad'] }] })!, /no field of this source/);
    assert.match(problem({ vary: [{ name: 'seed', values: Array.from({ length: 501 }, (_, k) => k + 1) }] })!, /501 runs/); // prettier-ignore
    assert.match(problem({ trigger: { kind: 'chart', chart: ' ' } })!, /chart is empty/);
  });

  it('gives a run its settings as tags', () => {
    assert.deepEqual(tagsOfRun(PLAN, { style: 'river', seed: 2 }), ['river', 'seed 2']);
  });
});

describe('a run', () => {
  it('plays the chart that is asked, at its tempo, the same every time', () => {
    const run = { style: 'river', seed: 3 };
    const played = playRun(PLAN, run);
    assert.equal(played.bars, 4);
    assert.equal(played.bpm, 100);
    assert.deepEqual(playRun(PLAN, run), played);
  });

  it('holds a chart down where its source answers keys', () => {
    const plan: SweepPlan = {
      ...PLAN,
      source: { kind: 'stand-in', id: 'chord-player' },
      settings: { key: 'Dm' },
      vary: [{ name: 'rhythm', values: ['held'] }],
    };
    const { input, parts } = playRun(plan, { rhythm: 'held' });
    assert.deepEqual(new Set(input!.notes.filter(({ tick }) => tick === 0).map(({ pitch }) => pitch % 12)), new Set([2, 5, 9])); // prettier-ignore
    assert.ok(parts[0]!.notes.length > 0);
  });

  it('holds a phrase down, and says where a source answers no keys', () => {
    const plan: SweepPlan = { ...PLAN, trigger: { kind: 'phrase', id: 'x', name: 'x' }, settings: {} };
    const held = [{ tick: 0, end: 1920, pitch: 57, velocity: 90 }];
    const arpeggiator = { ...plan, source: { kind: 'stand-in', id: 'arpeggiator' } } as const;
    assert.ok(playRun(arpeggiator, {}, held).parts[0]!.notes.every(({ pitch }) => pitch % 12 === 9));
    assert.throws(() => playRun(plan, {}, held), /Band answers no keys/);
  });
});

describe('the sheet of a sweep', () => {
  it('keeps what is distinct, and names what is an earlier run again, silent or off the chart', () => {
    const [one, two] = [
      playRun(PLAN, { style: 'river', seed: 1 }),
      playRun(PLAN, { style: 'market', seed: 1 }),
    ];
    const elsewhere = playRun({ ...PLAN, trigger: { kind: 'chart', chart: 'F#m | B | Ebm | C#' } }, { style: 'river', seed: 1 }); // prettier-ignore
    const silent = { ...one, parts: [] };
    const findings = sheetOf(heardOf(PLAN, [one, two, one, silent, elsewhere]));
    assert.deepEqual(findings.map(({ verdict }) => verdict), ['distinct', 'distinct', 'same', 'silent', 'off the chart']); // prettier-ignore
    assert.equal(findings[2]!.sameAs, 0);
    assert.equal(
      sheetWords(findings),
      '5 runs, 2 distinct, 1 the same as another, 1 silent, 1 off the chart',
    );
  });

  it('takes two hands of one pattern for the same, and another groove for another', () => {
    const plan: SweepPlan = { ...PLAN, source: { kind: 'stand-in', id: 'step-grid' }, trigger: { kind: 'own' }, settings: { looseness: 12 } }; // prettier-ignore
    const hands = [1, 2, 3].map((seed) => playRun(plan, { seed }));
    const other = playRun(plan, { seed: 1, kick: 'X.....X...X.....' });
    assert.deepEqual(sheetOf(heardOf(plan, [...hands, other])).map(({ verdict }) => verdict), ['distinct', 'same', 'same', 'distinct']); // prettier-ignore
  });
});
