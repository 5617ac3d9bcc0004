import assert from 'node:assert/strict';
import { test } from 'node:test';
import { keyName, parseKey } from '../../../src/core/music/key.ts';
import { barsOf } from '../../../src/core/phrase/clip.ts';
import type { Role } from '../../../src/core/split/roles.ts';
import { changesInKey } from '../../../src/core/reuse/child.ts';
import { readOrWhy, type Changes } from '../../../src/core/through/sounding.ts';
import type { PhraseWire } from '../../../src/views/api/queries.ts';
import {
  areTogether,
  isRead,
  partEdit,
  stepsFor,
  takenThrough,
  targetKey,
  titleOf,
  withPart,
  type ThroughEdit,
} from '../../../src/views/reuse/through/through-edit.ts';
import { playedPhrase } from '../../support/played-phrases.ts';

const C = parseKey('C')!;
const OWN = 'C | Am | F | G';

/** A phrase of four bars over its own changes, as the page has it. */
function phraseOf(role: Role, id: string, more: Partial<PhraseWire> = {}): PhraseWire {
  const clip = playedPhrase(role, OWN, C, 5);
  const changes = changesInKey(readOrWhy(OWN, 4) as Changes, C);
  return {
    ...{ id, name: id, role, clip, changes, takeKey: C, meterNumerator: 4, startBar: 1, bars: barsOf(clip) },
    ...{ sheafId: null, sheafName: null, recipe: { version: 1, steps: [] } },
    ...more,
  } as unknown as PhraseWire;
}

const edit: ThroughEdit = { from: null, to: 'F | Dm | Bb | C', key: '', parts: {} };

test('the key of the target is the one that is said, else the one its chords are in; its own as long as half of them are its own', () => {
  const key = (chords: string, said = '') => {
    const to = readOrWhy(chords, 4);
    assert.ok(isRead(to));
    return keyName(targetKey({ key: said }, to, C));
  };
  assert.equal(key('Eb | Cm | Ab | Bb7'), 'Eb major');
  assert.equal(key('Eb | Cm | Ab | Bb7', 'Cm'), 'C minor');
  assert.equal(key('Eb | Cm | Ab | Bb7', 'what?'), 'Eb major');
  assert.equal(key('F | Dm | Bb | C'), 'C major');
});

test('a setting of one part leaves the others as they follow', () => {
  const set = withPart(withPart(edit, 'a', { octave: 1 }), 'a', { density: -2 });
  assert.deepEqual([partEdit(set, 'a').octave, partEdit(set, 'a').density], [1, -2]);
  assert.deepEqual(partEdit(set, 'b'), partEdit(edit, 'b'));
  assert.deepEqual(edit.parts, {});
});

test('only what was chosen is a step: through always, density and octave where they are not as played', () => {
  const phrase = phraseOf('bass', 'a');
  const key = parseKey('F')!;
  const plain = stepsFor(phrase, edit, key);
  assert.deepEqual(
    plain.map(({ step }) => step),
    ['through'],
  );
  assert.ok(!('way' in plain[0]!) && !('mend' in plain[0]!));
  const chosen = stepsFor(phrase, withPart(edit, 'a', { way: 'voices', density: 1, octave: -1 }), key);
  assert.deepEqual(
    chosen.map(({ step }) => step),
    ['through', 'density', 'octave'],
  );
  assert.equal((chosen[0] as { way?: string }).way, 'voices');
});

test('taken through its own chords a phrase is what it was, and stands over itself', () => {
  const phrase = phraseOf('bass', 'a');
  const { result, hollow, setting } = takenThrough(phrase, { ...edit, to: OWN }, C);
  const pitches = (notes: readonly { pitch: number }[]) => notes.map(({ pitch }) => pitch);
  assert.deepEqual(pitches(result.clip.notes), pitches(phrase.clip.notes));
  assert.deepEqual(pitches(hollow.notes), pitches(phrase.clip.notes));
  assert.equal(setting!.target.chords.length, 4);
});

test('through more bars than it has it goes round, and what it was goes round beside it, in the new key', () => {
  const phrase = phraseOf('bass', 'a');
  const to = 'F | Dm | Bb | C | F | Dm | Bb | C';
  const { result, hollow } = takenThrough(phrase, { ...edit, to }, parseKey('F')!);
  assert.equal(barsOf(result.clip), 2 * barsOf(phrase.clip));
  assert.equal(hollow.notes.length, 2 * phrase.clip.notes.length);
  const [first, moved] = [phrase.clip.notes[0]!.pitch, hollow.notes[0]!.pitch];
  assert.equal((((moved - first) % 12) + 12) % 12, 5, 'a fourth up, in some octave');
});

test('drums are taken through nothing: they stand as they were played', () => {
  const phrase = phraseOf('drums', 'd', { takeKey: null });
  const { result, hollow } = takenThrough(phrase, edit, parseKey('F')!);
  assert.deepEqual(result.clip.notes, phrase.clip.notes);
  assert.deepEqual(hollow.notes, phrase.clip.notes);
});

test('chords that cannot be read are a reason, and the phrase has no setting', () => {
  const read = readOrWhy('F | Hx9', 4);
  assert.ok(!isRead(read));
  const { setting } = takenThrough(phraseOf('bass', 'a'), { ...edit, to: 'F | Hx9' }, C);
  assert.equal(setting, null);
});

test('phrases of one sheaf are together, and called what it is called', () => {
  const sheaf = { sheafId: 's', sheafName: 'Quay, bar 1' };
  const [a, b, c] = [phraseOf('bass', 'a', sheaf), phraseOf('keys', 'b', sheaf), phraseOf('keys', 'c')];
  assert.deepEqual(
    [areTogether([a]), areTogether([a, b]), areTogether([a, c]), areTogether([c, c])],
    [true, true, false, false],
  );
  assert.deepEqual([titleOf([a]), titleOf([a, b]), titleOf([a, c])], ['a', 'Quay, bar 1', '2 phrases']);
});
