import assert from 'node:assert/strict';
import { spawnSync } from 'node:child_process';
import { existsSync, mkdtempSync, readdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { after, describe, it } from 'node:test';
import { compCommand, type CompOptions } from '../../../src/cli/comp.ts';
import { Refusal } from '../../../src/cli/output.ts';
import { sweepCommand } from '../../../src/cli/sweep.ts';
import { readTakes } from '../../../src/core/capture/take.ts';
import { runCommand } from '../../support/command.ts';
import { openmsxFiles, withoutOpenmsx } from '../../support/openmsx.ts';

const folder = mkdtempSync(join(tmpdir(), 'basket-cli-comp-'));
after(() => rmSync(folder, { recursive: true }));

const comp = (files: readonly string[], options: Partial<CompOptions> & { chart: string }) =>
  runCommand((out) =>
    compCommand(files, { suggest: 'errors', out: join(folder, 'comp.mid'), ...options }, out),
  );

const CHORDS = ['Dm', 'Gm', 'C7', 'F', 'Bb', 'Gm', 'A7', 'Dm'];
const CHART = CHORDS.join(' | ');
const TUNE: Record<string, string> = { Dm: 'd2f2a2f2', Gm: 'g2b2d2b2', C7: 'c2e2g2e2', F: 'f2a2c2a2', Bb: 'B2d2f2d2', A7: 'A2^c2e2g2', Em: 'e2g2b2g2' }; // prettier-ignore

/** A pass that abcmidi's abc2midi sounds of a chart: the chords, with what one plays instead; its own beat and tempo. */
function abcPass(
  name: string,
  {
    gchord,
    tempo,
    instead = {},
    extra = 0,
  }: { gchord: string; tempo: number; instead?: Record<number, string>; extra?: number },
): string {
  const played = [...CHORDS.map((chord, k) => instead[k] ?? chord), ...Array<string>(extra).fill('Dm')];
  const abc = [
    'X:1',
    `T:${name}`,
    ...[
      'M:4/4',
      'L:1/8',
      `Q:1/4=${tempo}`,
      'K:Dm',
      `%%MIDI gchord ${gchord}`,
      '%%MIDI chordprog 24',
      '%%MIDI bassprog 33',
    ],
    `${played.map((chord) => `"${chord}"${TUNE[chord]}`).join('|')}|`,
  ].join('\n');
  writeFileSync(join(folder, `${name}.abc`), `${abc}\n`);
  spawnSync('abc2midi', [join(folder, `${name}.abc`), '-o', join(folder, `${name}.mid`)]);
  return join(folder, `${name}.mid`);
}

const withoutAbc = existsSync('/usr/bin/abc2midi') ? false : 'abcmidi is not installed';

describe('comp', () => {
  it(
    'of passes that abc2midi sounds: wrong chords are passed over, added bars counted, the promised fields there',
    { skip: withoutAbc },
    () => {
      const files = [
        abcPass('one', { gchord: 'fzczfzcz', tempo: 100, instead: { 4: 'F' } }),
        abcPass('two', { gchord: 'fzczfccz', tempo: 104, instead: { 2: 'Em' } }),
        abcPass('three', { gchord: 'fcccfccc', tempo: 98, instead: { 6: 'Dm' }, extra: 2 }),
      ];
      const { code, answer, problems } = comp(files, { chart: CHART });
      assert.equal(code, 0, problems.join(' '));
      for (const field of ['out', 'passes', 'bars', 'used', 'notUsed']) assert.ok(field in answer, field);
      assert.equal(answer.passes, 3);
      assert.deepEqual([answer.used, answer.notUsed], [8, 18]);
      assert.ok(answer.tally.balanced);
      const from = answer.bars.map((bar: { from: string }) => bar.from);
      assert.notEqual(from[4], files[0], 'bar 5 of the first pass is F, and Bb was asked');
      assert.notEqual(from[2], files[1], 'bar 3 of the second is Em, and C7 was asked');
      assert.notEqual(from[6], files[2], 'bar 7 of the third is Dm, and A7 was asked');
      const [take] = readTakes(new Uint8Array(readFileSync(answer.out)));
      assert.deepEqual(take!.repairs, []);
      assert.ok(answer.bars.every((bar: { why: string }) => bar.why.length > 0));
    },
  );

  it('looks for the most different fills where it is asked to', { skip: withoutAbc }, () => {
    const files = [
      abcPass('plain', { gchord: 'f2c2f2c2', tempo: 100 }),
      abcPass('same', { gchord: 'f2c2f2c2', tempo: 100 }),
      abcPass('busy', { gchord: 'fcccfccc', tempo: 100 }),
    ];
    const { answer } = comp(files, { chart: CHART, suggest: 'fills' });
    assert.equal(answer.bars[3].from, files[2]);
    assert.match(answer.bars[3].why, /least like the others/);
  });

  it(
    'names what cannot be: a chart nobody can read, one pass alone, a way that is none',
    { skip: withoutOpenmsx },
    () => {
      const [file] = openmsxFiles as [string];
      assert.throws(() => comp([file, file], { chart: 'Dm | Hx' }), (error) => error instanceof Refusal && /Hx/.test(error.message)); // prettier-ignore
      assert.throws(() => comp([file], { chart: Array(300).fill('C').join(' | ') }), /two passes/);
      assert.throws(() => comp([file, file], { chart: 'C', suggest: 'luck' }), /errors, fills/);
    },
  );

  it(
    'of a real file against itself: not a bar is wrong in one and right in the other, and the tally balances',
    { skip: withoutOpenmsx },
    () => {
      const [file] = openmsxFiles as [string];
      const { answer, problems } = comp([file, file], { chart: 'C | F | G | C | Am | Dm | G | C' });
      assert.ok(answer.tally.balanced);
      assert.equal(answer.used + answer.notUsed, answer.tally.bars.in);
      // Nobody played this chart: that is said, and bars go by their numbers.
      assert.ok(problems.some((text) => /does not follow the chart/.test(text)), problems.join(' ')); // prettier-ignore
    },
  );
});

describe('sweep', () => {
  const plan = (content: object) => {
    const file = join(folder, 'plan.json');
    writeFileSync(file, JSON.stringify(content));
    return file;
  };

  it('goes through a plan, writes a file a run, and says which are distinct', () => {
    const runs = join(folder, 'runs');
    const file = plan({
      source: 'band',
      chart: 'Dm | A7',
      vary: { style: ['river', 'parade'], seed: [1, 2] },
    });
    const { code, answer } = runCommand((out) => sweepCommand(file, { out: runs }, out));
    assert.equal(code, 0);
    assert.equal(answer.runs.length, 4);
    assert.deepEqual(Object.keys(answer.runs[0]), ['run', 'name', 'settings', 'state', 'sameAs', 'likeness', 'missed', 'file']); // prettier-ignore
    assert.equal(answer.distinct + answer.same + answer.silent + answer.off, 4);
    assert.match(answer.text, /^4 runs, \d distinct/);
    assert.equal(readdirSync(runs).length, 4);
  });

  it('names what a plan cannot be', () => {
    const refused = (content: object) => {
      try {
        runCommand((out) => sweepCommand(plan(content), {}, out));
      } catch (error) {
        return (error as Error).message;
      }
      return 'nothing was refused';
    };
    assert.match(refused({ source: 'band' }), /"vary" is missing/);
    assert.match(refused({ source: 'organ', vary: { seed: [1] } }), /"source" is one of chord-player/);
    assert.match(refused({ source: 'band', vary: { style: ['polka'] } }), /cannot be polka/);
    assert.match(refused({ source: 'drum-player', chart: 'Dm', vary: { seed: [1] } }), /plays no chart/);
    writeFileSync(join(folder, 'broken.json'), '{');
    assert.throws(() => runCommand((out) => sweepCommand(join(folder, 'broken.json'), {}, out)), /no JSON/);
  });
});
