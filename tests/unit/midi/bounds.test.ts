import assert from 'node:assert/strict';
import { test } from 'node:test';
import { readTakes, type Take } from '../../../src/core/capture/take.ts';
import { takeFacts } from '../../../src/core/capture/facts.ts';
import { takeAccount } from '../../../src/core/analyze/account.ts';
import { META, metaEvent } from '../../../src/core/midi/smf.ts';
import { LAST_TICK, readMidiFile } from '../../../src/core/midi/read.ts';
import { decodeText, encodeText, LONGEST_TEXT } from '../../../src/core/midi/text.ts';
import { writeMidiFile } from '../../../src/core/midi/write.ts';
import { playingParts, splitTake } from '../../../src/core/split/split.ts';
import fc from 'fast-check';
import { HOSTILE } from '../../support/hostile.ts';
import { fileOf, trackOf } from '../../support/midi.ts';

/** What is read is bounded: files made to hurt are read whole, told what was cut, and lose no note. */

const family = (name: string) => HOSTILE.find((one) => one.name === name)!;
const read = (name: string, size: 0 | 1 | 2): Take[] => {
  const { bytes, sizes } = family(name);
  return readTakes(bytes(sizes[size]));
};

for (const { name, sizes, bytes } of HOSTILE)
  test(`${name}: the smallest is read, split and accounted for, every note in a part`, () => {
    for (const take of readTakes(bytes(sizes[0])).slice(0, 3)) {
      const split = splitTake(take);
      const owned = playingParts(split).reduce((sum, { notes }) => sum + notes.length, 0);
      assert.equal(owned, take.notes.length);
      assert.equal(takeAccount(take, split, {}).notes, take.notes.length);
      assert.ok(take.timing.ticks <= LAST_TICK);
    }
  });

test('no note is later than a length of 28 bits reaches: what leaves can be written (RP-001, variable-length quantity)', () => {
  for (const name of ['far note, 1 tick a quarter', 'far note, 24 ticks a quarter']) {
    const [take] = read(name, 2);
    assert.ok(take!.notes.tick.every((tick) => tick <= LAST_TICK));
    assert.ok(
      take!.repairs.some(({ code }) => code === 'time-overflow'),
      'it is told',
    );
    assert.ok(writeMidiFile(take!.file).length > 0);
  }
});

test('changes beyond what music has are left out, and told; those within are all there', () => {
  for (const [name, what] of [
    ['meters', 'meters'],
    ['tempos', 'tempos'],
    ['markers', 'markers'],
  ] as const) {
    const within = read(name, 0)[0]!;
    assert.equal(within.timing[what].length, 5_000);
    assert.ok(!within.repairs.some(({ code }) => code === 'too-many-changes'));
    const beyond = read(name, 2)[0]!;
    assert.equal(beyond.timing[what].length, 50_000);
    assert.match(
      beyond.repairs.find(({ code }) => code === 'too-many-changes')!.message,
      new RegExp(`Of 500,000 ${what} the first 50,000 were read`),
    );
  }
});

test('more tracks than parts: what is beyond is one part, and no note is lost', () => {
  const [take] = read('tracks', 1);
  const split = splitTake(take!);
  const playing = playingParts(split);
  assert.equal(playing.length, 256);
  assert.equal(
    playing.reduce((sum, { notes }) => sum + notes.length, 0),
    5_000,
  );
});

test('a name of millions of characters is shown cut and told; its bytes are kept', () => {
  const { bytes, sizes } = family('a long name');
  const given = bytes(sizes[1]);
  const [take] = readTakes(given);
  const facts = takeFacts(take!);
  assert.ok(JSON.stringify(facts).length < 10_000);
  assert.ok(
    take!.repairs.some(({ code, message }) => code === 'text-long' && /1,500,000 bytes/.test(message)),
  );
  assert.deepEqual(writeMidiFile(readMidiFile(given).file), given);
});

test('a text is cut at a whole character, whatever it is written in', () => {
  fc.assert(
    fc.property(fc.string({ unit: 'grapheme', minLength: 150, maxLength: 600 }), (text) => {
      const shown = decodeText(encodeText(text));
      assert.ok(shown.length <= LONGEST_TEXT);
      assert.ok(!shown.includes('\ufffd') || text.includes('\ufffd'), 'no half of a character');
      if (shown.endsWith('…') && !text.includes('…')) {
        const plain = shown.slice(0, -1);
        assert.ok(
          text
            .replace(/[\u0000-\u001f\u007f-\u009f\ufeff]+/g, ' ')
            .trim()
            .startsWith(plain),
        );
      }
    }),
    { numRuns: 300 },
  );
});

test('a text of names is not touched', () => {
  const names = ['Bass', 'Flügel, links', 'ベース', 'Łódź 96bpm', 'x'.repeat(LONGEST_TEXT)];
  for (const name of names) {
    const file = fileOf([[metaEvent(0, META.trackName, encodeText(name)), ...trackOf([[0, 480, 60]])]]);
    const { repairs } = readMidiFile(writeMidiFile(file));
    assert.deepEqual(repairs, []);
    assert.equal(decodeText(encodeText(name)), name);
  }
});

test('thousands of notes on one pitch that lie over each other are paired first in, first out', () => {
  const [take] = read('notes over each other on one pitch', 0);
  assert.equal(take!.notes.length, 2_500);
  // Onsets 2 ticks apart, ends 2 ticks apart: first in, first out gives all one length.
  assert.deepEqual([...new Set(take!.notes.duration)], [2 * 2_500]);
});
