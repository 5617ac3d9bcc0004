import assert from 'node:assert/strict';
import { existsSync, mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { after, test } from 'node:test';
import { emptyCatalog, putRows } from '../../../src/core/catalog/catalog.ts';
import { find } from '../../../src/core/catalog/find.ts';
import { catalogRow } from '../../support/catalog.ts';
import { readSnapshot, writeSnapshot } from '../../../src/server/catalog/snapshot.ts';

const folder = mkdtempSync(join(tmpdir(), 'basket-snapshot-'));
after(() => rmSync(folder, { recursive: true }));

const catalogOf = (count: number) => {
  const catalog = emptyCatalog();
  putRows(
    catalog,
    Array.from({ length: count }, (_, k) => catalogRow(k, { tags: ['river'] })),
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
  putRows(read.catalog, [catalogRow(0, { name: 'Anew' })]);
  assert.equal(find(read.catalog, { text: 'anew' }).counts.total, 1);
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
