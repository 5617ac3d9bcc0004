import assert from 'node:assert/strict';
import { test } from 'node:test';
import fc from 'fast-check';
import { understood } from '../../../src/core/catalog/understood.ts';
import { keyName } from '../../../src/core/music/key.ts';

const marks = (text: string) =>
  understood(text).marks.map(({ mark }) =>
    mark.kind === 'key' ? keyName(mark.key) : Object.values(mark).join(' '),
  );

test('keys, tempos, meters, lengths, swing and numerals are understood as musicians write them', () => {
  assert.deepEqual(marks('Em'), ['E minor']);
  assert.deepEqual(marks('F#m Bb'), ['F# minor', 'Bb major']);
  assert.deepEqual(marks('d dorian'), ['D dorian']);
  assert.deepEqual(marks('90-110'), ['tempo 90 110']);
  assert.deepEqual(marks('96 bpm'), ['tempo 95.5 96.5']);
  assert.deepEqual(marks('3/4 8 bars Swing'), ['meter 3/4', 'bars 8', 'swing']);
  assert.deepEqual(marks('I vi IV V'), ['changes I vi IV V']);
  assert.deepEqual(marks('ii V7 Imaj7'), ['changes ii V7 Imaj7']);
});

test('what is a word in a name stays a word', () => {
  for (const text of ['A night', 'I walk', 'take 5', 'em', '"Em"', '12', '1984', '5/7', 'bars'])
    assert.deepEqual(marks(text), [], text);
  assert.deepEqual(understood('river "Em" Low').words, ['river', 'em', 'low']);
});

test('every word of a search is understood or looked for, and none is lost', () => {
  const word = fc.constantFrom(
    'Em',
    '96',
    '90-110',
    '3/4',
    '8',
    'bars',
    'swing',
    'I',
    'V7',
    'river',
    'low',
    'x',
  );
  fc.assert(
    fc.property(fc.array(word, { maxLength: 8 }), (words) => {
      const { marks: found, words: others } = understood(words.join(' '));
      const said = [...found.flatMap((mark) => mark.words.split(' ')), ...others];
      assert.deepEqual(
        said.map((one) => one.toLowerCase()).sort(),
        words.map((one) => one.toLowerCase()).sort(),
      );
    }),
  );
});
