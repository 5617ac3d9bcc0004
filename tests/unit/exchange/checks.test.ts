import assert from 'node:assert/strict';
import { test } from 'node:test';
import { checksOf, CHECKS, type Check, type Leaving } from '../../../src/core/exchange/checks.ts';
import { clipToMidi } from '../../../src/core/exchange/midi-out.ts';
import { writeMidiFile } from '../../../src/core/midi/write.ts';
import { parseKey } from '../../../src/core/music/key.ts';
import { steadyTimeline } from '../../../src/core/music/timeline.ts';
import type { Clip } from '../../../src/core/phrase/clip.ts';
import { barOf } from '../../support/clips.ts';

const keys: Clip = {
  ...barOf([[0, 900, 60], [960, 900, 64]], { role: 'keys' }), // prettier-ignore
  key: parseKey('C')!,
};

function leaving(change: Partial<Leaving> = {}, plain = false): Leaving {
  const clip = change.clip ?? keys;
  return {
    ...{ id: 'one', name: 'Barrow', file: 'Barrow.mid', rights: 'own work', sheaf: null },
    ...{ capturedKey: parseKey('C')!, bytes: writeMidiFile(clipToMidi(clip, 'Barrow', { plain })) },
    ...change,
    clip,
  };
}

const only = (checks: readonly Check[]) =>
  checks.filter(({ state }) => state !== 'pass').map(({ check, state }) => `${check} ${state}`);

test('what is well passes every check, each told once', () => {
  const checks = checksOf([leaving()]);
  assert.deepEqual(only(checks), []);
  assert.deepEqual(
    checks.map(({ check }) => check),
    CHECKS.filter((check) => !['plain', 'previews', 'range'].includes(check)),
  );
});

test('each kind of check finds what it is for, names it, and what stops comes first', () => {
  const pedal = { tick: 100, kind: 0xb0, data1: 64, data2: 127 } as const;
  const cases: [Partial<Leaving>, string][] = [
    [{ clip: { ...keys, notes: [] } }, 'notes stop'],
    [{ bytes: writeMidiFile(clipToMidi({ ...keys, notes: keys.notes.slice(1) }, 'x')) }, 'reads back stop'],
    [{ clip: { ...keys, length: 1500 } }, 'bars warn'],
    [
      { clip: { ...keys, notes: [keys.notes[0]!, { ...keys.notes[0]!, tick: 480, origin: 9 }] } },
      'doubled warn',
    ],
    [{ clip: { ...keys, controls: [pedal] } }, 'ends settled warn'],
    [{ capturedKey: parseKey('Em')! }, 'key warn'],
    [{ rights: 'not to leave' }, 'rights stop'],
    [{ rights: "from somebody's song" }, 'rights warn'],
    [{ rights: '' }, 'rights warn'],
    [{ file: `${'x'.repeat(130)}.mid` }, 'names stop'],
    [{ peak: 0 }, 'previews warn'],
    [
      { clip: { ...barOf([[0, 100, 36]], { role: 'drums' }), channel: 3, key: null }, capturedKey: null },
      'channels warn',
    ],
  ];
  for (const [change, expected] of cases) {
    const checks = checksOf([leaving(change)]);
    assert.deepEqual(only(checks), [expected]);
    assert.equal(checks[0]!.id, 'one');
    assert.match(checks[0]!.text, /Barrow|x{20}/);
  }
  const stops = checksOf([
    leaving({ rights: '' }),
    leaving({ id: 'two', file: 'two.mid', rights: 'not to leave' }),
  ]);
  assert.equal(stops[0]!.state, 'stop');
});

test('what is about several: names that differ only by case, tempos, parts of a sheaf of other lengths', () => {
  const twins = checksOf([leaving(), leaving({ file: 'BARROW.mid' })]);
  assert.deepEqual(only(twins), ['names stop']);
  const fast = { ...keys, timeline: steadyTimeline(480, 140) };
  assert.deepEqual(only(checksOf([leaving(), leaving({ clip: fast, file: 'b.mid' })])), ['tempos warn']);
  const sheaf = { id: 's', name: 'Crossing' };
  const long = { ...keys, length: 2 * keys.length };
  const unequal = checksOf([leaving({ sheaf }), leaving({ sheaf, clip: long, file: 'b.mid' })]);
  assert.deepEqual(only(unequal), ['sheaf warn']);
  assert.match(unequal[0]!.text, /Crossing/);
});

test('a plain pack stops what still chooses a sound', () => {
  assert.deepEqual(only(checksOf([leaving({}, true)], { plain: true })), []);
  assert.deepEqual(only(checksOf([leaving({}, false)], { plain: true })), ['plain stop']);
});
