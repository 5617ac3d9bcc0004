import assert from 'node:assert/strict';
import { test } from 'node:test';
import { appendMessage, createLog, STREAM, type Stream } from '../../../src/core/capture/message-log.ts';
import { alikeBefore } from '../../../src/views/shared/takes/alike-before.ts';
import {
  changedSettings,
  knownOf,
  knownSettings,
  NOTHING_KNOWN,
} from '../../../src/views/shared/takes/known.ts';
import { namedFiles } from '../../../src/views/capture/named-files.ts';
import { causesOf } from '../../../src/views/live/causes-of.ts';
import { createRoll, readMore } from '../../../src/views/live/roll-notes.ts';

test('files keep their folders as names; of folders, what cannot hold MIDI is left out and counted', () => {
  const file = (path: string, name = path.split('/').at(-1)!) => Object.assign(new File([], name), { path });
  const { named, leftOut } = namedFiles([
    file('./Quay/noon.mid'),
    file('/Quay/cover.png'),
    file('./letter.txt'),
    file('Quay/pack.ZIP'),
  ]);
  assert.deepEqual(
    named.map(({ name }) => name),
    ['Quay/noon.mid', 'letter.txt', 'Quay/pack.ZIP'],
  );
  assert.equal(leftOut, 1);
});

test('only what was filled in is said of takes', () => {
  assert.deepEqual(knownSettings(NOTHING_KNOWN), {});
  assert.deepEqual(
    knownSettings({
      ...NOTHING_KNOWN,
      source: ' Quay box ',
      bars: '8',
      bpm: '7',
      key: 'D minor',
      chart: ' ',
    }),
    { source: 'Quay box', asked: { bars: 8, key: { tonic: 2, mode: 'minor' } } },
  );
});

test('editing opens with what is known of the takes, as far as it is the same of all', () => {
  const take = { source: 'Quay box', contributor: null, rights: 'lent', asked: { bars: 8, bpm: 96 } };
  assert.deepEqual(knownOf([take]), {
    ...NOTHING_KNOWN,
    source: 'Quay box',
    rights: 'lent',
    bars: '8',
    bpm: '96',
  });
  const both = knownOf([take, { ...take, rights: 'own work', asked: { bars: 8 } }]);
  assert.deepEqual([both.source, both.rights, both.bars, both.bpm], ['Quay box', '', '8', '']);
  assert.deepEqual(knownOf([]), NOTHING_KNOWN);
});

test('what was left alone is left as it is; what was emptied is emptied', () => {
  const before = { ...NOTHING_KNOWN, source: 'Quay box', rights: 'lent', bars: '8', key: 'D minor' };
  assert.deepEqual(changedSettings(before, before), {});
  assert.deepEqual(changedSettings(before, { ...before, rights: ' ' }), { rights: '' });
  assert.deepEqual(changedSettings(before, { ...before, bars: '', key: '' }), {
    asked: { bars: null, key: null },
  });
  assert.deepEqual(changedSettings(before, { ...before, bpm: '96', contributor: ' The copyist ' }), {
    contributor: 'The copyist',
    asked: { bpm: 96 },
  });
  // Spaces around it are no change.
  assert.deepEqual(changedSettings(before, { ...before, source: ' Quay box' }), {});
});

test('taking a change back asks for what was there before, takes that were alike together', () => {
  const before = (id: string, source: string | null) => ({
    id,
    source,
    contributor: null,
    rights: 'own work',
    asked: {},
    aside: false,
  });
  assert.deepEqual(
    alikeBefore([before('a', 'Band'), before('b', null), before('c', 'Band')], {
      source: 'Tape',
      aside: true,
    }),
    [
      { ids: ['a', 'c'], change: { source: 'Band', aside: false } },
      { ids: ['b'], change: { source: '', aside: false } },
    ],
  );
});

const messages = (list: [ms: number, bytes: number[], stream?: Stream, source?: number][]) => {
  const log = createLog();
  for (const [ms, bytes, stream = STREAM.played, source = 0] of list)
    appendMessage(log, { ms, bytes }, source, stream);
  return log;
};

test('the roll reads what has come since the last time: notes, their ends, keys apart, marks', () => {
  const log = messages([
    [0, [0x90, 60, 90]],
    [0, [0x90, 62, 90], STREAM.input],
    [100, [0x80, 60, 64]],
    [150, [0], STREAM.mark],
  ]);
  const roll = createRoll();
  readMore(roll, log);
  assert.deepEqual(
    roll.lanes.map(({ input, tick, duration, pitch }) => ({ input, tick, duration, pitch })),
    [
      { input: true, tick: [0], duration: [Infinity], pitch: [62] },
      { input: false, tick: [0], duration: [100], pitch: [60] },
    ],
  );
  assert.deepEqual(roll.marks, [150]);
  readMore(roll, messages([[200, [0x90, 62, 0], STREAM.input]]));
  assert.equal(roll.lanes[0]!.duration[0], 200);
});

test('a pitch that begins twice before it ends is two notes, the first ended first', () => {
  const roll = createRoll();
  readMore(
    roll,
    messages([
      [0, [0x90, 60, 90]],
      [4, [0x90, 60, 90]],
      [100, [0x80, 60, 0]],
      [104, [0x80, 60, 0]],
    ]),
  );
  assert.deepEqual(roll.lanes[0]!.duration, [100, 100]);
});

test('the causes of silence come in order, each ruled out, found or left open', () => {
  const source = { id: 'x', name: 'Pads', kind: 'device' as const, armed: false, lost: false };
  const none = causesOf({ sources: [source], access: 'unasked', messages: 0, notes: false, plays: false });
  assert.deepEqual(
    none.slice(0, 2).map(({ ruledOut }) => ruledOut),
    [false, false],
  );
  const clockOnly = causesOf({
    sources: [{ ...source, armed: true }],
    access: 'ready',
    messages: 96,
    notes: false,
    plays: false,
  });
  assert.equal(clockOnly.find(({ title }) => title.includes('not only a clock'))!.ruledOut, false);
  const pulled = causesOf({
    sources: [{ ...source, armed: true, lost: true }],
    access: 'ready',
    messages: 0,
    notes: false,
    plays: false,
  });
  assert.equal(pulled.find(({ title }) => title.includes('connected'))!.ruledOut, false);
});
