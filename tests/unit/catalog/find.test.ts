import assert from 'node:assert/strict';
import { test } from 'node:test';
import fc from 'fast-check';
import {
  emptyCatalog,
  putMarks,
  putRows,
  putTagTree,
  type CatalogRow,
  type FacetName,
} from '../../../src/core/catalog/catalog.ts';
import { find, PHRASE_SORTS, type PhraseFilter, type PhraseSort } from '../../../src/core/catalog/find.ts';
import { fitColumn, fitWithReasons, suiting } from '../../../src/core/catalog/fit-column.ts';
import { harmonyOfLibrary } from '../../../src/core/catalog/harmony.ts';
import { sorted } from '../../../src/core/catalog/order.ts';
import { parseChart } from '../../../src/core/music/chart.ts';
import { catalogRow } from '../../support/catalog.ts';

const catalogWith = (rows: readonly CatalogRow[]) => {
  const catalog = emptyCatalog();
  putRows(catalog, rows);
  return catalog;
};

const some = fc.record({
  name: fc.constantFrom('low walk', 'Low river', 'clock', 'oars'),
  state: fc.constantFrom('kept' as const, 'kept' as const, 'draft' as const, 'discarded' as const),
  role: fc.constantFrom('bass' as const, 'drums' as const, 'keys' as const),
  key: fc.constantFrom(null, { tonic: 4, mode: 'minor' as const }, { tonic: 7, mode: 'major' as const }),
  bpm: fc.constantFrom(72, 96, 96.4, 118),
  meter: fc.constantFrom('4/4', '3/4'),
  bars: fc.constantFrom(2, 4, 8),
  tags: fc.subarray(['river', 'night', 'groove', 'loop']),
  numerals: fc.constantFrom('', ' i V7 ', ' i iv V7 i '),
  rating: fc.constantFrom(null, 0, 3, 5),
  used: fc.nat(3),
});

const library = fc
  .array(some, { maxLength: 40 })
  .map((list) => list.map((change, k) => catalogRow(k, change)));

const filter: fc.Arbitrary<PhraseFilter> = fc.record({
  text: fc.constantFrom('', 'low', 'river low', '96', '3/4', 'Em', 'i iv'),
  facets: fc.record(
    {
      roles: fc.subarray(['bass', 'drums']),
      keys: fc.subarray(['4 minor', '7 major']),
      tags: fc.subarray(['river', 'groove']),
      bars: fc.subarray(['2', '8']),
    },
    { requiredKeys: [] },
  ),
  relatives: fc.boolean(),
  aside: fc.boolean(),
});

/** What the filter says, phrase by phrase: slow, and plain to read. */
function fits(
  one: CatalogRow,
  { text = '', facets = {}, relatives, aside }: PhraseFilter,
  but?: FacetName,
): boolean {
  const key = one.key && `${one.key.tonic} ${one.key.mode}`;
  // E minor and G major have the same notes.
  const keys = facets.keys?.length && relatives ? ['4 minor', '7 major'] : (facets.keys ?? []);
  const chosen = (name: FacetName, values: readonly string[], of: (string | null)[]) =>
    name === but || values.length === 0 || of.some((value) => value !== null && values.includes(value));
  const words: Record<string, boolean> = {
    '': true,
    low: /low/i.test(one.name),
    'river low': /low/i.test(one.name) && (/river/i.test(one.name) || one.tags.includes('river')),
    '96': one.bpm >= 95.5 && one.bpm <= 96.5,
    '3/4': one.meter === '3/4',
    Em: key === '4 minor' || (relatives === true && key === '7 major'),
    'i iv': one.numerals.includes(' i iv '),
  };
  return (
    one.state === (aside ? 'discarded' : 'kept') &&
    words[text]! &&
    chosen('roles', facets.roles ?? [], [one.role]) &&
    chosen('keys', keys, [key]) &&
    chosen('tags', facets.tags ?? [], [...one.tags]) &&
    chosen('bars', facets.bars ?? [], [String(one.bars)])
  );
}

test('what is found, and every count beside it, is what asking each phrase alone says', () => {
  fc.assert(
    fc.property(library, filter, (rows, asked) => {
      const catalog = catalogWith(rows);
      const { places, counts } = find(catalog, asked);
      assert.deepEqual(
        [...places].map((at) => catalog.ids[at]),
        rows.filter((one) => fits(one, asked)).map(({ id }) => id),
      );
      assert.equal(counts.total, places.length);
      for (const role of ['bass', 'drums', 'keys'])
        assert.equal(
          counts.facets.roles.find(({ value }) => value === role)?.count ?? 0,
          rows.filter((one) => one.role === role && fits(one, asked, 'roles')).length,
        );
      for (const tag of ['river', 'night'])
        assert.equal(
          counts.facets.tags.find(({ value }) => value === tag)?.count ?? 0,
          rows.filter((one) => one.tags.includes(tag) && fits(one, asked, 'tags')).length,
        );
    }),
  );
});

test('a word is found in whatever a phrase is called or comes from, as looking into each alone finds it; also after some are renamed', () => {
  const words = ['oar', 'quay', 'x', 'gale'];
  const rows = Array.from({ length: 9000 }, (_, k) =>
    catalogRow(k, {
      name: `${['Oars', 'Rope', 'Sail', 'Xebec'][k % 4]} ${k}`,
      ...(k % 7 === 0 ? { take: `Quay ${k % 35}` } : {}),
      ...(k % 11 === 0 ? { tags: ['gale'], source: 'Oar box' } : {}),
      ...(k % 13 === 0 ? { file: 'x.mid', part: 'Gale' } : {}),
    }),
  );
  const catalog = catalogWith(rows);
  const check = () => {
    for (const word of words) {
      const expected = rows.filter(({ name, role, part, take, file, source, tags }) =>
        [name, role, part, take, file, source ?? '', ...tags].some((text) =>
          text.toLowerCase().includes(word),
        ),
      );
      const found = [...find(catalog, { text: word }).places].map((at) => catalog.ids[at]);
      assert.deepEqual(found, expected.map(({ id }) => id), word); // prettier-ignore
    }
  };
  check();
  for (const k of [0, 4095, 4096, 8999]) rows[k] = { ...rows[k]!, name: 'Gale' };
  putRows(catalog, [0, 4095, 4096, 8999].map((k) => rows[k]!)); // prettier-ignore
  check();
});

test('phrases put in one after the other, or changed later, are found as if they had come so at once', () => {
  fc.assert(
    fc.property(library, library, filter, (before, after, asked) => {
      const changed = catalogWith(before);
      const order = (catalog: typeof changed, sort: PhraseSort) =>
        [...sorted(catalog, find(catalog, asked).places, sort)].map((at) => catalog.ids[at]);
      const orders = PHRASE_SORTS.filter((sort) => sort !== 'fit');
      for (const sort of orders) order(changed, sort);
      for (const one of after) putRows(changed, [one]);
      const last = [...after, ...before.slice(after.length)];
      const fresh = catalogWith(last);
      for (const sort of orders) assert.deepEqual(order(changed, sort), order(fresh, sort), sort);
      assert.deepEqual(find(changed, asked).counts, find(fresh, asked).counts);
    }),
  );
});

test('every order holds all that was found, and goes by what it says; equals go by name', () => {
  fc.assert(
    fc.property(library, (rows) => {
      const catalog = catalogWith(rows);
      const { places } = find(catalog, {});
      const by = (sort: Parameters<typeof sorted>[2], bpm?: number) =>
        [...sorted(catalog, places, sort, { bpm })].map((at) => rows[at]!);
      const ascends = (values: number[]) => values.every((value, k) => k === 0 || value >= values[k - 1]!);
      for (const sort of ['name', 'newest', 'tempo', 'most used', 'least used', 'rating'] as const)
        assert.equal(new Set(by(sort)).size, places.length, sort);
      const byUse = by('least used');
      byUse.forEach((one, k) => {
        const next = byUse[k + 1];
        if (next?.used === one.used) assert.ok(one.name.toLowerCase() <= next.name.toLowerCase());
      });
      assert.ok(ascends(by('newest').map(({ createdAt }) => -createdAt)));
      assert.ok(ascends(by('least used').map(({ used }) => used)));
      assert.ok(ascends(by('most used').map(({ used }) => -used)));
      assert.ok(ascends(by('tempo', 96).map(({ bpm }) => Math.abs(bpm - 96))));
      // What nobody has rated stands between what is liked and what was passed over.
      assert.ok(
        ascends(by('rating').map(({ rating }) => (rating === null ? 6 : rating === 0 ? 7 : 5 - rating))),
      );
    }),
  );
});

test('a tag finds what stands under it, and counts it; a tag under itself does not go round for ever', () => {
  const catalog = catalogWith([
    catalogRow(1, { tags: ['ferry'] }),
    catalogRow(2, { tags: ['river'] }),
    catalogRow(3, { tags: ['night'] }),
  ]);
  putTagTree(catalog, [{ name: 'ferry', under: 'river' }]);
  const found = find(catalog, { facets: { tags: ['river'] } });
  assert.equal(found.counts.total, 2);
  assert.deepEqual(found.counts.tagsUnder, { ferry: 'river' });
  assert.equal(found.counts.facets.tags.find(({ value }) => value === 'river')!.count, 2);
  putTagTree(catalog, [
    { name: 'ferry', under: 'river' },
    { name: 'river', under: 'ferry' },
  ]);
  assert.equal(find(catalog, { facets: { tags: ['ferry'] } }).counts.total, 2);
});

test('the parts of a sheaf count its progression once', () => {
  const sheaf = { sheaf: 'one', numerals: ' i iv ' };
  const catalog = catalogWith([
    catalogRow(1, sheaf),
    catalogRow(2, sheaf),
    catalogRow(3, { ...sheaf, sheaf: null }),
    catalogRow(4),
  ]);
  const { lines } = harmonyOfLibrary(catalog);
  assert.equal(lines.find(({ numerals }) => numerals === ' i iv ')!.count, 2);
});

test('ordered by fit, the nearest tempo comes first, whatever the name', () => {
  const catalog = catalogWith([
    catalogRow(1, { bpm: 70 }),
    catalogRow(2, { bpm: 130 }),
    catalogRow(3, { bpm: 97 }),
  ]);
  const asked = suiting(catalog, { bpm: 96 }, null);
  const order = sorted(catalog, find(catalog, {}).places, 'fit', { suiting: asked });
  assert.equal(catalog.ids[order[0]!], 'id 3');
});

test('the fit of a whole column is the fit of each phrase alone, also after phrases have changed', () => {
  const profile = fc
    .array(fc.integer({ min: 0, max: 255 }), { minLength: 24, maxLength: 24 })
    .map((list) => Uint8Array.from(list));
  const features = new Uint8Array();
  fc.assert(
    fc.property(
      library,
      fc.array(profile, { minLength: 40, maxLength: 40 }),
      library,
      (rows, profiles, later) => {
        const catalog = catalogWith(rows);
        putMarks(
          catalog,
          rows.map(({ id }, k) => ({ id, features, profile: profiles[k]!, fingerprint: features })),
        );
        const context = {
          key: { tonic: 7, mode: 'major' as const },
          bpm: 100,
          meter: '4/4',
          chart: parseChart('G | Em | C | D7', 4),
        };
        const asked = suiting(catalog, context, null);
        const agree = (again: typeof asked) => {
          const { places } = find(catalog, {});
          const fits = fitColumn(catalog, places, again);
          places.forEach((at, k) =>
            assert.equal(Math.round(fits[k]!), fitWithReasons(catalog, at, again)!.fit),
          );
        };
        agree(asked);
        putRows(catalog, later);
        agree(suiting(catalog, context, asked.memory));
      },
    ),
    { numRuns: 40 },
  );
});

test('typed letter by letter, a word finds what it finds at once', () => {
  fc.assert(
    fc.property(library, fc.constantFrom('river', 'lowx', 'clock', 'oars'), (rows, word) => {
      const typed = catalogWith(rows);
      for (let length = 1; length < word.length; length++) find(typed, { text: word.slice(0, length) });
      assert.deepEqual(find(typed, { text: word }), find(catalogWith(rows), { text: word }));
    }),
  );
});
