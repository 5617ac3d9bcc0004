import assert from 'node:assert/strict';
import { mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { after, test } from 'node:test';
import { parseMidi } from 'midi-file';
import { Refusal } from '../../../src/cli/output.ts';
import { weaveCommand } from '../../../src/cli/weave.ts';
import { midiBytes, trackOf, type NoteSpec } from '../../support/midi.ts';
import { openmsxFiles, withoutOpenmsx } from '../../support/openmsx.ts';

const folder = mkdtempSync(join(tmpdir(), 'basket-cli-weave-'));
after(() => rmSync(folder, { recursive: true }));

const chord: NoteSpec[] = [60, 64, 67].map((pitch) => [0, 1900, pitch]);
writeFileSync(join(folder, 'keys.mid'), midiBytes([trackOf(chord)], 480));

interface Answer {
  bars: number;
  seconds: number;
  files: { part: string; file: string; bars: number }[];
  combined: string;
}

function woven(plan: object): Answer {
  const path = join(folder, 'plan.json');
  writeFileSync(path, JSON.stringify(plan));
  let text = '';
  const code = weaveCommand(
    path,
    { out: join(folder, 'out') },
    { json: true, answer: (line) => (text += line), problem: () => {} },
  );
  assert.equal(code, 0);
  return JSON.parse(text) as Answer;
}

const plan = {
  ...{ title: 'Crossing', bpm: 100, meter: '4/4', key: 'C major', ending: 'ring' },
  sections: ['A', 'A', 'B', 'A'].map((name) => ({
    name,
    bars: 8,
    times: 1,
    changes: name === 'A' ? 'C | F' : '',
  })),
  parts: [{ name: 'Keys', role: 'keys' }],
  cells: [
    { section: 'A', part: 'Keys', file: 'keys.mid' },
    { section: 'B', part: 'Keys', file: 'keys.mid', steps: [{ step: 'octave', by: 1 }] },
  ],
};

test('a plan: A A B A of 8 with an ending of 2 at 100 BPM is 34 bars and 81.6 s; files as promised', () => {
  const answer = woven(plan);
  assert.deepEqual([answer.bars, answer.seconds], [34, 81.6]);
  assert.deepEqual(
    answer.files.map(({ part, bars }) => [part, bars]),
    [['Keys', 34]],
  );
  for (const file of [answer.files[0]!.file, answer.combined]) {
    const { tracks } = parseMidi(readFileSync(file));
    for (const track of tracks)
      assert.equal(
        track.reduce((tick, { deltaTime }) => tick + deltaTime, 0),
        34 * 4 * 960,
      );
  }
});

test('bad plans have their sentences', () => {
  const refused = (change: object, told: RegExp) =>
    assert.throws(
      () => woven({ ...plan, ...change }),
      (error) => error instanceof Refusal && told.test(error.message),
    );
  refused({ sections: [{ name: 'A', bars: 0 }], cells: [plan.cells[0]] }, /"A" has 0 bars/);
  refused({ sections: [] }, /no such section|no sections/);
  refused(
    { sections: [{ name: 'A', bars: 8, changes: 'C | Hx' }], cells: [plan.cells[0]] },
    /"A": Bar 2: "Hx"/,
  );
  refused({ cells: [{ section: 'A', part: 'Horn', file: 'keys.mid' }] }, /no such part/);
  refused({ bpm: 900 }, /bpm/);
  refused({ key: 'H' }, /"H" is not a key/);
  refused({ parts: [{ name: 'Keys', role: 'kazoo' }] }, /role is one of/);
  const broken = join(folder, 'broken.json');
  writeFileSync(broken, '{');
  assert.throws(
    () => weaveCommand(broken, { out: folder }, { json: true, answer: () => {}, problem: () => {} }),
    /no JSON/,
  );
});

test(
  'real files are woven: equally long, whatever their meters and lengths',
  { skip: withoutOpenmsx },
  () => {
    const files = openmsxFiles.slice(0, 3);
    const answer = woven({
      ...plan,
      sections: [{ name: 'A', bars: 6, times: 2, changes: 'C | F | G | C' }],
      parts: files.map((_, k) => ({ name: `Part ${k + 1}`, role: 'keys' })),
      cells: files.map((file, k) => ({ section: 'A', part: `Part ${k + 1}`, file })),
    });
    assert.equal(answer.bars, 14);
    assert.ok(answer.files.every(({ bars }) => bars === 14));
  },
);
