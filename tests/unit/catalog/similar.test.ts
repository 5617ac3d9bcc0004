import assert from 'node:assert/strict';
import { test } from 'node:test';
import { emptyCatalog, putMarks, putRows } from '../../../src/core/catalog/catalog.ts';
import { find } from '../../../src/core/catalog/find.ts';
import { FEATURES, packFeatures, type PhraseFeatures } from '../../../src/core/catalog/features.ts';
import { moreLike } from '../../../src/core/catalog/similar.ts';
import { catalogRow } from '../../support/catalog.ts';

const NONE = new Uint8Array();

const features = (change: Partial<PhraseFeatures>): Uint8Array =>
  packFeatures({ ...Object.fromEntries(FEATURES.map((name) => [name, 0])), ...change } as PhraseFeatures);

/** Four basses and a kit: as busy as the first, as high as the first, neither, and of another role. */
function library() {
  const catalog = emptyCatalog();
  putRows(catalog, [
    ...[1, 2, 3, 4].map((number) => catalogRow(number)),
    catalogRow(5, { role: 'drums' }),
    catalogRow(6, { state: 'discarded' }),
  ]);
  const marks = [
    features({ density: 8, medianPitch: 40 }),
    features({ density: 8, medianPitch: 55 }),
    features({ density: 2, medianPitch: 40 }),
    features({ density: 4, medianPitch: 48 }),
    features({ density: 8, medianPitch: 40 }),
    features({ density: 8, medianPitch: 40 }),
  ];
  putMarks(
    catalog,
    marks.map((packed, k) => ({ id: `id ${k + 1}`, features: packed, profile: NONE, fingerprint: NONE })),
  );
  return catalog;
}

const ids = (rhythm: number, pitch: number) =>
  moreLike(library(), 'id 1', { rhythm, pitch, chords: 0 }).map(({ id }) => id);

test('what counts decides what is like a phrase: rhythm, or pitch; only kept ones of its role', () => {
  assert.deepEqual(ids(1, 0), ['id 2', 'id 4', 'id 3']);
  assert.deepEqual(ids(0, 1), ['id 3', 'id 4', 'id 2']);
});

test('each is told with the two things it agrees in most', () => {
  const [first] = moreLike(library(), 'id 1', { rhythm: 1, pitch: 1, chords: 0 }, 1);
  assert.equal(first!.agreements.length, 2);
  assert.deepEqual(moreLike(library(), 'nobody', { rhythm: 1, pitch: 1, chords: 1 }), []);
});

test('the thirds are of those that are known: what is read anew later has its third too, and moves to its new role', () => {
  // More than are looked through again for every phrase.
  const count = 6000;
  const catalog = emptyCatalog();
  putRows(
    catalog,
    Array.from({ length: count }, (_, k) => catalogRow(k)),
  );
  assert.deepEqual(find(catalog, {}).counts.facets.densities, []);
  putMarks(
    catalog,
    Array.from({ length: count }, (_, k) => ({
      ...{ id: `id ${k}`, profile: NONE, fingerprint: NONE },
      features: features({ density: k, medianPitch: 40 }),
    })),
  );
  const counts = find(catalog, {}).counts.facets.densities;
  assert.deepEqual(
    counts.map(({ count: each }) => Math.round(each / 1000)),
    [2, 2, 2],
  );
  // The only kit: of its role there are too few for thirds, and drums have no register.
  putRows(catalog, [catalogRow(5, { role: 'drums' })]);
  const { facets } = find(catalog, { facets: { roles: ['drums'] } }).counts;
  assert.deepEqual([facets.densities, facets.registers], [[], []]);
});
