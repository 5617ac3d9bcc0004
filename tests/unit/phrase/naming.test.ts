import assert from 'node:assert/strict';
import { test } from 'node:test';
import fc from 'fast-check';
import { parseKey } from '../../../src/core/music/key.ts';
import { barOf } from '../../support/clips.ts';
import {
  clipFacts,
  fileName,
  nameFrom,
  PHRASE_TOKENS,
  phraseName,
  safeFileName,
  uniqueNames,
  unknownTokens,
  withoutTwin,
  type PhraseToken,
} from '../../../src/core/phrase/naming.ts';

const VALUES = {
  name: 'Ferry bass, low walk',
  project: 'The Lantern Ferry',
  role: 'bass',
  bars: '4',
  tempo: '96',
  key: 'F#m',
  meter: '4-4',
  source: 'Ferry crossing',
  number: '03',
};

test('tokens are filled in and the result is a plain file name', () => {
  assert.equal(
    fileName('{number}_{name}_{role}_{tempo}_{key}', VALUES),
    '03_Ferry-bass-low-walk_bass_96_Fsharpm',
  );
  assert.deepEqual(unknownTokens('{name} {nmae} {key}'), ['nmae']);
});

for (const [text, name] of [
  ['../../etc/passwd', 'etc-passwd'],
  ['..', 'unnamed'],
  ['', 'unnamed'],
  ['C:\\Windows\\x', 'C-Windows-x'],
  ['con', 'con-file'],
  ['COM1.mid', 'COM1.mid-file'],
  ['Spår <script>', 'Spar-script'],
  ['.hidden', 'hidden'],
  ['a\u0000b\nc', 'a-b-c'],
] as const) {
  test(`"${text}" becomes ${name}`, () => assert.equal(safeFileName(text), name));
}

test('no name is a path, hidden, empty or long, whatever came in', () => {
  fc.assert(
    fc.property(fc.string({ unit: 'binary', maxLength: 300 }), (text) => {
      const name = safeFileName(text);
      assert.match(name, /^[\p{L}\p{N}][\p{L}\p{N}._-]*$/u);
      assert.ok(name.length <= 130);
    }),
  );
});

test('no two names are alike, upper and lower case counting as the same', () => {
  assert.deepEqual(uniqueNames(['a', 'A', 'b', 'a']), ['a', 'A-2', 'b', 'a-3']);
  fc.assert(
    fc.property(fc.array(fc.constantFrom('a', 'A', 'a-2', 'b')), (names) => {
      const unique = uniqueNames(names).map((name) => name.toLowerCase());
      assert.equal(new Set(unique).size, names.length);
    }),
  );
});

const NOTHING = Object.fromEntries(PHRASE_TOKENS.map((token) => [token, ''])) as Record<PhraseToken, string>;

test('a phrase is named by a pattern; what has no value leaves no gap', () => {
  const clip = barOf([], {
    role: 'bass',
    key: parseKey('Am')!,
    labels: { take: 'Ferry crossing', part: 'Low Bass', project: 'The Lantern Ferry', start: 5, number: 3 },
  });
  assert.equal(phraseName('{take}, {part}', clip), 'Ferry crossing, low bass');
  assert.equal(
    phraseName(
      '{project}: {role} in {key}, {tempo} BPM, {meter}, {bars} from bar {start}, no. {number}',
      clip,
    ),
    'The Lantern Ferry: bass in Am, 120 BPM, 4-4, 1 from bar 5, no. 3',
  );
  assert.equal(phraseName('{take}, {source}, {part}', clip), 'Ferry crossing, low bass');
  assert.equal(phraseName('{source}', clip), 'bass');
});

test('a pickup is no bar of a phrase, and its tempo and meter are those of bar one', () => {
  const clip = barOf([], { pickup: 1920, length: 3840 });
  assert.equal(clipFacts(clip).bars, '1');
});

test('whatever the pattern, a name is neither empty nor long, and nothing but tokens is filled in', () => {
  fc.assert(
    fc.property(fc.string({ maxLength: 60 }), (pattern) => {
      const name = nameFrom(pattern, { ...NOTHING, role: 'pad' });
      assert.ok(name.length > 0 && name.length <= 200);
      assert.equal(name, name.trim());
    }),
  );
  assert.equal(nameFrom('{constructor} {toString}', { ...NOTHING, role: 'pad' }), '{constructor} {toString}');
  assert.deepEqual(unknownTokens('{constructor} {role}', PHRASE_TOKENS), ['constructor']);
});

test('what a pattern asks for and a phrase has not leaves no gap in a file name', () => {
  const none = { ...VALUES, name: 'finger', key: '', project: '' };
  assert.equal(fileName('{name}-{key}-{bars}bars', none), 'finger-4bars');
  assert.equal(fileName('{project}_{name}__{key}_{role}', none), 'finger_bass');
  assert.equal(fileName('{key}', none), 'unnamed');
});

test('no name is given twice: its bars are told where the bare one is taken, a number where that is taken too', () => {
  const where = { startBar: 5, bars: 4 };
  assert.equal(withoutTwin('Low walk', new Set(), where), 'Low walk');
  assert.equal(withoutTwin('Low walk', new Set(['Low walk']), where), 'Low walk, bars 5 to 8');
  assert.equal(withoutTwin('Low walk', new Set(['Low walk']), { startBar: 5, bars: 1 }), 'Low walk, bar 5');
  fc.assert(
    fc.property(fc.array(fc.constantFrom('a', 'b'), { maxLength: 30 }), (names) => {
      const taken = new Set<string>();
      for (const name of names) taken.add(withoutTwin(name, taken, where));
      assert.equal(taken.size, names.length);
    }),
  );
  const long = 'x'.repeat(200);
  assert.ok(withoutTwin(long, new Set([long]), where).length <= 200);
});
