import assert from 'node:assert/strict';
import { existsSync, mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { after, test } from 'node:test';
import { emptyCatalog, putRows } from '../../../src/core/catalog/catalog.ts';
import { find } from '../../../src/core/catalog/find.ts';
import { readSnapshot, writeSnapshot } from '../../../src/server/catalog/snapshot.ts';

const folder = mkdtempSync(join(tmpdir(), 'basket-snapshot-'));
after(() => rmSync(folder, { recursive: true }));

const catalogOf = (count: number) => {
  const catalog = emptyCatalog();
  putRows(
    catalog,
    Array.from({ length: count }, (_, k) => ({
      ...{
        id: `id ${k}`,
        name: `Phrase ${k % 97}`,
        state: 'kept' as const,
        role: 'bass' as const,
        key: null,
        bpm: 96,
      },
      ...{
        meter: '4/4',
        bars: 4,
        program: 33,
        hasPickup: false,
        numerals: '',
        tags: ['river'],
        take: '',
        file: '',
      },
      ...{ part: '', source: null, project: null, contributor: null, rights: '', sheaf: null, rating: null },
      ...{ used: 0, heardAt: null, createdAt: k },
    })),
  );
  return catalog;
};

test('a catalog that was written down finds the same when it is read, and goes on being changed', async () => {
  const path = join(folder, 'catalog');
  const catalog = catalogOf(6000);
  await writeSnapshot(path, catalog, '812', '800');
  const read = (await readSnapshot(path))!;
  assert.deepEqual([read.since, read.lastChange], ['812', '800']);
  assert.deepEqual(find(read.catalog, { text: 'river' }), find(catalog, { text: 'river' }));
  putRows(read.catalog, [{ ...rowOf(read.catalog.ids[0]!), name: 'Anew' }]);
  assert.equal(find(read.catalog, { text: 'anew' }).counts.total, 1);
});

const rowOf = (id: string) => ({
  ...{
    id,
    name: '',
    state: 'kept' as const,
    role: 'bass' as const,
    key: null,
    bpm: 96,
    meter: '4/4',
    bars: 4,
  },
  ...{
    program: 33,
    hasPickup: false,
    numerals: '',
    tags: [],
    take: '',
    file: '',
    part: '',
    source: null,
    project: null,
  },
  ...{ contributor: null, rights: '', sheaf: null, rating: null, used: 0, heardAt: null, createdAt: 0 },
});

test('what is small is not written down; what is damaged or of another version is removed', async () => {
  const path = join(folder, 'small');
  await writeSnapshot(path, catalogOf(10), '1', '1');
  assert.equal(existsSync(path), false);
  writeFileSync(path, 'no catalog');
  assert.equal(await readSnapshot(path), null);
  assert.equal(existsSync(path), false);
  assert.equal(await readSnapshot(path), null);
});
