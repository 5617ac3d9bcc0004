import assert from 'node:assert/strict';
import { test } from 'node:test';
import { clashesBetween, type SoundingPart } from '../../../src/core/clash/clashes.ts';
import { clashInWords } from '../../../src/core/clash/words.ts';
import type { Clip } from '../../../src/core/phrase/clip.ts';
import { barOf } from '../../support/clips.ts';

/* What clashes is common practice; the check values are the specification's. */

const part = (name: string, notes: Parameters<typeof barOf>[0], more: Partial<Clip> = {}): SoundingPart => ({
  name,
  clip: barOf(notes, more),
});
const held = (name: string, pitches: readonly number[], more: Partial<Clip> = {}) =>
  part(
    name,
    pitches.map((pitch) => [0, 1900, pitch] as const),
    more,
  );
const kinds = (...parts: SoundingPart[]) => clashesBetween(parts).map(({ kind }) => kind);

test('C major against C# is one clash; a Cmaj7 voicing none; G7b9 none', () => {
  const [clash, ...others] = clashesBetween([held('keys', [60, 64, 67]), held('pad', [73], { role: 'pad' })]);
  assert.deepEqual(others, []);
  assert.equal(clash!.kind, 'semitone');
  assert.equal(clashInWords(clash!, ['keys', 'pad'], null), 'C and Db a semitone apart in keys and pad');
  assert.deepEqual(kinds(held('keys', [60, 64, 67, 71])), []);
  assert.deepEqual(kinds(held('bass', [36], { role: 'bass' }), held('keys', [64, 67, 71, 72])), []);
  assert.deepEqual(kinds(held('keys', [55, 59, 62, 65]), held('lead', [68], { role: 'lead' })), []);
});

test('a minor against a major third of one root weighs most; an eleventh over a major third is one', () => {
  const found = clashesBetween([
    held('keys', [60, 64, 67]),
    held('guitar', [63], { role: 'guitar' }),
    part('lead', [[0, 1000, 77]], { role: 'lead' }),
  ]);
  assert.deepEqual(
    found.map(({ kind }) => kind),
    ['thirds', 'eleventh'],
  );
  assert.ok(found[0]!.weight > found[1]!.weight);
});

test('what passes by is none; a semitone on a weak place weighs less than on the first beat', () => {
  assert.deepEqual(kinds(part('keys', [[0, 480, 60]]), part('lead', [[430, 50, 61]], { role: 'lead' })), []);
  const at = (tick: number) =>
    clashesBetween([held('keys', [60]), part('lead', [[tick, 240, 73]], { role: 'lead' })])[0]!.weight;
  assert.ok(at(0) > at(720));
});

test('a kick 30 ms before the bass is found, 10 ms is not, 100 ms is two strokes', () => {
  const kick = part('kit', [[480, 60, 36]], { role: 'drums' });
  // 480 ticks a quarter at 120 BPM: a millisecond is 0.96 ticks.
  const bass = (ms: number) => part('bass', [[480 + Math.round(ms * 0.96), 400, 36]], { role: 'bass' });
  const found = clashesBetween([kick, bass(30)]);
  assert.deepEqual(
    found.map(({ kind, by }) => [kind, by]),
    [['kick and bass', 30]],
  );
  assert.deepEqual(kinds(kick, bass(10)), []);
  assert.deepEqual(kinds(kick, bass(100)), []);
});

test('close intervals low down, a bass above the chords, two basses, two parts in one register', () => {
  assert.deepEqual(kinds(held('bass', [36], { role: 'bass' }), held('pad', [40, 64, 67], { role: 'pad' })), [
    'low',
  ]);
  assert.deepEqual(kinds(held('bass', [55], { role: 'bass' }), held('keys', [48, 64], {})), ['bass under']);
  const walk = [36, 43, 36, 43].map((pitch, k) => [k * 480, 460, pitch] as const);
  const other = [48, 45, 48, 52].map((pitch, k) => [k * 480, 460, pitch] as const);
  assert.ok(
    kinds(part('bass', walk, { role: 'bass' }), part('low synth', other, { role: 'bass' })).includes(
      'two basses',
    ),
  );
  const strummed = [0, 480, 960, 1440].flatMap((tick) =>
    [60, 64, 67].map((pitch) => [tick, 200, pitch] as const),
  );
  const plucked = [0, 480, 960, 1440].flatMap((tick) => [62, 64].map((pitch) => [tick, 200, pitch] as const));
  assert.deepEqual(kinds(part('keys', strummed), part('guitar', plucked, { role: 'guitar' })), ['register']);
});

test('a unison of a layer with its own part is none', () => {
  const tune = [60, 62, 64, 65].map((pitch, k) => [k * 480, 400, pitch] as const);
  const layer = tune.map(([tick, long, pitch]) => [tick + 20, long, pitch + 12] as const);
  assert.deepEqual(kinds(part('lead', tune, { role: 'lead' }), part('layer', layer, { role: 'lead' })), []);
});

test('swing four points apart on one grid, and one change of chord a beat apart', () => {
  const straight = { ...held('keys', [60, 64, 67]), swing: 0.5 };
  const swung = { ...held('guitar', [72, 79], { role: 'guitar' }), swing: 0.58 };
  assert.deepEqual(
    clashesBetween([straight, swung]).map(({ kind, by }) => [kind, by]),
    [['swing', 8]],
  );
  assert.deepEqual(kinds(straight, { ...swung, swing: 0.53 }), []);
  const changing = (name: string, at: number, role: 'keys' | 'pad') =>
    part(
      name,
      [
        ...[60, 64, 67].map((pitch) => [0, at, pitch] as const),
        ...[60, 65, 69].map((pitch) => [at, 1920 - at, pitch] as const),
      ],
      { role },
    );
  const found = clashesBetween([changing('keys', 960, 'keys'), changing('pad', 1440, 'pad')]);
  assert.ok(found.some(({ kind, by }) => kind === 'change' && by === 1));
});

/** Common practice: one drum struck by both is told, a millisecond more or less is not heard as two. */
test('one drum struck by two parts on one beat is told; another drum, or 60 ms later, is not', () => {
  const kit = part('kit', [[0, 10, 36], [480, 10, 38], [960, 10, 42]], { role: 'drums' }); // prettier-ignore
  const hand = part('hand', [[10, 10, 36], [480, 10, 39], [1020, 10, 42]], { role: 'percussion' }); // prettier-ignore
  assert.deepEqual(kinds(kit, hand), ['hit']);
});

test('parts are compared from bar one, whatever their ticks, and whether they have a pickup', () => {
  const own = part('keys', [[0, 480, 60]]);
  const other = part('lead', [[1920 * 2, 960, 61]], {
    role: 'lead',
    pickup: 1920 * 2,
    length: 1920 * 4,
    timeline: { ...own.clip.timeline, ppq: 960 },
  });
  const [clash] = clashesBetween([own, other]);
  assert.deepEqual([clash!.kind, clash!.beat, clash!.notes], ['semitone', 0, [[0], [0]]]);
});
