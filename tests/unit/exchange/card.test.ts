import assert from 'node:assert/strict';
import { test } from 'node:test';
import fc from 'fast-check';
import { BLANK_CARD, onCard, outsideOf, readCard, type Card } from '../../../src/core/exchange/card.ts';
import { DEFAULT_VOLUME, volumeDown, volumeInDb } from '../../../src/core/midi/volume.ts';
import type { Clip } from '../../../src/core/phrase/clip.ts';
import { barOf, clipArbitrary } from '../../support/clips.ts';

const card = (more: Partial<Card>): Card => ({ ...BLANK_CARD, ...more });

const kit = barOf([[0, 100, 36], [240, 100, 42], [480, 100, 38], [960, 100, 49]], { role: 'drums', channel: 9, key: null }); // prettier-ignore
const strings = barOf([[960, 900, 60], [1920, 900, 64]], { role: 'strings' }); // prettier-ignore

const pitchesOf = ({ notes }: Clip) => notes.map(({ pitch }) => pitch);

test('every part 5 dB down for headroom: MIDI volume 100 becomes 75 (General MIDI volume curve, 40 log10(v / 127))', () => {
  assert.equal(volumeDown(DEFAULT_VOLUME, 5), 75);
  // Handbook values of the same curve: half the number is 12 dB, the loudest is 0 dB.
  assert.equal(volumeInDb(127), 0);
  assert.ok(Math.abs(volumeInDb(127 / 2) + 12.04) < 0.01);
  const { clip } = onCard(strings, {}, card({ headroomDb: 5 }));
  assert.deepEqual(clip.controls[0], { tick: 0, kind: 0xb0, data1: 7, data2: 75 });
});

test('a volume that is in the phrase goes down with the others, wherever it changes', () => {
  const swelling = { ...strings, controls: [{ tick: 0, kind: 0xb0, data1: 7, data2: 80 }, { tick: 900, kind: 0xb0, data1: 7, data2: 100 }] }; // prettier-ignore
  const { clip } = onCard(swelling, {}, card({ headroomDb: 5 }));
  assert.deepEqual(
    clip.controls.map(({ data2 }) => data2),
    [60, 75],
  );
});

test('drums at 90 % without the crash, on the keys of another kit (common practice)', () => {
  const { clip, changes } = onCard(
    kit,
    {},
    card({ drumMap: [[36, 24], [49, 33]], roles: { drums: { loud: 0.9 } } }), // prettier-ignore
  );
  assert.deepEqual(pitchesOf(clip), [24, 42, 38, 33]);
  // 90 % of 127 is 114. The crash is none any more on its new key, and must still stay as it was played.
  assert.deepEqual(
    clip.notes.map(({ velocity }) => velocity),
    [114, 114, 114, 100],
  );
  assert.equal(changes[0]!.what, 'map', 'what is most unusual stands on top');
});

test('slow strings 100 ms early in the place of their own fitting; what the card leaves open stays theirs', () => {
  const own = { shift: { ms: -30 }, velocity: { loud: 0.5 } };
  const { clip, changes } = onCard(strings, own, card({ roles: { strings: { ms: -100 } } }));
  // 100 ms at 120 BPM and 480 ticks a quarter are 96 ticks.
  assert.deepEqual(
    clip.notes.map(({ tick }) => tick),
    [960 - 96, 1920 - 96],
  );
  assert.deepEqual(
    clip.notes.map(({ velocity }) => velocity),
    [64, 64],
  );
  assert.deepEqual(
    changes.map(({ text }) => text),
    ['100 ms earlier', 'loud notes at 50 %'],
  );
});

test('a bend of a whole tone for sounds that bend an octave is a sixth of its range', () => {
  const bent = { ...strings, controls: [{ tick: 0, kind: 0xe0, data1: 127, data2: 127 }] };
  const { clip } = onCard(bent, {}, card({ bendRange: 12 }));
  const { data1, data2 } = clip.controls[0]!;
  assert.equal(data1 + data2 * 128, 8192 + Math.round((8191 * 2) / 12));
});

test('without a pedal notes are held as long as it held them', () => {
  const pedal = (tick: number, data2: number) => ({ tick, kind: 0xb0, data1: 64, data2 });
  const held = { ...strings, controls: [pedal(960, 127), pedal(3000, 0)] };
  const { clip } = onCard(held, {}, card({ pedal: false }));
  assert.deepEqual(clip.controls, []);
  assert.deepEqual(
    clip.notes.map(({ tick, duration }) => tick + duration),
    [3000, 3000],
  );
});

test('notes that their sound does not have are told, and left where they are', () => {
  const violas = card({ roles: { strings: { low: 62, high: 90 } } });
  const { clip, changes } = onCard(strings, {}, violas);
  assert.deepEqual(pitchesOf(clip), [60, 64]);
  assert.equal(outsideOf(clip, violas), 1);
  assert.equal(changes[0]!.text, '1 note outside of their strings');
});

test('a blank card changes nothing; no card makes a note vanish or sound before bar one', () => {
  fc.assert(
    fc.property(
      clipArbitrary,
      fc.record(
        {
          ms: fc.integer({ min: -300, max: 300 }),
          octave: fc.integer({ min: -2, max: 2 }),
          length: fc.double({ min: 0.2, max: 3, noNaN: true }),
          loud: fc.double({ min: 0.1, max: 1, noNaN: true }),
        },
        { requiredKeys: [], noNullPrototype: true },
      ),
      (clip, role) => {
        assert.deepEqual(onCard(clip, {}, BLANK_CARD).clip, clip);
        const on = onCard(clip, {}, card({ roles: { [clip.role]: role } })).clip;
        assert.equal(on.notes.length, clip.notes.length);
        assert.ok(on.notes.every(({ tick, velocity }) => tick >= 0 && velocity > 0 && velocity < 128));
      },
    ),
  );
});

test('a card file says what it says, the rest is blank; nonsense is refused with a sentence', () => {
  assert.deepEqual(readCard({ pedal: false }), { ...BLANK_CARD, pedal: false });
  for (const [wrong, sentence] of [
    [{ roles: { drums: { loud: 7 } } }, /at most 100 %/],
    [{ roles: { strings: { low: 80, high: 40 } } }, /below its highest/],
    [
      {
        drumMap: [
          [36, 24],
          [36, 25],
        ],
      },
      /one key/,
    ],
    [{ ppq: 100 }, /resolution is one of/],
    [{ colour: 'red' }, /unspecified keys|unknown/i],
  ] as const)
    // prettier-ignore
    assert.throws(() => readCard(wrong), sentence);
});
