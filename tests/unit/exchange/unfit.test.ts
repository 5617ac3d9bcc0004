import assert from 'node:assert/strict';
import { test } from 'node:test';
import fc from 'fast-check';
import { BLANK_CARD, onCard, type Card } from '../../../src/core/exchange/card.ts';
import { unfitted } from '../../../src/core/exchange/unfit.ts';
import { setResolution } from '../../../src/core/normalize/resolution.ts';
import type { Clip, ClipNote } from '../../../src/core/phrase/clip.ts';
import { barOf } from '../../support/clips.ts';

const strings: Card = { ...BLANK_CARD, roles: { strings: { loud: 0.6, ms: -60 } } };
const kit: Card = { ...BLANK_CARD, drumMap: [[36, 24], [38, 26], [42, 31]], roles: { drums: { loud: 0.9 } } }; // prettier-ignore

const left = (ours: Clip, card: Card) => setResolution(onCard(ours, {}, card).clip, { ppq: 480 }).clip;
const told = ({ notes }: Clip) => notes.map(({ tick, duration, pitch, velocity }) => [tick, duration, pitch, velocity]); // prettier-ignore

const tune = (pitches: readonly number[], role: 'strings' | 'drums'): Clip => ({
  ...barOf(pitches.map((pitch, k) => [480 * (k + 1), 200, pitch] as const), { role, channel: role === 'drums' ? 9 : 0 }), // prettier-ignore
  length: 480 * (pitches.length + 4),
});

test('what comes back as it left is the phrase as it was before it was fitted', () => {
  fc.assert(
    fc.property(
      fc.array(fc.constantFrom(55, 57, 60, 62, 64, 67), { minLength: 1, maxLength: 24 }),
      (pitches) => {
        const ours = tune(pitches, 'strings');
        const there = left(ours, strings);
        assert.deepEqual(told(unfitted(ours, there, there)), told(ours));
      },
    ),
  );
});

test('their edits come over, our fitting does not: a note gone, one added on their kit, one louder', () => {
  const ours = tune([36, 42, 38, 42, 36, 42, 38, 42], 'drums');
  const there = left(ours, kit);
  assert.ok(
    there.notes.every(({ pitch }) => [24, 26, 31].includes(pitch)),
    'it left on their keys',
  );
  const [first, second, ...rest] = there.notes as [ClipNote, ClipNote, ...ClipNote[]];
  const added = { ...first, tick: first.tick + 120, origin: 99 };
  const theirs = { ...there, notes: [first, added, ...rest.slice(0, -1), { ...rest.at(-1)!, velocity: rest.at(-1)!.velocity + 9 }] }; // prettier-ignore
  const back = unfitted(ours, there, theirs);
  assert.equal(back.notes.length, ours.notes.length);
  assert.deepEqual(new Set(back.notes.map(({ pitch }) => pitch)), new Set([36, 38, 42]));
  const [struck, again] = back.notes;
  assert.deepEqual([struck!.tick, again!.tick, again!.pitch], [480, 600, 36]);
  assert.ok(!back.notes.some(({ tick }) => tick === 960), `${second.pitch} is gone`);
  // Their kit is played at 114 where ours has 100: nine more there are eight here.
  assert.equal(back.notes.at(-1)!.velocity, 108);
});

test('property: every note of theirs is there once, whatever they did', () => {
  const note = fc.record({
    ...{ tick: fc.nat(5000), duration: fc.integer({ min: 1, max: 900 }) },
    ...{ pitch: fc.nat(127), velocity: fc.integer({ min: 1, max: 127 }), release: fc.constant(64) },
  });
  fc.assert(
    fc.property(fc.array(note, { maxLength: 30 }), (played) => {
      const ours = tune([55, 60, 62, 67, 60], 'strings');
      const there = left(ours, strings);
      const notes = played.map((one, origin) => ({ ...one, origin })).sort((a, b) => a.tick - b.tick);
      const back = unfitted(ours, there, { ...there, notes });
      assert.equal(back.notes.length, notes.length);
      assert.equal(new Set(back.notes.map(({ origin }) => origin)).size, notes.length);
    }),
  );
});
